import type { Meter } from './meter.ts'
import { square } from '../arithmetic/sameBits.ts'
import { mixedReadSeconds, mixedStepSeconds, type TokenProfile } from '../service/profile.ts'
import type { Floor } from './floor.ts'
import { Leaps } from './leaps.ts'
import { LEAP, STEP, TokenReplicas } from './tokenReplicas.ts'

/**
 * Prompts in chunks beside the decoding sequences (docs/model.md, 4). Prompts are worked through first in
 * first out, so that at most one is begun and not done; it leads the list of prompts. While it takes the whole budget
 * of every step, or nothing is to be taken, steps have one composition and are leapt over.
 */
export class InterleavedPrompts extends TokenReplicas {
  /** tokens of the leading prompt that are in the cache: its shared prefix and the chunks taken */
  private readonly taken: Float64Array
  /** prompt tokens that each step of the leap, or the step, takes */
  private readonly chunk: Float64Array
  /** requests whose prompts end with the step: so many lead the list */
  private readonly ending: Int32Array
  /** tokens that the prompt after those gets in the step */
  private readonly opening: Float64Array
  private readonly stepStart: Float64Array
  private readonly stepSquares: Float64Array
  /** for sums that are only asked for */
  private readonly scratch = new Leaps(1)

  constructor(floor: Floor, profile: TokenProfile) {
    super(floor, profile)
    this.taken = new Float64Array(floor.replicas)
    this.chunk = new Float64Array(floor.replicas)
    this.ending = new Int32Array(floor.replicas)
    this.opening = new Float64Array(floor.replicas)
    this.stepStart = new Float64Array(floor.replicas)
    this.stepSquares = new Float64Array(floor.replicas)
  }

  protected override takesPrompts(replica: number): boolean {
    return this.promptCount[replica] === 0 && this.budget(replica) > 0
  }

  /** Prompt tokens that a step has room for beside the decoding sequences. */
  private budget(replica: number): number {
    return Math.max(0, this.profile.stepTokens - this.active.size[replica] * this.profile.scheduledPerSequence)
  }

  private promptTokens(request: number): number {
    return this.input[request] + this.madeOf(request)
  }

  boundary(replica: number, now: number): void {
    if (this.phase[replica] === LEAP) this.landLeap(replica, now)
    else if (this.phase[replica] === STEP) this.landStep(replica, now)
    this.phase[replica] = STEP
    if (this.floor.sharesQueue) this.pull(replica, now)
    const evicted = this.evictForOneStep(replica, now)
    this.compose(replica, now)
    if (this.ending[replica] > 0) this.startStep(replica, now)
    else if (this.chunk[replica] > 0 || this.active.size[replica] > 0)
      this.startLeap(replica, now, evicted ? 1 : this.stepsWithRoom(replica))
    else this.idle(replica)
  }

  /** Hands the budget of the next step to prompts in order, admitting while some is left. */
  private compose(replica: number, now: number): void {
    const { lines } = this.floor
    const base = replica * this.maxSequences
    let left = this.budget(replica)
    let place = 0
    this.chunk[replica] = 0
    this.ending[replica] = 0
    this.opening[replica] = 0
    this.stepSquares[replica] = 0
    while (left > 0) {
      if (place === this.promptCount[replica]) {
        if (lines.length[replica] === 0 || !this.admits(replica, lines.peek(replica))) return
        const request = this.admitHead(replica, now)
        if (place === 0) this.taken[replica] = this.prefixOf(request)
      }
      const request = this.prompts[base + place]
      const before = place === 0 ? this.taken[replica] : this.prefixOf(request)
      const takes = Math.min(left, this.promptTokens(request) - before)
      left -= takes
      this.chunk[replica] += takes
      this.stepSquares[replica] += square(before + takes) - square(before)
      if (before + takes < this.promptTokens(request)) {
        this.opening[replica] = takes
        return
      }
      this.ending[replica]++
      place++
    }
  }

  private startStep(replica: number, now: number): void {
    const n = this.active.size[replica]
    this.phase[replica] = STEP
    this.stepStart[replica] = now
    this.clock.set(replica, now + mixedStepSeconds(this.profile, n, this.cached[replica], this.chunk[replica], this.stepSquares[replica]))
  }

