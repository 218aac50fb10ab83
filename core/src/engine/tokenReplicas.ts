import type { TokenProfile } from '../service/profile.ts'
import { FinishLines } from './finishLines.ts'
import type { Floor } from './floor.ts'
import type { LateSplit } from './lateSplit.ts'
import { Leaps } from './leaps.ts'
import type { Meter } from './meter.ts'
import type { Listener } from './observers.ts'
import type { ReplicaClock } from './replicaClock.ts'
import type { Replicas } from './replicas.ts'
import { INSTANT_SECONDS, TOKEN_SLACK } from './rules.ts'

const IDLE = 0
/** in one step that can not be cut (a prefill step, or a mixed step that ends a prompt), or between two steps */
export const STEP = 1
/** in a leap over steps of one composition */
export const LEAP = 2

/**
 * Continuous batching (docs/model.md, 4): what whole and interleaved prompts have in common. Sequences, their
 * cache, leaps and evictions; how prompts are worked through is left to the two.
 */
export abstract class TokenReplicas implements Replicas {
  protected readonly floor: Floor
  protected readonly profile: TokenProfile
  protected readonly phase: Uint8Array
  /** cached tokens of the decoding sequences at the start of the leap */
  protected readonly cached: Float64Array
  /** tokens promised: whole reservation, prompt + answer of all in service; optimistic, those of prompts being worked through */
  protected readonly reserved: Float64Array
  /** steps done since the beginning in which sequences decoded */
  protected readonly steps: Float64Array
  protected readonly leaps: Leaps
  protected readonly active: FinishLines
  /** requests whose prompts are being worked through, in order of admission: `maxSequences` places a replica */
  protected readonly prompts: Int32Array
  protected readonly promptCount: Int32Array
  /** seconds for which decoding sequences stood still or were slowed for prompts, since the beginning; for the split of late time */
  protected readonly promptClock: Float64Array
  protected readonly optimistic: boolean
  protected readonly maxSequences: number
  protected readonly cacheTokens: number
  protected readonly tokensPerStep: number
  // What every boundary reads, held here: a step through two objects for each costs more than the sums themselves.
  protected readonly input: Int32Array
  protected readonly output: Int32Array
  private readonly firstToken: Float64Array
  protected readonly lineLength: Int32Array
  protected readonly clock: ReplicaClock
  protected readonly late: LateSplit | undefined
  protected readonly meter: Meter | undefined
  private readonly listener: Listener | undefined
  /** optimistic: tokens that a sequence had when it last began, and its place in the order of admission */
  private readonly made: Int32Array
  private readonly stamp: Int32Array
  private admissions = 0
  private readonly cachedShare: Float64Array
  private readonly sharesPrefixes: boolean

  constructor(floor: Floor, profile: TokenProfile) {
    const { replicas } = floor
    this.floor = floor
    this.profile = profile
    this.phase = new Uint8Array(replicas)
    this.cached = new Float64Array(replicas)
    this.reserved = new Float64Array(replicas)
    this.steps = new Float64Array(replicas)
    this.listener = floor.observers.listener
    this.leaps = new Leaps(replicas, this.listener ? 1 : Infinity)
    this.active = new FinishLines(replicas, profile.maxSequences)
    this.prompts = new Int32Array(replicas * profile.maxSequences)
    this.promptCount = new Int32Array(replicas)
    this.promptClock = new Float64Array(replicas)
    this.maxSequences = profile.maxSequences
    this.cacheTokens = profile.cacheTokens
    this.tokensPerStep = profile.tokensPerStep
    this.input = floor.requests.input
    this.output = floor.requests.output
    this.firstToken = floor.record.firstToken
    this.lineLength = floor.lines.length
    this.clock = floor.clock
    this.late = floor.observers.late
    this.meter = floor.observers.meter
    this.optimistic = profile.reservation === 'optimistic'
    this.made = new Int32Array(this.optimistic ? floor.requests.count : 0)
    this.stamp = new Int32Array(this.optimistic ? floor.requests.count : 0)
    this.cachedShare = Float64Array.from(floor.rules.classes, (c) => c.cachedShare)
    this.sharesPrefixes = this.cachedShare.some((s) => s > 0)
  }

  abstract boundary(replica: number, now: number): void
  /** Whether a request could be admitted at the next boundary of a leap, its line and room apart. */
  protected abstract takesPrompts(replica: number): boolean

  protected tokens(request: number): number {
    return this.input[request] + this.output[request]
  }

  /** Tokens that a request has made already, above 0 only after it was evicted. */
  protected madeOf(request: number): number {
    return this.optimistic ? this.made[request] : 0
  }

  /** Tokens of the prompt that are in the cache before it is worked through. */
  protected prefixOf(request: number): number {
    if (!this.sharesPrefixes) return 0
    const input = this.input[request]
    return Math.min(input - 1, Math.floor(this.cachedShare[this.floor.requests.classIndex[request]] * input))
  }

