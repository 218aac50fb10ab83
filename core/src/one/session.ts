import { statedCandidate } from '../candidate/named.ts'
import { oneReplicaAt } from '../candidate/stated.ts'
import { billedSeconds } from '../cost/bill.ts'
import { HOURS_PER_MONTH } from '../cost/money.ts'
import { diskBytesOf } from '../cost/purchase.ts'
import { BadInput } from '../plan/problem.ts'
import type { Plan } from '../plan/schema.ts'
import type { OneAsked } from './asked.ts'
import { oneRequest } from './oneRequest.ts'
import { smallLoad, type SmallLoad, type SmallLoadSeen } from './smallLoad.ts'

const DAY_SECONDS = 86_400
const HOUR_SECONDS = 3600

/** Some use of one replica, by hand, and how it may be ended. */
export interface SessionAsked {
  /** each of its requests, and what the first finds */
  one: OneAsked
  /** in place of requests by hand */
  load?: SmallLoad
  /** requests by hand, one after the other, 1… */
  requests: number
  /** from the end of one to the next */
  pauseSeconds: number
  /** of the day, when it begins */
  beginsAtSeconds: number
  /** idle for so long, it is given back by itself */
  idleSeconds: number
  /** the hour of the day until which it may be left on */
  untilSeconds: number
}

/** What is asked where nothing is said: a dozen requests of an afternoon. */
export const USUAL_SESSION: Omit<SessionAsked, 'one'> = {
  requests: 12,
  pauseSeconds: 120,
  beginsAtSeconds: 14 * HOUR_SECONDS,
  idleSeconds: 1800,
  untilSeconds: 18 * HOUR_SECONDS,
}

/** A small load where nothing is said of it: two hours of somebody's trial. */
export const USUAL_LOAD: SmallLoad = { perHour: 60, seconds: 2 * HOUR_SECONDS }

/** How a session may end, from what costs least on. */
export const ENDINGS = {
  deleted: 'deleted at the end',
  stopped: 'stopped, its disk kept',
  idle: 'given back when it was idle',
  until: 'left on until the hour',
  never: 'never noticed',
} as const
export type Ending = keyof typeof ENDINGS

export interface Branch {
  ending: Ending
  /** what it costs after some time, from the start on: straight between these */
  course: { seconds: number; cost: number }[]
  /** what goes on being paid, a month of 730 hours; 0 for nothing */
  perMonth: number
  /** what is left over */
  left: string[]
}

export interface Session {
  asked: SessionAsked
  currency: string
  startUpSeconds: number
  /** from the order of the machine to the end of the last request */
  seconds: number
  cost: number
  perHour: number
  /** what came of its load; null for requests by hand */
  seen: SmallLoadSeen | null
  branches: Branch[]
  /** after the end, when what was forgotten costs more than the session did */
  forgettingSeconds: number
}

/** How far branches are followed. */
const FOLLOWED_SECONDS = 2 * DAY_SECONDS

/**
 * A session on one replica, and what each way of ending it costs.
 *
 * @throws BadInput where a request can not be laid out, or the machine has no price by the hour
 */
export function session(plan: Plan, asked: SessionAsked): Session {
  const { one, requests, pauseSeconds } = asked
  const first = oneRequest(plan, one)
  const next = oneRequest(plan, { ...one, finds: 'warm' })
  if (!first.money.byHour)
    throw new BadInput('This session can not be laid out.', [{ path: 'machine', found: one.machine, rule: 'has no price by the hour' }])
  const { perHour, transfer } = first.money.byHour
  const seen = asked.load ? smallLoad(plan, one, asked.load) : null
  const seconds = seen ? seen.untilSeconds : first.endSeconds + (requests - 1) * (pauseSeconds + next.endSeconds)
  const { prices, bytes } = placeOf(plan, one)
  /** What the machine costs when it is given back after so long, by the step that is billed. */
  const billed = (t: number) => (perHour / HOUR_SECONDS) * billedSeconds(t, prices, false) + transfer
  const kept: Record<Ending, { more: number; perMonth: number; left: string[] }> = {
    deleted: { more: 0, perMonth: 0, left: [] },
    stopped: { more: 0, perMonth: prices.storagePerHour * HOURS_PER_MONTH, left: [`a disk of ${(bytes / GIGABYTE).toPrecision(3)} GB`] },
    idle: { more: asked.idleSeconds, perMonth: 0, left: [] },
    until: { more: hoursUntil(asked, seconds), perMonth: 0, left: [] },
    never: { more: Infinity, perMonth: perHour * HOURS_PER_MONTH, left: ['the machine itself'] },
  }
  // What is there whatever becomes of the machine, and who ends the session forgets.
  const stays = (plan.fixedCosts ?? []).filter((f) => f.stays)
  const branches = (Object.keys(ENDINGS) as Ending[]).map((ending): Branch => {
    const { more, perMonth: own, left: things } = kept[ending]
    const perMonth = own + stays.reduce((sum, f) => sum + f.perMonth, 0)
    const left = [...things, ...stays.map((f) => f.name)]
    return { ending, perMonth, left, course: courseOf(seconds, billed, more, perMonth / HOURS_PER_MONTH / HOUR_SECONDS) }
  })
  const cost = billed(seconds)
  return {
    asked,
    currency: plan.currency,
    startUpSeconds: first.startUpSeconds,
    seconds,
    cost,
    perHour,
    seen,
    branches,
    forgettingSeconds: (cost * HOUR_SECONDS) / perHour,
  }
}

/**
 * What it costs over time: the machine until the end and as long as it is kept, by the step that is billed when it is given back, and then
 * what is left over.
 */
function courseOf(seconds: number, billed: (t: number) => number, more: number, afterwards: number): Branch['course'] {
  const [off, end] = [seconds + more, seconds + FOLLOWED_SECONDS]
  const at = (t: number) =>
    more === Infinity ? billed(seconds) + afterwards * (t - seconds) : billed(Math.min(t, off)) + afterwards * Math.max(0, t - off)
  return [
    { seconds: 0, cost: 0 },
    ...[seconds, ...(off > seconds && off < end ? [off] : []), end].map((t) => ({ seconds: t, cost: at(t) })),
  ]
}

/** From the end of the session until the hour of the day comes next. */
function hoursUntil({ beginsAtSeconds, untilSeconds }: SessionAsked, seconds: number): number {
  const ends = (beginsAtSeconds + seconds) % DAY_SECONDS
  return (untilSeconds - ends + DAY_SECONDS) % DAY_SECONDS
}

const GIGABYTE = 1e9

/** Prices of the place, and what its machine keeps on its disk. */
function placeOf(plan: Plan, asked: OneAsked) {
  const service = plan.services.find((s) => s.name === asked.service)
  const candidate = service && statedCandidate(plan, service, oneReplicaAt(service, asked))
  if (!candidate) throw new Error('a request was laid out there')
  return { prices: candidate.prices, bytes: diskBytesOf(service, candidate.model, candidate.variant) }
}
