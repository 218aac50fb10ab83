import { prefillStepSeconds, type TokenProfile } from '../service/profile.ts'
import { FinishHeaps } from './finishHeaps.ts'
import type { Floor } from './floor.ts'
import { leapSeconds, leapStepsUntil } from './leap.ts'
import { INSTANT_SECONDS } from './rules.ts'
import type { Replicas } from './replicas.ts'

const IDLE = 0
const PREFILL = 1
const DECODE = 2

/** Continuous batching with whole prompts, leaping over decode steps (engine rules, section 3). */
export class TokenReplicas implements Replicas {
  private readonly floor: Floor
  private readonly profile: TokenProfile
  private readonly phase: Uint8Array
  /** cached tokens of the active sequences at the start of the leap */
  private readonly cached: Float64Array
  /** tokens promised to prefilling and active sequences */
  private readonly reserved: Float64Array
  /** decode steps done since the beginning */
  private readonly steps: Float64Array
  private readonly leapStart: Float64Array
  private readonly leapSteps: Float64Array
  private readonly active: FinishHeaps
  private readonly prefilling: Int32Array
  private readonly prefillCount: Int32Array

  constructor(floor: Floor, profile: TokenProfile) {
    const { replicas } = floor
    this.floor = floor
    this.profile = profile
    this.phase = new Uint8Array(replicas)
    this.cached = new Float64Array(replicas)
    this.reserved = new Float64Array(replicas)
    this.steps = new Float64Array(replicas)
    this.leapStart = new Float64Array(replicas)
    this.leapSteps = new Float64Array(replicas)
    this.active = new FinishHeaps(replicas, profile.maxSequences)
    this.prefilling = new Int32Array(replicas * profile.maxSequences)
    this.prefillCount = new Int32Array(replicas)
  }

  private tokens(request: number): number {
    return this.floor.requests.input[request] + this.floor.requests.output[request]
  }

  tooLarge(request: number): boolean {
    return this.tokens(request) > this.profile.requestTokens
  }

  /** Whether the replica could admit the request now, its line apart. */
  private admits(replica: number, request: number): boolean {
    const inService = this.active.size[replica] + this.prefillCount[replica]
    return inService < this.profile.maxSequences && this.reserved[replica] + this.tokens(request) <= this.profile.cacheTokens
  }

  hasRoom(replica: number, request: number): boolean {
    const held = this.active.size[replica] + this.prefillCount[replica] + this.floor.lines.length[replica]
    return held < this.profile.maxSequences && this.reserved[replica] + this.tokens(request) <= this.profile.cacheTokens
  }

  startsAtOnce(replica: number): boolean {
    return this.phase[replica] === IDLE && this.floor.lines.length[replica] === 0
  }

  wake(replica: number, now: number, stepsAreOver: boolean): void {
    if (this.phase[replica] === IDLE) {
      if (this.floor.lines.length[replica] > 0) this.floor.clock.set(replica, now)
    } else if (this.phase[replica] === DECODE && this.wantsBoundary(replica)) {
      this.cutLeap(replica, stepsAreOver ? now + INSTANT_SECONDS : now - INSTANT_SECONDS)
    }
  }

  sharedHeadChanged(by: number, now: number): void {
    const { floor } = this
    if (!floor.sharedWaiting()) return
    const request = floor.lines.peek(floor.sharedLine)
    for (let r = 0; r < floor.replicas; r++) {
      if (this.phase[r] !== DECODE || r === by || !this.hasRoom(r, request)) continue
      // Replicas with lower numbers have had their boundary of this instant already.
      this.cutLeap(r, r < by || by < 0 ? now + INSTANT_SECONDS : now - INSTANT_SECONDS)
    }
  }

  private wantsBoundary(replica: number): boolean {
    const { lines, sharesQueue, sharedLine } = this.floor
    if (lines.length[replica] > 0 && this.admits(replica, lines.peek(replica))) return true
    return sharesQueue && lines.length[sharedLine] > 0 && this.hasRoom(replica, lines.peek(sharedLine))
  }

  /** Ends the leap at its first boundary at or after the given time. */
  private cutLeap(replica: number, seconds: number): void {
    const planned = this.leapSteps[replica]
    const steps = this.leap(replica, seconds - this.leapStart[replica], planned)
    if (steps < planned) this.setLeap(replica, steps)
  }