  private startLeap(replica: number, now: number, room: number): void {
    const { profile, active, taken } = this
    const n = active.size[replica]
    const row = n === 0 ? 1 : n
    const chunk = this.chunk[replica]
    const m1 = profile.cacheSecondsPerToken
    const squared = profile.prefillSecondsPerTokenSquared
    const c = (n === 0 ? 0 : profile.arithmeticSeconds[n]) + profile.prefillSecondsPerToken * chunk
    const o = profile.overheadSeconds[row] + profile.prefillExchangeSecondsPerToken * chunk + squared * this.stepSquares[replica]
    let steps = room
    if (n > 0) steps = Math.min(steps, active.firstMark(replica) - this.steps[replica])
    if (chunk > 0) {
      const leading = this.prompts[replica * profile.maxSequences]
      steps = Math.min(steps, Math.ceil((this.promptTokens(leading) - taken[replica]) / chunk) - 1)
    }
    this.phase[replica] = LEAP
    const a = mixedReadSeconds(profile, n, chunk) + m1 * this.cached[replica]
    this.clock.set(replica, this.leaps.begin(replica, now, steps, a, m1 * this.grows(replica), c, o, 2 * squared * chunk * chunk))
  }

  private landLeap(replica: number, now: number): void {
    const { leaps, active } = this
    const steps = leaps.plannedOf(replica)
    const chunk = this.chunk[replica]
    const { meter, late } = this
    if (late && chunk > 0) this.promptClock[replica] += now - leaps.startOf(replica) - this.decodingOnly(replica, steps)
    if (meter) this.meterSteps(meter, replica, leaps.startOf(replica), now, steps)
    this.taken[replica] += chunk * steps
    if (active.size[replica] > 0) this.landSteps(replica, steps, now)
  }

  /** Seconds that the steps of the leap would have taken without the prompt beside them. */
  private decodingOnly(replica: number, steps: number): number {
    const n = this.active.size[replica]
    if (n === 0) return 0
    const { profile, scratch } = this
    const m1 = profile.cacheSecondsPerToken
    const a = profile.memorySeconds[n] + m1 * this.cached[replica]
    return scratch.begin(0, 0, steps, a, m1 * this.grows(replica), profile.arithmeticSeconds[n], profile.overheadSeconds[n], 0)
  }

  /** So many steps of one composition, each with the same chunk of prompts. */
  private meterSteps(meter: Meter, replica: number, from: number, now: number, steps: number): void {
    const { profile } = this
    const n = this.active.size[replica]
    const chunk = this.chunk[replica]
    const cached = this.cached[replica]
    const grows = this.grows(replica)
    const tokensRead = steps * cached + (grows * steps * (steps - 1)) / 2
    const squares = steps * this.stepSquares[replica] + chunk * chunk * steps * (steps - 1)
    const memory = steps * mixedReadSeconds(profile, n, chunk) + profile.cacheSecondsPerToken * tokensRead
    const decoding = n === 0 ? 0 : profile.arithmeticSeconds[n]
    const arithmetic = steps * (decoding + profile.prefillSecondsPerToken * chunk) + profile.prefillSecondsPerTokenSquared * squares
    meter.span(replica, from, now, this.inService(replica), cached, cached + steps * grows, memory, arithmetic)
  }

  private landStep(replica: number, now: number): void {
    const base = replica * this.maxSequences
    const ending = this.ending[replica]
    const n = this.active.size[replica]
    const { meter, late } = this
    if (meter) this.meterSteps(meter, replica, this.stepStart[replica], now, 1)
    if (late) {
      const excess = now - this.stepStart[replica] - (n === 0 ? 0 : mixedStepSeconds(this.profile, n, this.cached[replica], 0, 0))
      this.promptClock[replica] += excess
      this.shareExcess(replica, excess)
    }
    if (n > 0) this.landSteps(replica, 1, now)
    const opened = this.opening[replica]
    for (let i = 0; i < ending; i++) this.promptDone(replica, this.prompts[base + i], now)
    this.promptCount[replica] -= ending
    this.prompts.copyWithin(base, base + ending, base + ending + this.promptCount[replica])
    if (this.promptCount[replica] > 0) this.taken[replica] = this.prefixOf(this.prompts[base]) + opened
  }

  /** Each prompt of the step bears its own part of the time that prompts added; the rest it spent for the others. */
  private shareExcess(replica: number, excess: number): void {
    const { late } = this
    const base = replica * this.maxSequences
    for (let i = 0; i < this.promptCount[replica]; i++) {
      const request = this.prompts[base + i]
      const before = i === 0 ? this.taken[replica] : this.prefixOf(request)
      const own = i < this.ending[replica] ? this.promptTokens(request) - before : this.opening[replica]
      if (late) late.others[request] += excess * (1 - own / this.chunk[replica])
    }
  }
}
