import type { ScalingPolicy } from '../plan/schema.ts'
import type { Alteration, PolicyPart } from '../run/alteredService.ts'
import type { RunSpec } from '../run/spec.ts'
import { fleetOf } from '../candidate/candidate.ts'
import { bytes } from '../units/bytes.ts'
import { duration } from '../units/duration.ts'
import { bare, percent, threeDigits } from '../units/number.ts'
import { METRICS, PURCHASES, ROUTINGS, WEIGHTS_FROM } from '../plan/ways.ts'

/** One change to a run, in words that go on after "with". */
export function alterationWords(before: RunSpec, after: RunSpec, alteration: Alteration): string {
  switch (alteration.kind) {
    case 'policy':
      return policyPartWords(alteration.part, before.candidate.policy ?? alteration.policy, alteration.policy)
    case 'fixed': {
      const { machines, replicas } = fleetOf(after.candidate, after.groups)
      return `${copies(replicas)} all the time on ${machines} × ${after.candidate.machine.name}${before.candidate.policy ? `, without “${before.candidate.policy.name}”` : ''}`
    }
    case 'other-policy':
      return `the policy “${alteration.name}”`
    case 'weights':
      return WEIGHTS_FROM[alteration.from].instead
    case 'stop':
      return `machines stopped instead of given back${alteration.weights === 'node' && before.service.start?.weights.from !== 'node' ? ', weights kept on their disk' : ''}`
    case 'image':
      return `an image of ${bytes(alteration.bytes)} instead of ${bytes(before.service.start?.imageBytes ?? 0)}`
    case 'purchase':
      return `machines paid ${PURCHASES[alteration.purchase.kind].picked} instead of ${PURCHASES[before.candidate.purchase.kind].picked}`
    case 'sequences':
      return `${alteration.sequences} side by side instead of ${before.candidate.sequences}`
    case 'routing':
      return `${ROUTINGS[alteration.routing].words} instead of ${before.service.routing}`
  }
}

const copies = (n: number) => (n === 1 ? '1 copy' : `${n} copies`)

function policyPartWords(part: PolicyPart, before: ScalingPolicy, after: ScalingPolicy): string {
  switch (part) {
    case 'min':
      return `at least ${copies(after.min)} instead of ${before.min}`
    case 'max':
      return `up to ${copies(after.max)} instead of ${before.max}`
    case 'target':
      return `a target of ${(after.metrics ?? []).map((m) => metricValue(m)).join(' and ')} instead of ${(before.metrics ?? []).map((m) => metricFigure(m)).join(' and ')}`
    case 'metric':
      return `${(after.metrics ?? []).map((m) => metricValue(m)).join(' and ')} to go by instead of the host’s CPU`
    case 'reading':
      return `a reading every ${duration(after.intervalSeconds)} over the last ${duration(after.metrics?.[0]?.windowSeconds)} instead of every ${duration(before.intervalSeconds ?? 15)} over ${duration(before.metrics?.[0]?.windowSeconds ?? 60)}`
    case 'up':
      return 'no stabilisation and no speed limit upwards'
    case 'down':
      return `copies that are kept ${duration(after.down?.stabilisationSeconds)} longer than they are needed, instead of ${duration(before.down?.stabilisationSeconds ?? 300)}`
    case 'schedule': {
      const added = (after.schedule ?? []).slice(before.schedule?.length ?? 0)
      return added
        .map(
          (w) =>
            `at least ${copies(w.min)} ${w.days.length === 7 ? 'every day' : `on ${w.days.map((d) => DAYS[d - 1]).join(', ')}`} from ${w.from} to ${w.until}`,
        )
        .join(' and ')
    }
    case 'ahead':
      return `copies asked for ${duration(after.ahead?.leadSeconds)} ahead of what the plan expects, one for every ${threeDigits(after.ahead?.perReplica ?? 0)} requests a second`
    case 'wake':
      return `a wake call at ${after.wakeAt?.at(-1)} every day`
    case 'idle':
      return `asleep after ${bare(duration(after.idle?.seconds))} without a caller instead of ${bare(duration(before.idle?.seconds))}`
    case 'keep-awake':
      return `a call every ${bare(duration(after.keepAwakeSeconds))} that keeps it awake`
    case 'visitors':
      return visitorWords(after)
  }
}

function visitorWords({ wake }: ScalingPolicy): string {
  if (!wake) return 'nobody who wakes it before a call'
  const { leadSeconds, leadP95Seconds, neverShare = 0 } = wake
  const spread = leadP95Seconds === undefined ? '' : ` (95 of 100 within ${bare(duration(leadP95Seconds))})`
  const never = neverShare > 0 ? `, ${bare(percent(neverShare))} of visitors never call` : ''
  return `visitors who wake it ${bare(duration(leadSeconds))} before they call${spread}${never}`
}

const DAYS = ['Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays']

type Metric = NonNullable<ScalingPolicy['metrics']>[number]

function metricValue(m: Metric): string {
  return METRICS[m.metric].isShare ? `${metricFigure(m)} ${METRICS[m.metric].unit}` : `${metricFigure(m)} ${METRICS[m.metric].unit} each`
}

const metricFigure = (m: Metric) => (METRICS[m.metric].isShare ? percent(m.target) : bare(threeDigits(m.target)))
