import { readyTogether, type ClassRules, type OfferLimit, type ServiceRules } from '../engine/rules.ts'
import type { LivingFleet } from '../life/livingFleet.ts'
import type { Plan, RequestClass, Service, Sold } from '../plan/schema.ts'
import type { Profile } from '../service/profile.ts'
import { readyAt } from './readyAt.ts'

/**
 * The engine's rules for a service with a profile and a number of replicas.
 *
 * @param repetition which independent draw of the load: what is drawn while the run goes is drawn anew with it
 * @param fleet for this run only, when replicas come and go
 * @param sold what it is run on, where that is sold by tokens
 */
export function rulesFor(
  plan: Plan,
  service: Service,
  profile: Profile,
  replicas: number,
  repetition: number,
  fleet?: LivingFleet,
  sold?: Sold,
): ServiceRules {
  return {
    profile,
    routing: fleet?.onCall ? 'shared-queue' : service.routing, // a call goes to an instance that has room, or brings one
    queueLimit: service.limits?.queue ?? Infinity,
    seed: plan.seed + repetition,
    classes: plan.classes.map(classRules),
    ...(sold?.limits && { offerLimits: offerLimits(sold.limits) }),
    readyAtSeconds: readyTogether(replicas, readyAt(plan, service)),
    horizonSeconds: plan.horizon.seconds,
    ...(fleet && { life: () => fleet }),
  }
}

/** A minute's worth of each, refilled steadily. */
function offerLimits(limits: NonNullable<Sold['limits']>): OfferLimit[] {
  const { requestsPerMinute, tokensPerMinute, inputTokensPerMinute, outputTokensPerMinute } = limits
  const stated: [OfferLimit['unit'], number | undefined][] = [
    ['requests', requestsPerMinute],
    ['tokens', tokensPerMinute],
    ['input', inputTokensPerMinute],
    ['output', outputTokensPerMinute],
  ]
  return stated.flatMap(([unit, burst]) => (burst === undefined ? [] : [{ unit, burst, perSecond: burst / 60 }]))
}

const DEFAULT_GROWTH = 2

function classRules({ priority = 0, patienceSeconds = Infinity, cachedShare = 0, retries, rateLimit }: RequestClass): ClassRules {
  return {
    priority,
    patienceSeconds,
    cachedShare,
    ...(retries && { retries: { ...retries, growth: retries.growth ?? DEFAULT_GROWTH, jitter: retries.jitter ?? 0 } }),
    ...(rateLimit && { rateLimit }),
  }
}
