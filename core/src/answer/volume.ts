import { isByCall, isRented } from '../cost/purchase.ts'
import { exp, ln } from '../arithmetic/sameBits.ts'
import { callsOf, callsPerHour } from '../cost/calls.ts'
import { HOURS_PER_MONTH } from '../cost/money.ts'
import { stageSeconds } from '../life/startRules.ts'
import type { Plan, Service } from '../plan/schema.ts'
import { startRulesOf } from '../scaling/ofPlan.ts'
import type { RunSpec } from '../run/spec.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { fleetOf, type Candidate } from '../candidate/candidate.ts'
import type { Load } from '../search/load.ts'
import { wholeRun, type WholeRun } from '../run/wholeRun.ts'
import { optionName, type OptionName } from './optionName.ts'

/** Costs of one multiple of the load, a month. */
export interface VolumePoint {
  multiple: number
  callsPerMonth: number
  /** by draw of the load; null where the machines that are there all the time do not hold */
  alwaysOn: (number | null)[]
  called: number[]
  /** if no call, or every call, found an instance that had to start; of the first draw */
  warm: number
  cold: number
  /** whether the calls keep every promise, on the first draw */
  calledHolds: boolean
}

/** Machines that are there against calls that are paid one by one, over the volume. */
export interface VolumeReport {
  alwaysOn: OptionName
  called: OptionName
  /** what a cold call waits for, from the image on or from a machine that has to come */
  startSeconds: number
  /**
   * the volume from which on machines cost less, as a multiple of the load: over all draws the mean, and from and to; null where the
   * curves do not cross
   */
  breakEven: { multiple: number; low: number; high: number; callsPerMonth: number } | null
  points: VolumePoint[]
  of: number
}

const MULTIPLES = [0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 4]

/**
 * Simulates both at each of several volumes, over all draws of the load. Of the offers that sell calls the one is taken that
 * costs least at the plan's own volume, those first that keep every promise. Yields after each volume; nothing where no offer
 * that sells calls is searched and fits.
 *
 * @param loadOf requests of a plan
 */
export function* volumeCurves(
  plan: Plan,
  spec: RunSpec,
  load: Load,
  loadOf: (plan: Plan) => Load,
): Generator<VolumeReport, VolumeReport | undefined> {
  const { service } = spec
  const offers = enumerate(plan, service).filter((c) => isByCall(c.purchase) && c.fit.fits && c.maxGroups > 0)
  const steady = isRented(spec.candidate.purchase) ? spec : undefined
  const called = cheapestCalled(plan, service, offers, load)
  if (!called || !steady) return undefined
  const draws = Array.from({ length: load.repetitions(service) }, (_, r) => (r === 0 ? load : loadOf({ ...plan, seed: plan.seed + r })))
  const { model, variant, machine } = called.candidate
  const start = stageSeconds(startRulesOf(service, model, variant, machine), true)
  const report: VolumeReport = {
    alwaysOn: optionName(spec.candidate),
    called: optionName(called.candidate),
    startSeconds: start.machine + start.image + start.weights + start.load + start.warmup,
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
        spec,
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
      ...bounds(plan, called.candidate, runs[0], report.startSeconds - start.machine),
    }
  }
  for (const multiple of MULTIPLES) {
    report.points = [...report.points, pointAt(multiple)]
    report.breakEven = breakEven(report.points)
    yield { ...report }
  }
  const hidden = report.breakEven ? [] : hiddenCrossings(report.points)
  report.of += hidden.length
  for (const multiple of hidden) {
    report.points = [...report.points, pointAt(multiple)].sort((a, b) => a.multiple - b.multiple)
    report.breakEven = breakEven(report.points)
    yield { ...report }
  }
  return report
}

/** A volume just above which calls cost what the machines of the next smaller volume do. */
const BEYOND = 1.001

/**
 * Volumes between two that were tried at which the curves may cross unseen: machines come one at a time, so that calls may
 * cost more than those that are there and yet less than the next one more.
 */
function hiddenCrossings(points: readonly VolumePoint[]): number[] {
  const draws = points[0]?.called.length ?? 0
  const out = Array.from({ length: draws }, (_, draw) => {
    for (let i = 1; i < points.length; i++) {
      const [a, b] = [points[i - 1], points[i]]
      const cost = a.alwaysOn[draw]
      if (cost === null || a.called[draw] >= cost || b.called[draw] <= cost) continue
      const share = (cost - a.called[draw]) / (b.called[draw] - a.called[draw])
      return exp(ln(a.multiple) + share * (ln(b.multiple) - ln(a.multiple))) * BEYOND
    }
    return undefined
  })
  return [...new Set(out.filter((m) => m !== undefined))].sort((a, b) => a - b)
}

function cheapestCalled(plan: Plan, service: Service, offers: readonly Candidate[], load: Load): RunSpec | undefined {
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

function bounds(
  plan: Plan,
  candidate: Candidate,
  { record, life }: WholeRun,
  startSeconds: number,
): Pick<VolumePoint, 'warm' | 'cold' | 'callsPerMonth'> {
  const { calls: prices } = candidate.prices
  const { seconds } = plan.horizon
  if (!prices || !life) return { warm: 0, cold: 0, callsPerMonth: 0 }
  const counted = callsOf(record, life, prices)
  const month = (startTotal: number) => callsPerHour({ ...counted, startSeconds: startTotal }, prices, seconds) * HOURS_PER_MONTH
  return {
    warm: month(0),
    cold: month(counted.calls * startSeconds),
    callsPerMonth: (record.requests.count * HOURS_PER_MONTH * 3600) / seconds,
  }
}

/** Where the curves cross, on a scale of equal ratios between two volumes that were simulated; the draws give the interval. */
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
      at: ln(p.multiple),
      more: p.alwaysOn[draw] === null ? NaN : p.called[draw] - (p.alwaysOn[draw] ?? NaN),
    }))
    if (a.more < 0 && b.more >= 0) return exp(a.at + ((b.at - a.at) * -a.more) / (b.more - a.more))
  }
  return undefined
}