  private leap(replica: number, seconds: number, most: number): number {
    const { memorySeconds, cacheSecondsPerToken, arithmeticSeconds, overheadSeconds } = this.profile
    const n = this.active.size[replica]
    const a = memorySeconds[n] + cacheSecondsPerToken * this.cached[replica]
    return leapStepsUntil(a, cacheSecondsPerToken * n, arithmeticSeconds[n], overheadSeconds[n], seconds, most)
  }

  private setLeap(replica: number, steps: number): void {
    const { memorySeconds, cacheSecondsPerToken, arithmeticSeconds, overheadSeconds } = this.profile
    const n = this.active.size[replica]
    const a = memorySeconds[n] + cacheSecondsPerToken * this.cached[replica]
    const seconds = leapSeconds(a, cacheSecondsPerToken * n, arithmeticSeconds[n], overheadSeconds[n], steps)
    this.leapSteps[replica] = steps
    this.floor.clock.set(replica, this.leapStart[replica] + seconds)
  }

  boundary(replica: number, now: number): void {
    if (this.phase[replica] === DECODE) this.landLeap(replica, now)
    else if (this.phase[replica] === PREFILL) this.landPrefill(replica, now)
    if (this.floor.sharesQueue) this.pull(replica, now)
    this.admit(replica, now)
    if (this.prefillCount[replica] > 0) this.startPrefill(replica, now)
    else if (this.active.size[replica] > 0) this.startLeap(replica, now)
    else {
      this.phase[replica] = IDLE
      this.floor.clock.set(replica, Infinity)
    }
  }

  private landLeap(replica: number, now: number): void {
    const { active, steps } = this
    const { firstToken } = this.floor.record
    this.cached[replica] += active.size[replica] * this.leapSteps[replica]
    steps[replica] += this.leapSteps[replica]
    while (active.size[replica] > 0 && active.firstStep(replica) <= steps[replica]) {
      const request = active.pop(replica)
      this.cached[replica] -= this.tokens(request)
      this.reserved[replica] -= this.tokens(request)
      this.floor.finish(replica, request, firstToken[request], now)
    }
  }

  private landPrefill(replica: number, now: number): void {
    const { input, output } = this.floor.requests
    const base = replica * this.profile.maxSequences
    for (let i = base; i < base + this.prefillCount[replica]; i++) {
      const request = this.prefilling[i]
      if (output[request] <= 1) {
        this.reserved[replica] -= this.tokens(request)
        this.floor.finish(replica, request, now, now)
        continue
      }
      this.floor.record.firstToken[request] = now
      this.cached[replica] += input[request] + 1
      this.active.push(replica, this.steps[replica] + output[request] - 1, request)
    }
    this.prefillCount[replica] = 0
  }

  private pull(replica: number, now: number): void {
    const { floor } = this
    let took = false
    while (floor.sharedWaiting() && this.hasRoom(replica, floor.lines.peek(floor.sharedLine))) {
      floor.takeShared(replica)
      took = true
    }
    if (took) this.sharedHeadChanged(replica, now)
  }

  private admit(replica: number, now: number): void {
    const { lines, requests } = this.floor
    const base = replica * this.profile.maxSequences
    let prompt = 0
    while (lines.length[replica] > 0) {
      const next = lines.peek(replica)
      if (!this.admits(replica, next)) return
      prompt += requests.input[next]
      if (this.prefillCount[replica] > 0 && prompt > this.profile.maxPrefillTokens) return
      const request = this.floor.begin(replica, now)
      this.reserved[replica] += this.tokens(request)
      this.prefilling[base + this.prefillCount[replica]++] = request
    }
  }

  private startPrefill(replica: number, now: number): void {
    const { input } = this.floor.requests
    const base = replica * this.profile.maxSequences
    let sum = 0
    let sumOfSquares = 0
    for (let i = base; i < base + this.prefillCount[replica]; i++) {
      const p = input[this.prefilling[i]]
      sum += p
      sumOfSquares += p * p
    }
    this.phase[replica] = PREFILL
    this.floor.clock.set(replica, now + prefillStepSeconds(this.profile, sum, sumOfSquares))
  }

  private startLeap(replica: number, now: number): void {
    this.phase[replica] = DECODE
    this.leapStart[replica] = now
    this.setLeap(replica, this.active.firstStep(replica) - this.steps[replica])
  }
}
