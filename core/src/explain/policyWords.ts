import type { Candidate } from '../candidate/candidate.ts'
import type { Service } from '../plan/schema.ts'
import { scalingRulesOf, startRulesOf } from '../scaling/ofPlan.ts'
import { neededTimeout, neverReady, type StartRules } from '../life/startRules.ts'
import { duration } from '../units/duration.ts'
import { percent } from '../units/number.ts'
import { LIMIT_WORDS } from './limitWords.ts'

/** What one should know of a policy and of its start-up before one believes in them; empty when there is nothing. */
export function policyRemarks(service: Service, candidate: Candidate): string[] {
  const { policy, sequences, model, variant, machine, maxGroups, group } = candidate
  const rules = policy ? scalingRulesOf(policy) : undefined
  const blind = (rules?.metrics ?? []).flatMap((m) => {
    if (m.metric !== 'host-cpu') return []
    const full = Math.min(1, m.baseShare + m.sharePerRequest * sequences)
    return full < m.target
      ? [
          `The policy reads the host’s CPU, which shows ${percent(full)} when all ${sequences} places of a replica are taken; its target is ${percent(m.target)}. It is blind to what is short, and never grows.`,
        ]
      : []
  })
  const tooLong = timeoutRemarks(startRulesOf(service, model, variant, machine))
  const beyond =
    policy && policy.max > maxGroups * group.replicas
      ? [
          `The policy may ask for ${policy.max} replicas; ${maxGroups * group.replicas} can be placed, by the ${LIMIT_WORDS[candidate.limitedBy].name}.`,
        ]
      : []
  return [...blind, ...tooLong, ...beyond]
}

/** A start-up that is not in time, with the time-out that would do; empty for one that is. */
export function timeoutRemarks(start: StartRules): string[] {
  const needed = neededTimeout(start)
  if (needed <= start.timeoutSeconds) return []
  const outcome = neverReady(start)
    ? 'it is begun anew each time, and no replica is ever ready'
    : 'the first one on each machine is begun anew, with the image that it left there'
  return [
    `A start-up takes ${duration(needed)} once its machine is there, longer than its time-out of ${duration(start.timeoutSeconds)}: ${outcome}. A time-out above ${duration(needed)} would do where one starts at a time.`,
  ]
}
