import { fleetOf, profileOf, type Candidate, type LimitedBy } from '../candidate/candidate.ts'
import { LIMIT_WORDS } from '../explain/limitWords.ts'
import type { Plan } from '../plan/schema.ts'
import { sustainedRequestsPerSecond } from '../service/sustained.ts'
import type { Profile } from '../service/profile.ts'
import { steadyPerHour } from '../cost/bill.ts'
import { callsPerHour } from '../cost/calls.ts'
import { largestOfTokens, type LargestOfTokens } from './largestOfTokens.ts'
import { HOURS_PER_MONTH } from '../cost/money.ts'
import { isByCall, isByTokens } from '../cost/purchase.ts'
import { grouped, threeDigits } from '../units/number.ts'
import { price } from '../units/price.ts'

/** The largest bill that is possible in a month, whoever calls. In the plan's currency. */
export interface LargestBill {
  perMonth: number
  /** machines that are paid then; of calls instances */
  machines: number
  replicas: number
  /** what keeps it from being more */
  carriedBy: LimitedBy | 'fixed number' | LargestOfTokens['carriedBy']
  /** calls of that month where they are paid one by one; null elsewhere */
  calls: number | null
  /** tokens of that month where they are paid; null elsewhere */
  tokens: number | null
  /** starts fetch bytes that are paid as well, each time */
  fetches: boolean
  /** machines are lost or taken away: for minutes one that goes and its successor are both paid */
  overlaps: boolean
}

const MONTH_SECONDS = HOURS_PER_MONTH * 3600

/**
 * What a month costs at the most: a fixed number is paid whatever happens; of a policy all that it may have, all month; of calls every
 * instance that can be had, busy all month with the shortest request there is, or as many calls as the rate limits of all its classes
 * let through, if that is less; of tokens see `largestOfTokens`.
 */
export function largestBill(plan: Plan, candidate: Candidate, groups: number): LargestBill {
  const { policy, purchase, prices, limitedBy, maxGroups } = candidate
  const fetches = prices.transferPerByte > 0 && candidate.paysByRun
  const overlaps = purchase.safeShare < 1 || candidate.service.losses !== undefined
  if (isByTokens(purchase)) return largestByTokens(plan, candidate)
  if (!isByCall(purchase)) {
    const most = policy ? maxGroups : groups
    return {
      perMonth: dearestPerHour(candidate, most) * HOURS_PER_MONTH,
      ...fleetOf(candidate, most),
      carriedBy: policy ? limitedBy : 'fixed number',
      calls: null,
      tokens: null,
      fetches,
      overlaps,
    }
  }
  const most = fleetOf(candidate, maxGroups)
  const allowed = allowedPerSecond(plan, candidate.service.name)
  const borne = most.replicas * shortestPerSecond(profileOf(candidate), candidate.sequences)
  const perSecond = Math.min(allowed, borne)
  const calls = perSecond * MONTH_SECONDS
  const { calls: callPrices } = prices
  if (!callPrices) throw new Error('what is paid by the call has a price for calls')
  const used = { calls, busySeconds: most.replicas * MONTH_SECONDS, startSeconds: 0 }
  return {
    perMonth: callsPerHour(used, callPrices, MONTH_SECONDS) * HOURS_PER_MONTH,
    ...most,
    carriedBy: allowed < borne ? 'rate limits' : limitedBy,
    calls,
    tokens: null,
    fetches,
    overlaps: false,
  }
}

function largestByTokens(plan: Plan, candidate: Candidate): LargestBill {
  const profile = profileOf(candidate)
  const { machine, prices, service } = candidate
  if (!machine.sold || !prices.tokens || profile.kind !== 'sold') throw new Error('what is paid by tokens is sold by tokens')
  const most = largestOfTokens(machine.sold, profile, prices.tokens, allowedPerSecond(plan, service.name))
  const minutes = MONTH_SECONDS / 60
  return {
    perMonth: most.perMinute * minutes,
    machines: 0,
    replicas: 0,
    carriedBy: most.carriedBy,
    calls: null,
    tokens: most.tokensPerMinute * minutes,
    fetches: false,
    overlaps: false,
  }
}

