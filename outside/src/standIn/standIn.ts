import { Outcome, RejectCause, type Plan, type RunSpec } from '@sandclock/core'
import { RealTime } from './realTime.ts'

/** What is asked of the stand-in, however it is asked. */
export interface Question {
  /** prompt tokens, or work of a request without tokens; and answer tokens */
  input: number
  output: number
  /** of the classes that the service serves; the first if left out */
  className?: string | undefined
}

/** How a question ended. */
export type Ending =
  | { kind: 'answered' }
  /** with a status of HTTP, and after how many seconds it may be tried again where that is known */
  | { kind: 'refused'; status: 413 | 429 | 500 | 503; why: string; retryAfterSeconds?: number }

/** Requests that a stand-in takes until it is started again. */
const CAPACITY = 200_000
/** Keep the draws of who fails apart: a plain stride through them, the same each time. */
const FAIL_STRIDE = 0.618_033_988_749_894_9

const FAILED: Ending = { kind: 'refused', status: 500, why: 'it fails, as it was told to for a share of its requests' }

export interface StandInOptions {
  plan: Plan
  spec: RunSpec
  /** how much faster than the real clock */
  speed: number
  /** share of the requests that fail in the middle of their answer, 0…1 */
  failShare: number
}

/** Counts of what was asked since the begin. */
export interface Tally {
  arrivals: number
  answered: number
  failed: number
  refused: Record<string, number>
  inputTokens: number
  outputTokens: number
  /** sums over those that were answered, seconds as the run has them */
  firstTokenSeconds: number
  latencySeconds: number
}

/** A service that answers as the configuration of a plan does, token by token, with words that mean nothing. */
export class StandIn {
  readonly time: RealTime
  readonly tally: Tally = {
    arrivals: 0,
    answered: 0,
    failed: 0,
    refused: {},
    inputTokens: 0,
    outputTokens: 0,
    firstTokenSeconds: 0,
    latencySeconds: 0,
  }
  readonly service: string
  private readonly plan: Plan
  private readonly failShare: number

  constructor({ plan, spec, speed, failShare }: StandInOptions) {
    this.plan = plan
    this.service = spec.service.name
    this.failShare = failShare
    this.time = new RealTime(plan, spec, speed, CAPACITY)
  }

  /** Classes that it serves. */
  get classes(): string[] {
    return this.plan.classes.filter((c) => c.service === this.service).map((c) => c.name)
  }

  /**
   * Asks it something; what comes is told as it comes.
   *
   * @param token one more token of the answer is there
   * @returns how it ended, and how to ask no more
   */
  ask(question: Question, token: () => void): { ending: Promise<Ending>; leave: () => void } {
    const { tally, time } = this
    const name = question.className ?? this.classes[0]
    const c = this.plan.classes.findIndex((x) => x.name === name && x.service === this.service)
    tally.arrivals++
    let request: number | undefined
    let [told, made] = [0, 0]
    const tell = (upTo: number) => {
      for (; told < Math.min(Math.floor(upTo + 1e-6), question.output); told++) token()
    }
    const half = Math.ceil(question.output / 2)
    const ending = new Promise<Ending>((resolve) => {
      const over = (number: number, end: Ending) => {
        time.forget(number)
        this.count(number, question, end)
        resolve(end)
      }
      request = time.ask(c, question.input, question.output, {
        // Several steps come at once where the machine was held up, or the run leapt: who fails has told half for all that.
        tokens: (count, _, number) => {
          const failing = this.fails(number)
          made += count
          tell(failing ? Math.min(made, half) : made)
          if (failing && made >= half) over(number, FAILED)
        },
        ended: (_, number) => {
          const end = this.fails(number) ? FAILED : this.endingOf(number)
          if (end.kind === 'answered') tell(question.output)
          over(number, end)
        },
      })
      if (request === undefined)
        resolve({ kind: 'refused', status: 503, why: `it has taken ${CAPACITY} requests since it was started; start it again` })
    })
    return { ending, leave: () => void (request !== undefined && time.forget(request)) }
  }

  private fails(request: number): boolean {
    return ((request + 1) * FAIL_STRIDE) % 1 < this.failShare
  }

  private endingOf(request: number): Ending {
    const { record } = this.time.run
    if (record.outcome[request] === Outcome.finished) return { kind: 'answered' }
    switch (record.rejectCause[request]) {
      case RejectCause.tooLarge:
        return { kind: 'refused', status: 413, why: 'no replica takes a request of this size' }
      case RejectCause.queueFull:
        return { kind: 'refused', status: 429, why: 'as many as may wait are waiting', retryAfterSeconds: 1 }
      case RejectCause.rateLimited:
        return { kind: 'refused', status: 429, why: 'the rate limit of its class is reached', retryAfterSeconds: 1 }
      case RejectCause.asleep:
        return { kind: 'refused', status: 503, why: 'it sleeps, and is being woken', retryAfterSeconds: 5 }
      default:
        return { kind: 'refused', status: 500, why: 'its replica was lost' }
    }
  }

  private count(request: number, { input, output }: Question, end: Ending): void {
    const { tally } = this
    const { record } = this.time.run
    if (end.kind === 'refused') {
      if (end.status === 500) tally.failed++
      else tally.refused[end.status] = (tally.refused[end.status] ?? 0) + 1
      return
    }
    tally.answered++
    tally.inputTokens += input
    tally.outputTokens += output
    tally.firstTokenSeconds += record.firstToken[request] - record.at[request]
    tally.latencySeconds += record.end[request] - record.at[request]
  }
}
