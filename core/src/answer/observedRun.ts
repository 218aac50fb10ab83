import type { Requests } from '../demand/requests.ts'
import { LateSplit } from '../engine/lateSplit.ts'
import { Meter } from '../engine/meter.ts'
import { simulate } from '../engine/simulate.ts'
import type { LivingFleet } from '../life/livingFleet.ts'
import { Stage } from '../life/startRules.ts'
import { runRemarks } from '../explain/runRemarks.ts'
import { runSummary, type Observed, type RunSummary } from '../measure/runSummary.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { rulesFor, targetsOf } from '../search/trial.ts'
import type { Profile } from '../service/profile.ts'

/** Pieces in which the use of replicas is summed up over time: hours, where there are enough of them and not too many. */
const usePieces = (seconds: number) => (seconds % 3600 === 0 && seconds >= 86_400 && seconds <= 45 * 86_400 ? seconds / 3600 : 200)
/** Pieces in which late time is: five minutes in a week. */
const LATE_PIECES = 2016

/** Those who look on at a run: what replicas do, and where late requests spend their time. */
export function observersFor(plan: Plan, service: Service, requests: number): { meter: Meter; late: LateSplit } {
  const { seconds, warmupSeconds } = plan.horizon
  const targets = targetsOf(plan, service).flatMap(({ classIndex, target }) =>
    target.measure === 'lost' || target.measure === 'throughput' ? [] : [{ classIndex, measure: target.measure, seconds: target.seconds }],
  )
  return {
    meter: new Meter(seconds, usePieces(seconds)),
    late: new LateSplit(requests, targets, plan.classes.length, seconds, LATE_PIECES, { fromSeconds: warmupSeconds }),
  }
}

/** Simulates a fleet with everybody looking on. */
export function observedRun(plan: Plan, service: Service, profile: Profile, replicas: number, requests: Requests, fleet?: LivingFleet): Observed {
  const looking = observersFor(plan, service, requests.count)
  return { ...looking, record: simulate(requests, rulesFor(plan, service, profile, replicas, 0, fleet), looking), life: fleet?.record ?? null }
}

/** What a run says as a whole, with what one should know before one believes it. */
export function tellRun(plan: Plan, service: Service, profile: Profile, replicas: number, observed: Observed): { run: RunSummary; remarks: string[] } {
  const classes = plan.classes.flatMap((c, i) => (c.service === service.name ? [i] : []))
  const run = runSummary(plan, classes, profile, replicas, observed)
  const anyReady = !observed.life || observed.life.events.some((e) => e.stage === Stage.ready)
  return { run, remarks: runRemarks(run, profile.kind === 'token' ? profile.requestTokens : null, anyReady) }
}
