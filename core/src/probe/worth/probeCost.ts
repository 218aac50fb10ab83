import { profileOf, type Candidate } from '../../candidate/candidate.ts'
import type { Plan } from '../../plan/schema.ts'
import { readyAt } from '../../run/readyAt.ts'
import { stageSeconds } from '../../life/startRules.ts'
import { startRulesOf } from '../../scaling/ofPlan.ts'
import { priceOfTime } from '../priceOfTime.ts'
import { secondsOfEach } from '../secondsOfEach.ts'
import { FINDING_COSTS } from '../shape.ts'

/** What a measurement takes, about. */
export interface ProbeCost {
  requests: number
  atOnce: number
  /** until the machine is there and ready, and then what is asked of it */
  seconds: number
  /** of the machines of one replica, on demand; null where they are not for rent so */
  money: number | null
}

/** Starts that are timed. */
export const TIMED_STARTS = 5

/** What it takes about to find step costs at a place with the usual load, on one replica; undefined where it asks for no tokens. */
export function costOfFinding(plan: Plan, candidate: Candidate): ProbeCost | undefined {
  if (candidate.purchase.kind === 'per-token') return undefined
  const profile = profileOf(candidate)
  if (profile.kind !== 'token') return undefined
  const { clients, requestsEach, judgeSeconds, sizes } = FINDING_COSTS
  const took = clients.map((c) => ({ requests: c * requestsEach, seconds: requestsEach * secondsOfEach(profile, c, sizes) }))
  const best = Math.max(...took.map((t) => t.requests / t.seconds))
  const judging = Math.round(JUDGED * best * judgeSeconds)
  const requests = took.reduce((sum, t) => sum + t.requests, judging)
  const seconds = took.reduce((sum, t) => sum + t.seconds, startSeconds(plan, candidate) + 2 * judgeSeconds)
  return { requests, atOnce: clients[clients.length - 1], seconds, money: moneyFor(candidate, seconds) }
}

/** What it takes to time a few starts. */
export function costOfStarts(plan: Plan, candidate: Candidate): ProbeCost {
  const seconds = TIMED_STARTS * startSeconds(plan, candidate)
  return { requests: 0, atOnce: 0, seconds, money: moneyFor(candidate, seconds) }
}

/** Of what the best step answers a second: a load that stays, and a spike. */
const JUDGED = 0.7 + 2 / 3

function startSeconds(plan: Plan, { service, model, variant, machine }: Candidate): number {
  if (!service.start) return readyAt({ horizon: { ...plan.horizon, begin: 'nothing' } }, service)
  const stages = stageSeconds(startRulesOf(service, model, variant, machine), true)
  return stages.machine + stages.image + stages.weights + stages.load + stages.warmup
}

const moneyFor = ({ machine, group }: Candidate, seconds: number): number | null =>
  machine.pricePerHour === undefined ? null : priceOfTime({ perHour: machine.pricePerHour * group.machines }, seconds)
