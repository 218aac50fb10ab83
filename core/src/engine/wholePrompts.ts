import type { Meter } from './meter.ts'
import { prefillStepSeconds } from '../service/profile.ts'
import { LEAP, STEP, TokenReplicas } from './tokenReplicas.ts'

/** Prompts in prefill steps of their own, for which decoding waits (docs/model.md, 4). */
export class WholePrompts extends TokenReplicas {
  private readonly stepStart = new Float64Array(this.floor.replicas)
  private readonly memorySeconds = this.profile.memorySeconds
  private readonly arithmeticSeconds = this.profile.arithmeticSeconds
  private readonly overheadSeconds = this.profile.overheadSeconds
  private readonly cacheSeconds = this.profile.cacheSecondsPerToken

  protected override takesPrompts(): boolean {
    return true
  }

  boundary(replica: number, now: number): void {
    if (this.phase[replica] === LEAP) this.landLeap(replica, now)
    else if (this.phase[replica] === STEP) this.landPrefill(replica, now)
    this.phase[replica] = STEP
    if (this.floor.sharesQueue) this.pull(replica, now)
    if (this.lineLength[replica] > 0) this.admit(replica, now)
    if (this.promptCount[replica] > 0) return
    if (this.active.size[replica] > 0) this.startLeap(replica, now)
    else this.idle(replica)
  }

  private landLeap(replica: number, now: number): void {
    const { leaps, meter } = this
    const steps = leaps.plannedOf(replica)
    if (meter) this.meterLeap(meter, replica, now, steps)
    this.landSteps(replica, steps, now)
  }

  private meterLeap(meter: Meter, replica: number, now: number, steps: number): void {
    const n = this.active.size[replica]
    const cached = this.cached[replica]
    const grows = this.grows(replica)
    const tokensRead = steps * cached + (grows * steps * (steps - 1)) / 2
    const memory = steps * this.memorySeconds[n] + this.cacheSeconds * tokensRead
    meter.span(replica, this.leaps.startOf(replica), now, n, cached, cached + steps * grows, memory, steps * this.arithmeticSeconds[n])
  }

  private landPrefill(replica: number, now: number): void {
    const { meter, late } = this
    const base = replica * this.maxSequences
    const count = this.promptCount[replica]
    const seconds = now - this.stepStart[replica]
    this.promptClock[replica] += seconds
    if (meter) this.meterPrefill(meter, replica, now, base, count)
    this.promptCount[replica] = 0
    for (let i = base; i < base + count; i++) {
      const request = this.prompts[i]
      if (late) late.others[request] += seconds - this.prefillAlone(request)
      this.promptDone(replica, request, now)
    }
  }

  private meterPrefill(meter: Meter, replica: number, now: number, base: number, count: number): void {
    const { prefillMemorySeconds, prefillSecondsPerToken, prefillSecondsPerTokenSquared } = this.profile
    let [tokens, squares] = [0, 0]
    for (let i = base; i < base + count; i++) {
      tokens += this.newTokens(this.prompts[i])
      squares += this.squares(this.prompts[i])
    }
    const cached = this.cached[replica]
    const arithmetic = prefillSecondsPerToken * tokens + prefillSecondsPerTokenSquared * squares
    meter.span(replica, this.stepStart[replica], now, count, cached, cached, prefillMemorySeconds, arithmetic)
  }

  /** Tokens that are worked through, and what they add to the sum of squares. */
  private newTokens(request: number): number {
    return this.input[request] + this.madeOf(request) - this.prefixOf(request)
  }

  private squares(request: number): number {
    const all = this.input[request] + this.madeOf(request)
    const prefix = this.prefixOf(request)
    return all * all - prefix * prefix
  }

  private prefillAlone(request: number): number {
    return prefillStepSeconds(this.profile, this.newTokens(request), this.squares(request))
  }

  /** Admits what there is room for, and begins the prefill step if that is anybody. */
  private admit(replica: number, now: number): void {
    const { lines } = this.floor
    let sum = 0
    let squares = 0
    while (this.lineLength[replica] > 0) {
      const next = lines.peek(replica)
      if (!this.admits(replica, next)) break
      const prompt = this.newTokens(next)
      if (sum > 0 && sum + prompt > this.profile.maxPrefillTokens) break
      sum += prompt
      squares += this.squares(next)
      this.admitHead(replica, now)
    }
    if (sum === 0) return
    this.phase[replica] = STEP
    this.stepStart[replica] = now
    this.clock.set(replica, now + prefillStepSeconds(this.profile, sum, squares))
  }

  private startLeap(replica: number, now: number): void {
    const { active } = this
    const room = this.optimistic ? this.roomForLeap(replica, now) : Infinity
    const n = active.size[replica]
    const a = this.memorySeconds[n] + this.cacheSeconds * this.cached[replica]
    const first = active.firstMark(replica) - this.steps[replica]
    this.phase[replica] = LEAP
    const steps = first < room ? first : room
    this.clock.set(
      replica,
      this.leaps.begin(
        replica,
        now,
        steps,
        a,
        this.cacheSeconds * n * this.tokensPerStep,
        this.arithmeticSeconds[n],
        this.overheadSeconds[n],
        0,
      ),
    )
  }

  private roomForLeap(replica: number, now: number): number {
    return this.evictForOneStep(replica, now) ? 1 : this.stepsWithRoom(replica)
  }
}
