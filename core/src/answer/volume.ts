import { isByCall, isRented } from '../cost/purchase.ts'
import { exp, ln } from '../arithmetic/sameBits.ts'
import { callsOf, callsPerHour } from '../cost/calls.ts'
import { HOURS_PER_MONTH } from '../cost/money.ts'
import { stageSeconds } from '../life/startRules.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { startRulesOf } from '../scaling/ofPlan.ts'
import type { RunSpec } from '../run/spec.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { costPerHour, fleetOf, type Candidate } from '../candidate/candidate.ts'
import type { Load } from '../search/load.ts'
import { wholeRun, type WholeRun } from '../run/wholeRun.ts'
import { optionName, type OptionName } from '../candidate/optionName.ts'

/** Costs of one multiple of the load, a month. */
export interface VolumePoint {
  multiple: number
  callsPerMonth: number
  /** by draw of the load; null where the machines that are there all the time do not hold */
  alwaysOn: (number | null)[]
  called: number[]
  /** of calls: if none, or every one, found an instance that had to start; of the first draw; null of tokens, which find none */
  bounds: { warm: number; cold: number } | null
  /** whether what is paid one by one keeps every promise, on the first draw */
  calledHolds: boolean
}

/** Machines that are there against calls or tokens that are paid one by one, over the volume. */
export interface VolumeReport {
  alwaysOn: OptionName
  called: OptionName
  /** what a cold call waits for, from the image on or from a machine that has to come; 0 of tokens */
  startSeconds: number
  /**
   * the first volume at which machines cost no more, as a multiple of the load: over all draws the mean, and from and to; null where the
   * curves do not cross. Where one more of them is needed above it they may cost more again: see the points
   */
  breakEven: { multiple: number; low: number; high: number; callsPerMonth: number } | null
  points: VolumePoint[]
  of: number
}

const MULTIPLES = [0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 4]

/**
 * Simulates both at each of several volumes, over all draws of the load. Of the offers that sell calls or tokens the one is taken that
 * costs least at the plan's own volume, those first that keep every promise. Yields after each volume; nothing where no offer of one of
 * the two kinds is searched and fits.
 *
 * @param others the next best: where calls or tokens are chosen, the first of them that is rented is laid beside
 * @param loadOf requests of a plan
 */
export function* volumeCurves(
  plan: Plan,
  spec: RunSpec,
  others: readonly RunSpec[],
  load: Load,
  loadOf: (plan: Plan) => Load,
): Generator<VolumeReport, VolumeReport | undefined> {
  const { service } = spec
  const rented = [spec, ...others].find(({ candidate }) => isRented(candidate.purchase))
  const called = rented === spec ? cheapestCalled(plan, service, load) : spec
  if (!called || !rented) return undefined
  const draws = Array.from({ length: load.repetitions(service) }, (_, r) => (r === 0 ? load : loadOf({ ...plan, seed: plan.seed + r })))
  const { model, variant, machine } = called.candidate
  const start = stageSeconds(startRulesOf(service, model, variant, machine), true)
  const fromNothing = isByCall(called.candidate.purchase) ? start.machine + start.image + start.weights + start.load + start.warmup : 0
  const report: VolumeReport = {
    alwaysOn: optionName(rented.candidate),
    called: optionName(called.candidate),
    startSeconds: fromNothing,
    breakEven: null,
    points: [],
    of: MULTIPLES.length,
  }
  /** more load never needs fewer */
  const held: { multiple: number; draw: number; groups: number }[] = []
  const pointAt = (multiple: number): VolumePoint => {
    const runs = draws.map((d) => wholeRun(plan, called, d.multiplied(service, multiple)))
    const alwaysOn = draws.map((d, r) => {
      const found = leastThatHolds(
        plan,
        rented,
        d,
        multiple,
        Math.max(1, ...held.filter((h) => h.multiple <= multiple && h.draw === r).map((h) => h.groups)),
      )
      if (found) held.push({ multiple, draw: r, groups: found.groups })
      return found ? found.perHour * HOURS_PER_MONTH : null
    })
    return {
      multiple,
      alwaysOn,
      called: runs.map((r) => r.perHour * HOURS_PER_MONTH),
      calledHolds: runs[0].holds,
      callsPerMonth: (runs[0].record.requests.count * HOURS_PER_MONTH * 3600) / plan.horizon.seconds,
      bounds: boundsOfCalls(plan, called.candidate, runs[0], report.startSeconds - start.machine),
    }
  }
  for (const multiple of MULTIPLES) {
    report.points = [...report.points, pointAt(multiple)]
    report.breakEven = breakEven(report.points)
    yield { ...report }
  }
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const hidden = hiddenCrossings(report.points, rented.candidate).filter((m) => m <= (report.breakEven?.high ?? Infinity))
    report.of += hidden.length
    for (const multiple of hidden) {
      report.points = [...report.points, pointAt(multiple)].sort((a, b) => a.multiple - b.multiple)
      report.breakEven = breakEven(report.points)
      yield { ...report }
    }
  }
  return report
}

