import { HOURS_PER_MONTH } from '../cost/money.ts'
import { ON_DEMAND, isOffered } from '../cost/purchase.ts'
import { alterationWords } from '../explain/alterationWords.ts'
import { aWeek, callersMet, coldCallers, type CallersMet } from '../measure/callersMet.ts'
import type { Plan, ScalingPolicy } from '../plan/schema.ts'
import { altered } from '../run/alteration.ts'
import type { Alteration } from '../run/alteredService.ts'
import { coldTimeOf } from '../run/coldTimeOf.ts'
import type { RunSpec } from '../run/spec.ts'
import { wholeRun } from '../run/wholeRun.ts'
import { scalingContextOf } from '../scaling/ofPlan.ts'
import { DAY_SECONDS, WEEK_SECONDS } from '../scaling/rules.ts'
import { changesAlone, fixedLadder } from '../search/ladders.ts'
import type { Load } from '../search/load.ts'
import { clockText } from '../units/clockTime.ts'

/** What one way of sparing cold callers comes to, on the first draw of the load. */
export interface SparingWay {
  /** null for the run as it is */
  alteration: Alteration | null
  /** in words that go on after "with"; "nothing changed" for the run as it is */
  words: string
  /** who waits for a start-up, gives up on the way or is turned away asleep, a week */
  coldAWeek: number
  /** the longest that one of them waits, seconds */
  longestSeconds: number
  perMonth: number
  /** what each caller that it spares costs; null where it spares none, or saves money as well */
  perSpared: number | null
  /** every promise of the plan is kept, with its margin */
  holds: boolean
  /** nothing that was tried has no more cold callers for less */
  onFrontier: boolean
}

export interface SparingReport {
  settled: number
  of: number
  /** the run as it is first, then by cold callers, the fewest last */
  ways: SparingWay[]
}

/** An idle time is tried so many times as long. */
const IDLE_TIMES = [2, 4, 12]
/** Daily windows that hold so much of the cold callers. */
const WINDOW_SHARES = [0.5, 0.9]
const IMAGE_SHARE = 0.5
/** Visitors who open a page before they call: assumed, and said so in the words. */
const VISITORS = { leadSeconds: 30, leadP95Seconds: 120, neverShare: 0.5 }
/** Fixed numbers that are tried beyond what there is. */
const MORE_FIXED = 2

/** Simulates every way of sparing cold callers that a run has, each by itself, on the requests of the first draw. Yields after each. */
export function* sparing(plan: Plan, spec: RunSpec, load: Load): Generator<SparingReport, SparingReport> {
  const tried = (at: RunSpec, alteration: Alteration | null): SparingWay & { met: CallersMet } => {
    const whole = wholeRun(plan, at, load.of(at.service, 0))
    const met = callersMet(plan, whole.record, coldTimeOf(plan, at, whole), -1, at.service.name)
    return {
      alteration,
      words: alteration ? alterationWords(spec, at, alteration) : 'nothing changed',
      coldAWeek: aWeek(coldCallers(met), plan.horizon),
      longestSeconds: Math.max(0, ...met.cold.map((c) => c.longestSeconds)),
      perMonth: whole.perHour * HOURS_PER_MONTH,
      perSpared: null,
      holds: whole.holds,
      onFrontier: false,
      met,
    }
  }
  const { met, ...base } = tried(spec, null)
  const alterations = coldCallers(met) === 0 ? [] : waysOf(plan, spec, met)
  const report: SparingReport = { settled: 0, of: alterations.length, ways: [{ ...base, onFrontier: true }] }
  yield { ...report }
  for (const alteration of alterations) {
    const at = altered(plan, spec, alteration)
    if (at) {
      const { met: _, ...way } = tried(at, alteration)
      report.ways = told(base, [...report.ways.slice(1), way])
    }
    report.settled++
    yield { ...report }
  }
  return report
}

const WEEKS_PER_MONTH = (HOURS_PER_MONTH * 3600) / WEEK_SECONDS

