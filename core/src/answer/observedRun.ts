import type { Requests } from '../demand/requests.ts'
import { LateSplit } from '../engine/lateSplit.ts'
import { Meter } from '../engine/meter.ts'
import { Stage } from '../life/startRules.ts'
import { runRemarks } from '../explain/runRemarks.ts'
import { runSummary, type Observed, type RunSummary } from '../measure/runSummary.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { targetsOf } from '../measure/placedTargets.ts'
import { coldTimeOf } from '../run/coldTimeOf.ts'
import { run } from '../run/run.ts'
import { partsOf, type RunSpec } from '../run/spec.ts'
import { hasTokens } from '../service/profile.ts'

/** Pieces in which the use of replicas is summed up over time: hours, where there are enough of them and not too many. */
const usePieces = (seconds: number) => (seconds % 3600 === 0 && seconds >= 86_400 && seconds <= 45 * 86_400 ? seconds / 3600 : 200)
/** Pieces in which late time is: five minutes in a week. */
const LATE_PIECES = 2016

/** Those who look on at a run: what replicas do, and where late requests spend their time. */
export function observersFor(plan: Plan, service: Service, requests: number): { meter: Meter; late: LateSplit } {
  const { seconds, warmupSeconds } = plan.horizon
  const targets = targetsOf(plan, service).flatMap(({ classIndex, target, waySeconds }) =>
    target.measure === 'lost' || target.measure === 'throughput'
      ? []
      : [{ classIndex, measure: target.measure, seconds: target.seconds - waySeconds }],
  )
  return {
    meter: new Meter(seconds, usePieces(seconds)),
    late: new LateSplit(requests, targets, plan.classes.length, seconds, LATE_PIECES, { fromSeconds: warmupSeconds }),
  }
}

/** Simulates a configuration on the first draw of its load with everybody looking on. */
export function observedRun(plan: Plan, spec: RunSpec, requests: Requests): Observed {
  const looking = observersFor(plan, spec.service, requests.count)
  const { record, life } = run(plan, spec, requests, { observers: looking, toTheEnd: true })
  return { ...looking, record, life }
}

/** What a run says as a whole, with what one should know before one believes it. */
export function tellRun(plan: Plan, spec: RunSpec, observed: Observed): { run: RunSummary; remarks: string[] } {
  const classes = plan.classes.flatMap((c, i) => (c.service === spec.service.name ? [i] : []))
  const { profile, replicas } = partsOf(spec)
  const summary = runSummary(plan, classes, profile, replicas, observed, coldTimeOf(plan, spec, observed))
  const anyReady = !observed.life || observed.life.events.some((e) => e.stage === Stage.ready)
  return { run: summary, remarks: runRemarks(summary, hasTokens(profile) ? profile : null, anyReady) }
}
