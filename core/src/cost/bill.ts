import type { RunRecord } from '../engine/record.ts'
import type { LifeRecord } from '../life/startRules.ts'
import { PURCHASES } from '../plan/ways.ts'
import { callsOf, callsPerHour } from './calls.ts'
import { coveredFrom } from './committedPlaces.ts'
import { tokensPaid } from './tokens.ts'
import { isByCall, isByTokens, isRented, safeGroups, type GroupPrices, type Purchase } from './purchase.ts'

/** What is bought, and at which prices: see `groupPrices`. */
export interface Bought {
  purchase: Purchase
  prices: GroupPrices
}

/** What one group of machines was paid for. */
export interface PaidGroup {
  from: number
  until: number
  /** until it is covered by a place that is committed to; from then on its time costs nothing beside that */
  perHour: number
  coveredFrom: number
  /** what the billing step and the minimum add, in seconds */
  roundingSeconds: number
}

/** The bill of one run, over its horizon, in the plan's currency. */
export interface Bill {
  groups: PaidGroup[]
  /** groups that are committed to, and what they cost, used or not */
  committedGroups: number
  committed: number
  storage: number
  transfer: number
  total: number
}

/** The least that one group costs an hour, however it is bought. */
export function leastOfGroup({ purchase, prices }: Bought): number {
  if (!isRented(purchase)) return 0
  const safe = safePerHour({ purchase, prices })
  const { safeShare } = PURCHASES[purchase.kind]
  return prices.storagePerHour + (safeShare === 1 ? safe : Math.min(prices.spotPerHour, safeShare === 0 ? Infinity : safe))
}

/**
 * What so many groups cost an hour when they are there all the time. Where some may be taken away it is the least that
 * they can cost: who is taken away is replaced at once, and billing steps and transfer come on top. Calls and
 * tokens are paid by the run alone.
 */
export function steadyPerHour({ purchase, prices }: Bought, groups: number): number {
  if (!isRented(purchase)) return 0
  const { spotPerHour, storagePerHour } = prices
  const safe = safePerHour({ purchase, prices })
  const safely = safeGroups(purchase, groups)
  return groups * storagePerHour + (safely > 0 ? safely * safe : 0) + (groups > safely ? (groups - safely) * spotPerHour : 0)
}

/** What a group that can not be taken away costs an hour, when it is there all the time. */
function safePerHour({ purchase: { kind }, prices: { onDemandPerHour, committedPerHour } }: Bought): number {
  return PURCHASES[kind].mayCommit ? Math.min(onDemandPerHour, committedPerHour) : onDemandPerHour
}

/** Groups of a fleet that is there all the time that are committed to: all, where that is cheaper. */
export function committedOfSteady({ purchase, prices }: Bought, groups: number): number {
  return purchase.kind === 'committed' && prices.committedPerHour < prices.onDemandPerHour ? groups : 0
}

/** The most groups that cost no more than an hour's amount when they are there all the time. */
export function groupsWithin(bought: Bought, perHour: number, most: number): number {
  let low = 0
  let high = Math.min(most, 1e6)
  while (low < high) {
    const middle = Math.ceil((low + high) / 2)
    if (steadyPerHour(bought, middle) <= perHour * (1 + 1e-12) + 1e-12) low = middle
    else high = middle - 1
  }
  return low
}

/** Whether machines of it may be committed to above what is used. */
export function isCommittable({ purchase: { kind }, prices }: Bought): boolean {
  return PURCHASES[kind].mayCommit && Number.isFinite(prices.committedPerHour)
}

/**
 * What a run costs that is paid by what happens in it, per hour: by its tokens, by its calls, or by its machines with 0, 1, 2 … groups
 * committed to (see `perHourByCommitted`).
 *
 * @param life null where nothing is rented
 */
export function runPerHours(bought: Bought, record: RunRecord, life: LifeRecord | null, horizonSeconds: number): number[] {
  const { calls, tokens } = bought.prices
  if (isByTokens(bought.purchase) && tokens) return [(tokensPaid(record, tokens) * 3600) / horizonSeconds]
  if (!life) throw new Error('machines that are paid by the run come and go')
  if (isByCall(bought.purchase) && calls) return [callsPerHour(callsOf(record, life, calls), calls, horizonSeconds)]
  return perHourByCommitted(bought, life, horizonSeconds)
}