/** With prices, the frontier, and in order. */
function told(base: SparingWay, ways: readonly SparingWay[]): SparingWay[] {
  const all = [base, ...ways]
  const beaten = (w: SparingWay) =>
    all.some(
      (o) => o !== w && o.coldAWeek <= w.coldAWeek && o.perMonth <= w.perMonth && (o.coldAWeek < w.coldAWeek || o.perMonth < w.perMonth),
    )
  const [first, ...rest] = all.map((w): SparingWay => {
    const spared = (base.coldAWeek - w.coldAWeek) * WEEKS_PER_MONTH
    const more = w.perMonth - base.perMonth
    return { ...w, perSpared: spared > 0 && more > 0 ? more / spared : null, onFrontier: !beaten(w) }
  })
  return [first, ...rest.sort((a, b) => b.coldAWeek - a.coldAWeek || a.perMonth - b.perMonth)]
}

function waysOf(plan: Plan, spec: RunSpec, met: CallersMet): Alteration[] {
  const { service, candidate } = spec
  const { policy, machine, purchase } = candidate
  const { start, nodes } = service
  return [
    ...(policy ? policyWays(plan, spec, policy, met) : fixedLadder(spec).slice(0, MORE_FIXED)),
    ...(purchase.safeShare < 1 && isOffered('on-demand', machine) ? [{ kind: 'purchase', purchase: ON_DEMAND } as const] : []),
    ...(start && nodes?.whenIdle !== 'stop' && candidate.paysByRun
      ? [
          { kind: 'stop', weights: start.weights.from } as const,
          ...(start.weights.from === 'store' ? [{ kind: 'stop', weights: 'node' } as const] : []),
        ]
      : []),
    ...(start && start.weights.from !== 'image' ? [{ kind: 'weights', from: 'image' } as const] : []),
    ...(start && start.imageBytes > 0 ? [{ kind: 'image', bytes: Math.round(start.imageBytes * IMAGE_SHARE) } as const] : []),
  ]
}

function policyWays(plan: Plan, spec: RunSpec, policy: ScalingPolicy, met: CallersMet): Alteration[] {
  const { service } = spec
  const { idle, ...awake } = policy
  const change = (part: Extract<Alteration, { kind: 'policy' }>['part'], next: ScalingPolicy): Alteration => ({
    kind: 'policy',
    part,
    policy: next,
  })
  return [
    ...(policy.min >= policy.max
      ? []
      : changesAlone(awake)
        ? [change('min', { ...awake, min: policy.min + 1 })]
        : fixedLadder(spec).slice(0, 1)),
    ...(idle ? IDLE_TIMES.map((times) => change('idle', { ...policy, idle: { ...idle, seconds: idle.seconds * times } })) : []),
    ...(idle && policy.keepAwakeSeconds === undefined
      ? [change('keep-awake', { ...policy, keepAwakeSeconds: Math.max(1, Math.floor(idle.seconds * 0.9)) })]
      : []),
    ...(idle && !policy.wake ? [change('visitors', { ...policy, wake: VISITORS })] : []),
    ...windowsOf(plan, service, met).map((w) =>
      change('schedule', { ...policy, schedule: [...(policy.schedule ?? []), { ...w, min: policy.min + 1 }] }),
    ),
  ]
}

/** Hours of every day, as few as hold so much of the cold callers. */
function windowsOf(plan: Plan, service: RunSpec['service'], { overTime: { pieceSeconds, foundCold } }: CallersMet) {
  const { weekStartSeconds } = scalingContextOf(plan, service)
  const byHour = new Array<number>(24).fill(0)
  foundCold.forEach((n, i) => {
    const hour = Math.floor((((weekStartSeconds + i * pieceSeconds) % DAY_SECONDS) + DAY_SECONDS) % DAY_SECONDS) / 3600
    byHour[Math.floor(hour)] += n
  })
  const all = byHour.reduce((a, b) => a + b, 0)
  const seen = new Set<string>()
  return WINDOW_SHARES.flatMap((share) => {
    for (let hours = 1; hours < 24; hours++)
      for (let from = 0; from + hours <= 24; from++) {
        if (byHour.slice(from, from + hours).reduce((a, b) => a + b, 0) < share * all) continue
        const window = {
          days: [1, 2, 3, 4, 5, 6, 7],
          from: clockText(from * 3600),
          until: hours + from === 24 ? '24:00' : clockText((from + hours) * 3600),
        }
        if (seen.has(window.from + window.until)) return []
        seen.add(window.from + window.until)
        return [window]
      }
    return []
  })
}
