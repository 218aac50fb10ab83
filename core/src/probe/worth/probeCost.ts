import { profileOf, type Candidate } from '../../candidate/candidate.ts'
import type { Plan } from '../../plan/schema.ts'
import { readyAt } from '../../run/readyAt.ts'
import { decodeStepSeconds, prefillStepSeconds, type TokenProfile } from '../../service/profile.ts'
import { square } from '../../arithmetic/sameBits.ts'
import { stageSeconds } from '../../life/startRules.ts'
import { startRulesOf } from '../../scaling/ofPlan.ts'
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
  const { clients, requestsEach, judgeSeconds } = FINDING_COSTS
  const took = clients.map((c) => ({ requests: c * requestsEach, seconds: requestsEach * secondsOfEach(profile, c) }))
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

/** A request among so many that come again at once: its prompt waits for those of the others, and its tokens share their steps. */
function secondsOfEach(profile: TokenProfile, clients: number): number {
  const together = Math.min(clients, profile.maxSequences)
  const { sizes } = FINDING_COSTS
  const one = sizes.reduce((sum, { input, output }) => {
    const step = decodeStepSeconds(profile, together, together * (input + output / 2)) / profile.tokensPerStep
    return sum + together * prefillStepSeconds(profile, input, square(input)) + output * step
  }, 0)
  return (one / sizes.length) * (clients / together)
}

function startSeconds(plan: Plan, { service, model, variant, machine }: Candidate): number {
  if (!service.start) return readyAt({ horizon: { ...plan.horizon, begin: 'nothing' } }, service)
  const stages = stageSeconds(startRulesOf(service, model, variant, machine), true)
  return stages.machine + stages.image + stages.weights + stages.load + stages.warmup
}

const moneyFor = ({ machine, group }: Candidate, seconds: number): number | null =>
  machine.pricePerHour === undefined ? null : (machine.pricePerHour * group.machines * seconds) / 3600