  tooLarge(request: number): boolean {
    return this.tokens(request) > this.profile.requestTokens
  }

  /** Whether the cache has room for one more, with the decoding sequences holding `cached` tokens. */
  private cacheTakes(replica: number, request: number, cached: number): boolean {
    if (!this.optimistic) return this.reserved[replica] + this.tokens(request) <= this.cacheTokens
    const inService = this.inService(replica)
    if (inService === 0) return true
    const needs = this.input[request] + this.made[request] + 1 + (inService + 1) * this.tokensPerStep
    return this.reserved[replica] + cached + needs <= this.cacheTokens + TOKEN_SLACK
  }

  protected inService(replica: number): number {
    return this.active.size[replica] + this.promptCount[replica]
  }

  /** Whether the replica could admit the request at this boundary, its line apart. */
  protected admits(replica: number, request: number): boolean {
    if (this.active.size[replica] + this.promptCount[replica] >= this.maxSequences) return false
    if (!this.optimistic) return this.reserved[replica] + this.input[request] + this.output[request] <= this.cacheTokens
    return this.cacheTakes(replica, request, this.cached[replica])
  }

  hasRoom(replica: number, request: number, now: number): boolean {
    if (!this.floor.busy.isOpen(replica)) return false
    if (this.inService(replica) + this.lineLength[replica] >= this.maxSequences) return false
    return this.cacheTakes(replica, request, this.optimistic ? this.cachedAt(replica, now) : 0)
  }

  /** Cached tokens of the decoding sequences at the start of the step that runs. */
  private cachedAt(replica: number, now: number): number {
    if (this.phase[replica] !== LEAP) return this.cached[replica]
    const begun = this.leaps.stepsUntil(replica, now - INSTANT_SECONDS - this.leaps.startOf(replica)) - 1
    return this.cached[replica] + begun * this.grows(replica)
  }

  /** Tokens that a step adds to the cache. */
  protected grows(replica: number): number {
    return this.active.size[replica] * this.tokensPerStep
  }

  beginsAtOnce(replica: number): number {
    return this.phase[replica] === IDLE && this.lineLength[replica] === 0 ? 1 : 0
  }

  wake(replica: number, now: number, stepsAreOver: boolean): void {
    if (this.phase[replica] === IDLE) {
      if (this.lineLength[replica] > 0) this.clock.set(replica, now)
    } else if (this.phase[replica] === LEAP && this.wantsBoundary(replica, now)) {
      this.cutLeap(replica, stepsAreOver ? now + INSTANT_SECONDS : now - INSTANT_SECONDS)
    }
  }

  sharedHeadChanged(by: number, now: number): void {
    const { floor } = this
    if (!floor.sharedWaiting()) return
    const request = floor.lines.peek(floor.sharedLine)
    for (let r = 0; r < floor.replicas; r++) {
      if (this.phase[r] !== LEAP || r === by || !this.hasRoom(r, request, now)) continue
      // Replicas with lower numbers have had their boundary of this instant already.
      this.cutLeap(r, r < by || by < 0 ? now + INSTANT_SECONDS : now - INSTANT_SECONDS)
    }
  }

  private wantsBoundary(replica: number, now: number): boolean {
    const { lines, sharesQueue, sharedLine } = this.floor
    if (lines.length[replica] > 0 && this.takesPrompts(replica) && this.admits(replica, lines.peek(replica))) return true
    return sharesQueue && lines.length[sharedLine] > 0 && this.hasRoom(replica, lines.peek(sharedLine), now)
  }

  /** Ends the leap at its first boundary at or after the given time. */
  private cutLeap(replica: number, seconds: number): void {
    this.clock.set(replica, this.leaps.cut(replica, seconds))
  }

  protected idle(replica: number): void {
    this.phase[replica] = IDLE
    this.clock.set(replica, Infinity)
  }

  /** Takes from the shared line what the replica has room for. */
  protected pull(replica: number, now: number): void {
    const { floor } = this
    let took = false
    while (floor.sharedWaiting() && this.hasRoom(replica, floor.lines.peek(floor.sharedLine), now)) {
      floor.takeShared(replica)
      took = true
    }
    if (took) this.sharedHeadChanged(replica, now)
  }

  /** Takes the head of the replica's line into service: its prompt is next to be worked through. */
  protected admitHead(replica: number, now: number): number {
    const { late } = this
    const { start } = this.floor.record
    const request = this.floor.lines.peek(replica)
    // Who was evicted stood aside for others until now.
    if (late && start[request] === start[request]) late.others[request] += now
    this.floor.begin(replica, now)
    if (this.optimistic) {
      this.reserved[replica] += this.input[request] + this.made[request] + 1
      this.stamp[request] = ++this.admissions
    } else this.reserved[replica] += this.tokens(request)
    this.prompts[replica * this.maxSequences + this.promptCount[replica]++] = request
    return request
  }