/** How often a crossing is looked for more closely; what calls cost is not quite in proportion to the volume. */
const MOST_ROUNDS = 3
/** Volumes closer than this are one. */
const CLOSE = 1.004
/** A volume just above which calls cost what a number of machines does. */
const BEYOND = 1.001
/** Numbers of machines whose cost is looked for among the volumes in one round; the first crossing is what is told. */
const MOST_HIDDEN = 6

/**
 * Volumes between two that were tried at which the curves may cross unseen. Machines come one at a time, so that their curve is a
 * staircase: they cost no more than calls from where calls cost as much as so many of them, if so many are enough there.
 */
function hiddenCrossings(points: readonly VolumePoint[], candidate: Candidate): number[] {
  if (candidate.elastic) return []
  const draws = points[0]?.called.length ?? 0
  const out = Array.from({ length: draws }, (_, draw) =>
    points.slice(1).flatMap((b, i) => {
      const a = points[i]
      if (b.multiple < a.multiple * CLOSE) return []
      return levelsBetween(candidate, a.alwaysOn[draw], b.alwaysOn[draw])
        .filter((level) => a.called[draw] < level && b.called[draw] > level)
        .map((level) => a.multiple + ((b.multiple - a.multiple) * (level - a.called[draw])) / (b.called[draw] - a.called[draw]))
        .map((multiple) => Math.min(multiple * BEYOND, b.multiple))
    }),
  )
  const known = new Set(points.map((p) => p.multiple))
  const found = out.flatMap((multiples) => multiples.slice(0, MOST_HIDDEN))
  return [...new Set(found)].filter((m) => !known.has(m)).sort((a, b) => a - b)
}

/** What a month of every number of machines costs from what is enough at one volume to what is enough at the next, or any after it. */
function levelsBetween(candidate: Candidate, from: number | null, until: number | null): number[] {
  if (from === null) return []
  const most = Math.min(MOST_STEADY, candidate.maxGroups)
  const costs = Array.from({ length: most }, (_, n) => costPerHour(candidate, n + 1) * HOURS_PER_MONTH)
  return costs.filter((cost) => cost >= from * (1 - 1e-12) && cost <= (until ?? Infinity) * (1 + 1e-12))
}

function cheapestCalled(plan: Plan, service: Service, load: Load): RunSpec | undefined {
  const offers = enumerate(plan, service).filter((c) => !isRented(c.purchase) && c.fit.fits && c.maxGroups > 0)
  const tried = offers.map((candidate) => {
    const spec: RunSpec = { service: candidate.service, candidate, groups: candidate.maxGroups }
    const run = wholeRun(plan, spec, load.of(service, 0))
    return { spec, perHour: run.perHour, keeps: run.holds }
  })
  return tried.sort((a, b) => Number(b.keeps) - Number(a.keeps) || a.perHour - b.perHour)[0]?.spec
}

/**
 * The fewest groups, from a number on, with which a multiple of the load is served as promised; a fleet that follows it has all of its
 * own.
 */
function leastThatHolds(
  plan: Plan,
  spec: RunSpec,
  load: Load,
  multiple: number,
  from: number,
): { groups: number; perHour: number } | undefined {
  const { candidate, service } = spec
  const requests = load.multiplied(service, multiple)
  for (let groups = candidate.elastic ? candidate.maxGroups : from; groups <= candidate.maxGroups; groups++) {
    const run = wholeRun(plan, { ...spec, groups }, requests)
    if (run.holds) return { groups, perHour: run.perHour }
    if (fleetOf(candidate, groups).replicas > MOST_STEADY) return undefined
  }
  return undefined
}

/** Fleets beyond this are not tried one machine after the other. */
const MOST_STEADY = 64

function boundsOfCalls(plan: Plan, { prices }: Candidate, { record, life }: WholeRun, startSeconds: number): VolumePoint['bounds'] {
  if (!prices.calls || !life) return null
  const { calls } = prices
  const counted = callsOf(record, life, calls)
  const month = (startTotal: number) =>
    callsPerHour({ ...counted, startSeconds: startTotal }, calls, plan.horizon.seconds) * HOURS_PER_MONTH
  return { warm: month(0), cold: month(counted.calls * startSeconds) }
}

/** Where the curves cross first, on a line between two volumes that were simulated; the draws give the interval. */
function breakEven(points: readonly VolumePoint[]): VolumeReport['breakEven'] {
  const crossings = (points[0]?.called ?? []).map((_, draw) => crossing(points, draw))
  const found = crossings.filter((m) => m !== undefined)
  if (found.length < crossings.length || found.length === 0) return null
  const multiple = exp(found.reduce((sum, m) => sum + ln(m), 0) / found.length)
  const perMultiple = points[points.length - 1].callsPerMonth / points[points.length - 1].multiple
  return { multiple, low: Math.min(...found), high: Math.max(...found), callsPerMonth: multiple * perMultiple }
}

function crossing(points: readonly VolumePoint[], draw: number): number | undefined {
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1], points[i]].map((p) => ({
      at: p.multiple,
      more: p.alwaysOn[draw] === null ? NaN : p.called[draw] - (p.alwaysOn[draw] ?? NaN),
    }))
    if (a.more < 0 && b.more >= 0) return a.at + ((b.at - a.at) * -a.more) / (b.more - a.more)
  }
  return undefined
}