/** What a run costs, per hour, with 0, 1, 2 … groups committed to; only 0 where none can be. */
export function perHourByCommitted(bought: Bought, life: LifeRecord, horizonSeconds: number): number[] {
  const most = isCommittable(bought) ? mostAtOnce(life.nodes.filter((n) => !n.spot)) : 0
  return Array.from({ length: most + 1 }, (_, committed) => (billOf(bought, life, horizonSeconds, committed).total * 3600) / horizonSeconds)
}

/**
 * The bill of a fleet that came and went, each group of machines from its order to its end, rounded up to the offer's
 * billing step and to its minimum; those that are still there at the end are paid to the end. Places that are committed to
 * cover machines on demand, see `coveredFrom`: the time of one that is covered later is paid on demand until then, and rounded.
 */
export function billOf({ prices }: Bought, life: LifeRecord, horizonSeconds: number, committedGroups = 0): Bill {
  const onDemand = life.nodes.flatMap((node, i) => (node.spot ? [] : [{ ...node, i, width: 1 }]))
  const covered = new Map(coveredFrom(onDemand, committedGroups).map((from, k) => [onDemand[k].i, from]))
  const groups = life.nodes.map(({ from, until, spot }, i): PaidGroup => {
    const since = covered.get(i) ?? Infinity
    const seconds = Math.min(until, since) - from
    return {
      from,
      until,
      coveredFrom: since,
      perHour: spot ? prices.spotPerHour : prices.onDemandPerHour,
      roundingSeconds: seconds === 0 ? 0 : billedSeconds(seconds, prices, until >= horizonSeconds && since >= until) - seconds,
    }
  })
  const paid = groups.reduce((sum, g) => sum + forSeconds(Math.min(g.until, g.coveredFrom) - g.from + g.roundingSeconds, g.perHour), 0)
  const committed = committedGroups === 0 ? 0 : (committedGroups * prices.committedPerHour * horizonSeconds) / 3600
  const disks = [...life.nodes, ...life.stopped].reduce((sum, { from, until }) => sum + until - from, 0)
  const storage = (disks * prices.storagePerHour) / 3600
  const transfer = life.fetched.reduce((sum, f) => sum + f.bytes, 0) * prices.transferPerByte
  return { groups, committedGroups, committed, storage, transfer, total: paid + committed + storage + transfer }
}

/** An offer without a price for it costs Infinity, for no time nothing. */
const forSeconds = (seconds: number, perHour: number) => (seconds === 0 ? 0 : (seconds * perHour) / 3600)

export function billedSeconds(
  seconds: number,
  { billingStepSeconds, billingMinimumSeconds }: Pick<GroupPrices, 'billingStepSeconds' | 'billingMinimumSeconds'>,
  goesOn: boolean,
): number {
  if (goesOn) return seconds
  return Math.max(billingMinimumSeconds, Math.ceil(seconds / billingStepSeconds - 1e-9) * billingStepSeconds)
}

/**
 * How many groups to commit to when the same number holds for all runs: the one whose mean cost is least, the smaller of
 * equals.
 */
export function bestCommitted(
  byCommitted: readonly (readonly number[])[],
  prices: GroupPrices,
): { committedGroups: number; perHour: number; perHourByDraw: number[] } {
  const most = byCommitted.reduce((n, costs) => Math.max(n, costs.length), 0)
  let best = { committedGroups: 0, perHour: Infinity, perHourByDraw: [] as number[] }
  for (let c = 0; c < most; c++) {
    const costs = byCommitted.map((of) => costWithCommitted(of, c, prices))
    const perHour = costs.reduce((sum, cost) => sum + cost, 0) / costs.length
    if (perHour < best.perHour - 1e-12) best = { committedGroups: c, perHour, perHourByDraw: costs }
  }
  return best
}

/** What a run costs with a number of groups committed to: a run that never has so many at once pays for the others all the same. */
export function costWithCommitted(byCommitted: readonly number[], groups: number, { committedPerHour }: GroupPrices): number {
  return byCommitted[groups] ?? byCommitted[byCommitted.length - 1] + (groups - byCommitted.length + 1) * committedPerHour
}

/** The most of some stays at one time. */
export function mostAtOnce(stays: readonly { from: number; until: number }[]): number {
  const changes = stays.flatMap(
    ({ from, until }) =>
      [
        [from, 1],
        [until, -1],
      ] as const,
  )
  changes.sort((a, b) => a[0] - b[0] || a[1] - b[1])
  let there = 0
  return changes.reduce((most, [, change]) => Math.max(most, (there += change)), 0)
}
