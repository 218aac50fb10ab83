import { prefillStepSeconds } from '../service/profile.ts'
import { LEAP, STEP, TokenReplicas } from './tokenReplicas.ts'

/** Prompts in prefill steps of their own, for which decoding waits (engine rules, section 3, point 4). */
export class WholePrompts extends TokenReplicas {
  private readonly stepStart = new Float64Array(this.floor.replicas)

  protected override takesPrompts(): boolean {
    return true
  }

  boundary(replica: number, now: number): void {
    if (this.phase[replica] === LEAP) this.landLeap(replica, now)
    else if (this.phase[replica] === STEP) this.landPrefill(replica, now)
    this.phase[replica] = STEP
    if (this.floor.sharesQueue) this.pull(replica, now)
    if (this.floor.lines.length[replica] > 0) this.admit(replica, now)
    if (this.promptCount[replica] > 0) this.startPrefill(replica, now)
    else if (this.active.size[replica] > 0) this.startLeap(replica, now)
    else this.idle(replica)
  }

  private landLeap(replica: number, now: number): void {
    const { leaps, active, cached } = this
    const steps = leaps.planned[replica]
    const { meter } = this.floor.observers
    meter?.span(leaps.start[replica], now, active.size[replica], cached[replica], cached[replica] + steps * this.grows(replica))
    this.landSteps(replica, steps, now)
  }

  private landPrefill(replica: number, now: number): void {
    const { meter, late } = this.floor.observers
    const base = replica * this.profile.maxSequences
    const count = this.promptCount[replica]
    const seconds = now - this.stepStart[replica]
    this.promptClock[replica] += seconds
    meter?.span(this.stepStart[replica], now, count, this.cached[replica], this.cached[replica])
    this.promptCount[replica] = 0
    for (let i = base; i < base + count; i++) {
      const request = this.prompts[i]
      if (late) late.others[request] += seconds - this.prefillAlone(request)
      this.promptDone(replica, request, now)
    }
  }

  /** Tokens that are worked through, and what they add to the sum of squares. */
  private newTokens(request: number): number {
    return this.floor.requests.input[request] + this.madeOf(request) - this.prefixOf(request)
  }

  private squares(request: number): number {
    const all = this.floor.requests.input[request] + this.madeOf(request)
    const prefix = this.prefixOf(request)
    return all * all - prefix * prefix
  }

  private prefillAlone(request: number): number {
    return prefillStepSeconds(this.profile, this.newTokens(request), this.squares(request))
  }

  private admit(replica: number, now: number): void {
    const { lines } = this.floor
    let prompt = 0
    while (lines.length[replica] > 0) {
      const next = lines.peek(replica)
      if (!this.admits(replica, next)) return
      prompt += this.newTokens(next)
      if (this.promptCount[replica] > 0 && prompt > this.profile.maxPrefillTokens) return
      this.admitHead(replica, now)
    }
  }

  private startPrefill(replica: number, now: number): void {
    const base = replica * this.profile.maxSequences
    let sum = 0
    let squares = 0
    for (let i = base; i < base + this.promptCount[replica]; i++) {
      sum += this.newTokens(this.prompts[i])
      squares += this.squares(this.prompts[i])
    }
    this.phase[replica] = STEP
    this.stepStart[replica] = now
    this.floor.clock.set(replica, now + prefillStepSeconds(this.profile, sum, squares))
  }

  private startLeap(replica: number, now: number): void {
    const { profile, active, cached } = this
    const room = this.evictForOneStep(replica, now) ? 1 : this.stepsWithRoom(replica)
    const n = active.size[replica]
    const m1 = profile.cacheSecondsPerToken
    const a = profile.memorySeconds[n] + m1 * cached[replica]
    this.leaps.begin(replica, now, a, m1 * n * profile.tokensPerStep, profile.arithmeticSeconds[n], profile.overheadSeconds[n], 0)
    this.phase[replica] = LEAP
    const first = active.firstMark(replica) - this.steps[replica]
    this.planLeap(replica, first < room ? first : room)
  }
}
