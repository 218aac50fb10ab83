import {
  BadInput,
  checkEstimate,
  estimateWords,
  likelyPlace,
  oneOfSize,
  oneRequest,
  planSwitchOff,
  session,
  shownOf,
  type Estimated,
  type Load,
  type OneAsked,
  type OneRequest,
  type Plan,
  type PlanSwitchOff,
  type Reading,
  type ReplicaPlace,
  type Service,
  type Session,
  type SessionAsked,
  type SizedAsked,
} from '@sandclock/core'
import { Jobs, type Job } from './jobs.ts'
import { proofSteps, type ProofProgress } from './proofSteps.ts'

/** A session, and when to switch off between the calls of the plan. */
export interface SessionView {
  session: Session
  off: PlanSwitchOff
}

/** What can be told, or what is said where it can not be. */
function orSaid<T, M>(tell: () => T, said: (message: string) => M): T | M {
  try {
    return tell()
  } catch (error) {
    if (error instanceof BadInput) return said(error.message)
    throw error
  }
}

/** What is asked of a plan before any week of load: one request, one session, what a try proves, an own estimate. */
export class OneViews {
  protected readonly plan: Plan
  protected readonly load: Load
  protected readonly jobs = new Jobs()

  constructor(plan: Plan, load: Load) {
    this.plan = plan
    this.load = load
  }

  protected service(name: string): Service | undefined {
    return this.plan.services.find((s) => s.name === name)
  }

  /** Begins to look for what readings of a stopwatch prove; goes on by `advance`. */
  proof(asked: OneAsked, read: readonly Reading[]): Job<ProofProgress> {
    return this.jobs.begin('proof', proofSteps(this.plan, asked, read))
  }

  /** Where a request to a service would likely go; undefined where nothing takes it. */
  likelyPlace(serviceName: string): ReplicaPlace | undefined {
    const service = this.service(serviceName)
    return service && likelyPlace(this.plan, service)
  }

  /** One request laid out, or a sentence that says why it can not be. */
  one(asked: OneAsked): { one: OneRequest } | { message: string } {
    return orSaid(
      () => ({ one: oneRequest(this.plan, asked) }),
      (message) => ({ message }),
    )
  }

  /** One request to a model of which only the size is known, on a machine of the plan; or a sentence that says why it can not be. */
  oneOfSize(asked: SizedAsked): { one: OneRequest } | { message: string } {
    return orSaid(
      () => ({ one: oneOfSize(this.plan.machines, this.plan.currency, asked) }),
      (message) => ({ message }),
    )
  }

  /** An own estimate beside what it is made of, in words. */
  estimate(asked: OneAsked, what: Estimated, value: number): string {
    return orSaid(
      () => estimateWords(checkEstimate(this.plan, asked, what, value), shownOf(what, this.plan.currency)),
      (message) => message.replaceAll(/\n\s*/g, ' '),
    )
  }

  /** A session and when to switch off after it, or a sentence that says why it can not be laid out. @param worth of a spared cold caller */
  session(asked: SessionAsked, worth: number): SessionView | { message: string } {
    return orSaid(
      () => {
        const found = session(this.plan, asked)
        return { session: found, off: planSwitchOff(this.plan, this.load, asked.one, found.perHour, worth) }
      },
      (message) => ({ message }),
    )
  }
}
