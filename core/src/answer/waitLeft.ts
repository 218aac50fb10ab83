import { Stage, type LifeRecord } from '../life/startRules.ts'
import { came } from '../engine/record.ts'
import { selected } from '../measure/measures.ts'
import { percentile } from '../measure/percentile.ts'
import { countedSelection } from '../measure/summary.ts'
import type { Plan } from '../plan/schema.ts'
import { coldTimeOf } from '../run/coldTimeOf.ts'
import { readyAt } from '../run/readyAt.ts'
import { run } from '../run/run.ts'
import type { RunSpec } from '../run/spec.ts'
import type { Load } from '../search/load.ts'
import { CORE_VERSION } from '../version.ts'
import { firstAbove, firstNotBelow } from '../units/ascending.ts'
import { duration } from '../units/duration.ts'
import { grouped } from '../units/number.ts'
import type { DetailTable } from './detailTable.ts'

/** How long it is still until a replica is ready, for who has waited so long: what a page can show in place of an invented progress. */
export interface WaitLeft {
  format: 'sand-clock-wait-left'
  version: 1
  coreVersion: string
  service: string
  /** callers who found no replica ready, over all draws of the load; whether they waited to the end or not */
  callers: number
  after: { seconds: number; callers: number; p50Seconds: number; p90Seconds: number }[]
}

/** Waits after which it is told, as long as there are callers enough who waited longer. */
const AFTER_SECONDS = [0, 5, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 300, 420, 600, 900, 1800, 3600]
const LEAST_CALLERS = 10

/**
 * Of every caller who came while it was cold, on every draw: the time from the call until the next replica is ready. Who gives up counts
 * as well, since the start-up goes on: else patience would make the waits look short.
 */
export function waitLeft(plan: Plan, spec: RunSpec, load: Load): WaitLeft {
  const waits: number[] = []
  for (let repetition = 0; repetition < load.repetitions(spec.service); repetition++) {
    const ran = run(plan, spec, load.of(spec.service, repetition), { repetition, toTheEnd: true })
    const cold = coldTimeOf(plan, spec, ran)
    const ready = ran.life ? readyTimes(ran.life) : [readyAt(plan, spec.candidate.service)]
    for (let i = 0; i < ran.record.requests.count; i++) {
      if (!came(ran.record, i) || !selected(ran.record, i, countedSelection(plan, -1))) continue
      const at = ran.record.at[i]
      const next = ready[firstNotBelow(ready, at)]
      // Of instances that calls bring one may be on its way while another has a place: who takes it does not wait.
      const atOnce = ran.record.start[i] === at
      if (next !== undefined && next > at && !atOnce && cold.isCold(at)) waits.push(next - at)
    }
  }
  const sorted = Float64Array.from(waits).sort()
  return {
    format: 'sand-clock-wait-left',
    version: 1,
    coreVersion: CORE_VERSION,
    service: spec.service.name,
    callers: sorted.length,
    after: AFTER_SECONDS.flatMap((seconds) => {
      const longer = sorted.subarray(firstAbove(sorted, seconds))
      if (longer.length < LEAST_CALLERS) return []
      const left = (q: number) => (percentile(longer, q) ?? 0) - seconds
      return [{ seconds, callers: longer.length, p50Seconds: left(0.5), p90Seconds: left(0.9) }]
    }),
  }
}

const readyTimes = ({ events }: LifeRecord) => events.filter((e) => e.stage === Stage.ready).map((e) => e.seconds)

export function waitLeftTable({ callers, after }: WaitLeft): DetailTable {
  return {
    title: `the wait that is left until a replica is ready (${grouped(callers, 0)} callers who found none, over all draws)`,
    header: ['after waiting', 'ready within, for half', 'for 90 of 100', 'callers'],
    rows: after.map((a) => [duration(a.seconds), duration(a.p50Seconds), duration(a.p90Seconds), grouped(a.callers, 0)]),
  }
}