  /** Every active sequence gained its tokens in so many steps; who has all leaves. */
  protected landSteps(replica: number, steps: number, now: number): void {
    const { active } = this
    this.cached[replica] += steps * this.grows(replica)
    this.steps[replica] += steps
    if (this.listener) this.tellTokens(this.listener, replica, steps * this.tokensPerStep, now)
    while (active.size[replica] > 0 && active.firstMark(replica) <= this.steps[replica]) {
      const request = active.pop(replica)
      const begunWith = this.optimistic ? this.made[request] : 1
      const left = this.output[request] - begunWith
      this.cached[replica] -= this.input[request] + begunWith + this.stepsFor(left) * this.tokensPerStep
      this.leave(replica, request, now)
    }
    if (active.size[replica] === 0) this.cached[replica] = 0
  }

  private tellTokens(listener: Listener, replica: number, count: number, now: number): void {
    for (let i = 0; i < this.active.size[replica]; i++) listener.tokens(this.active.requestAt(replica, i), count, now)
  }

  private leave(replica: number, request: number, now: number): void {
    if (this.late) this.late.others[request] += this.promptClock[replica]
    if (!this.optimistic) this.reserved[replica] -= this.tokens(request)
    this.floor.finish(replica, request, this.firstToken[request], now)
  }

  /** Decode steps in which a sequence gains so many tokens. */
  protected stepsFor(tokens: number): number {
    return this.tokensPerStep === 1 ? tokens : Math.ceil(tokens / this.tokensPerStep - TOKEN_SLACK)
  }

  /** The prompt of a request is worked through: it has one more token, and decodes on unless that was its last. */
  protected promptDone(replica: number, request: number, now: number): void {
    const { firstToken, late } = this
    const input = this.input[request]
    let made = 1
    if (this.optimistic) {
      this.reserved[replica] -= input + this.made[request] + 1
      made = ++this.made[request]
    }
    if (firstToken[request] !== firstToken[request]) firstToken[request] = now
    this.listener?.tokens(request, 1, now)
    if (late) late.others[request] -= this.promptClock[replica]
    const left = this.output[request] - made
    if (left <= 0) return this.leave(replica, request, now)
    this.cached[replica] += input + made
    this.active.push(replica, this.steps[replica] + this.stepsFor(left), request)
  }

  /** The decode steps that the cache has room for. */
  protected stepsWithRoom(replica: number): number {
    if (!this.optimistic || this.inService(replica) <= 1 || this.active.size[replica] === 0) return Infinity
    const free = this.cacheTokens - this.reserved[replica] - this.cached[replica]
    return Math.floor(free / this.grows(replica) + TOKEN_SLACK)
  }

  /**
   * Evicts the last admitted until the cache has room for one decode step.
   * @returns whether any had to go: whoever heads the line now may fit, so that the next boundary must not be leapt over
   */
  protected evictForOneStep(replica: number, now: number): boolean {
    let evicted = false
    while (this.stepsWithRoom(replica) < 1) {
      this.evictLast(replica, now)
      evicted = true
    }
    return evicted
  }

  /** Those whose prompts are worked through were all admitted after those that decode. */
  private evictLast(replica: number, now: number): void {
    const request = this.promptCount[replica] > 0 ? this.dropLastPrompt(replica) : this.dropLatest(replica)
    if (this.late) this.late.others[request] -= now
    this.floor.record.evictions++
    this.floor.putBack(replica, request)
  }

  protected dropLastPrompt(replica: number): number {
    const request = this.prompts[replica * this.maxSequences + --this.promptCount[replica]]
    this.reserved[replica] -= this.input[request] + this.made[request] + 1
    return request
  }

  dropAll(replica: number): number[] {
    const { active, promptCount } = this
    const base = replica * this.maxSequences
    const out = Array.from({ length: active.size[replica] }, () => active.pop(replica))
    for (let i = base; i < base + promptCount[replica]; i++) out.push(this.prompts[i])
    promptCount[replica] = 0
    this.cached[replica] = 0
    this.reserved[replica] = 0
    if (this.optimistic) for (const request of out) this.made[request] = 0
    this.idle(replica)
    return out
  }

  private dropLatest(replica: number): number {
    const { active } = this
    const place = active.latest(replica, this.stamp)
    const request = active.requestAt(replica, place)
    const begunWith = this.made[request]
    const planned = this.stepsFor(this.output[request] - begunWith)
    const gained = this.tokensPerStep * (planned - (active.markAt(replica, place) - this.steps[replica]))
    this.cached[replica] -= this.input[request] + begunWith + gained
    this.made[request] = begunWith + Math.floor(gained + TOKEN_SLACK)
    if (this.late) this.late.others[request] += this.promptClock[replica]
    active.removeAt(replica, place)
    return request
  }
}