/** Where some are committed to and others come on demand, all of them at the dearer price. */
function dearestPerHour(candidate: Candidate, groups: number): number {
  const { purchase, prices, policy } = candidate
  const steady = steadyPerHour(candidate, groups)
  if (!policy || purchase.kind !== 'committed' || !Number.isFinite(prices.onDemandPerHour)) return steady
  return Math.max(steady, groups * (prices.onDemandPerHour + prices.storagePerHour))
}

/**
 * Requests a second that all rate limits of a service's classes let through; Infinity where one has none, or only one by caller:
 * strangers are more callers.
 */
function allowedPerSecond(plan: Plan, service: string): number {
  return plan.classes
    .filter((c) => c.service === service)
    .reduce((sum, { rateLimit }) => sum + (rateLimit?.unit === 'requests' && !rateLimit.callers ? rateLimit.perSecond : Infinity), 0)
}

/** Of the shortest requests there are, one token in and out or one unit of work, as many a second as a full instance bears. */
function shortestPerSecond(profile: Profile, sequences: number): number {
  if (profile.kind === 'token') return sustainedRequestsPerSecond(profile, sequences, { input: 1, output: 1 })
  if (profile.kind === 'batch') return sequences / (profile.baseSeconds[sequences] + profile.secondsPerWorkUnit[sequences])
  if (profile.kind === 'sold') throw new Error('calls are not sold by tokens')
  return (sequences / (profile.baseSeconds + profile.secondsPerWorkUnit)) * (1 / (1 + profile.slowdown * (sequences - 1)))
}

const CARRIES: Record<Exclude<LargestBill['carriedBy'], LimitedBy>, string> = {
  'fixed number': 'the number of its machines is fixed',
  'rate limits': 'the rate limits of its classes carry it',
  'offer limits': 'what the offer lets a key ask for carries it, and no limit of your own',
  'side by side': 'the requests that the offer serves side by side carry it, and no limit of your own',
  nothing: 'nothing limits it',
}
const carries = (by: LargestBill['carriedBy']) =>
  by in CARRIES ? CARRIES[by as keyof typeof CARRIES] : LIMIT_WORDS[by as LimitedBy].carries

/**
 * The largest bill beside the expected one, a sentence each without a full stop.
 *
 * @param expectedPerMonth what it is expected to cost
 */
export function largestBillWords(bill: LargestBill, expectedPerMonth: number, currency: string): string[] {
  const { perMonth, carriedBy, fetches, overlaps } = bill
  if (carriedBy === 'nothing')
    return [
      'There is no most that it can cost: nothing limits what strangers who find the address may ask for. State the limits of the offer, or rate limits of its classes',
    ]
  const strangers = perMonth - expectedPerMonth
  const times = expectedPerMonth > 0 ? `, ${threeDigits(perMonth / expectedPerMonth)} times what is expected` : ''
  const beside = [
    ...(fetches ? ['what starts fetch'] : []),
    ...(overlaps ? ['the minutes in which a machine that goes and its successor are both paid'] : []),
  ]
  const besides = beside.length > 0 ? `; beside it come ${beside.join(' and ')}` : ''
  if (carriedBy === 'fixed number')
    return [
      `It can not cost more than ${price(perMonth, currency)} a month, whoever calls: ${carries(carriedBy)}. Strangers who find the address take places, not money${besides}`,
    ]
  return [
    `At the most it costs ${price(perMonth, currency)} a month${times} (${howWords(bill)}): ${carries(carriedBy)}`,
    `Strangers who find the address could cause ${price(Math.max(0, strangers), currency)} of it${besides}`,
  ]
}

function howWords({ calls, tokens, machines }: LargestBill): string {
  const many = (n: number) => grouped(Number(n.toPrecision(3)), 0)
  if (tokens !== null) return `${many(tokens)} tokens`
  return calls === null ? `${machines} machines all month` : `${many(calls)} of the shortest calls`
}
