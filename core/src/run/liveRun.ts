import { emptyRequests, type Requests } from '../demand/requests.ts'
import type { Listener } from '../engine/observers.ts'
import type { RunRecord } from '../engine/record.ts'
import { Simulation } from '../engine/simulate.ts'
import type { Plan } from '../plan/schema.ts'
import { rulesOfRun } from './run.ts'
import type { RunSpec } from './spec.ts'

/**
 * A configuration that is run while requests come, as they come: the same rules and step costs as {@link run}, with every step taken by
 * itself. Whether a caller is patient or comes again is his own affair here, nobody is woken before he calls, and a rate limit is one for
 * the whole class.
 */
export class LiveRun {
  private readonly requests: Requests
  private readonly simulation: Simulation
  private arrived = 0

  /** @param capacity requests that it can take until it is made anew */
  constructor(plan: Plan, spec: RunSpec, listener: Listener, capacity: number) {
    const live = asTheyCome(plan)
    this.requests = emptyRequests(capacity)
    // Nobody comes before he calls.
    this.requests.at.fill(Infinity)
    const { candidate } = spec
    const { policy } = candidate
    const calm = policy?.wake ? { ...spec, candidate: { ...candidate, policy: { ...policy, wake: undefined } } } : spec
    const { rules } = rulesOfRun(live, calm, this.requests, 0)
    this.simulation = new Simulation(this.requests, { ...rules, horizonSeconds: Infinity }, { listener })
  }

  /**
   * Takes a request that comes now, seconds after the begin, not before the last nor before what has happened. It is seen when all until
   * now is let happen, with whoever else comes at that moment.
   *
   * @returns its number; undefined when it is full
   */
  arrive(now: number, classIndex: number, input: number, output: number): number | undefined {
    const { requests } = this
    if (this.arrived === requests.count) return undefined
    const number = this.arrived++
    requests.classIndex[number] = classIndex
    requests.input[number] = input
    requests.output[number] = output
    requests.id[number] = number + 1
    requests.at[number] = now
    return number
  }

  /** Lets everything happen up to and including now. */
  advance(now: number): void {
    this.simulation.advance(now)
  }

  /** When something happens next without anybody coming; Infinity for never. */
  nextTime(): number {
    return this.simulation.nextTime()
  }

  get state(): Simulation['state'] & { arrived: number } {
    return { ...this.simulation.state, arrived: this.arrived }
  }

  get record(): RunRecord {
    return this.simulation.state.record
  }
}

function asTheyCome(plan: Plan): Plan {
  return {
    ...plan,
    classes: plan.classes.map(({ patienceSeconds: _, retries: __, rateLimit, ...c }) => ({
      ...c,
      ...(rateLimit && { rateLimit: { ...rateLimit, callers: undefined } }),
    })),
  }
}
