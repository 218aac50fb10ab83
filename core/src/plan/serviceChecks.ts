import { duplicates, missing } from './nameChecks.ts'
import { shown, type Problem } from './problem.ts'
import { profileKind } from './profileKind.ts'
import { offersOf } from './offers.ts'
import type { Model, Plan, ProfileSpec, ScalingPolicy, Service } from './schema.ts'
import { METRICS } from './ways.ts'

export function serviceProblems(plan: Plan, service: Service, path: string): Problem[] {
  const problems: Problem[] = []
  const offers = offersOf(plan)
  const { configuration, search } = service
  if (!configuration && !search) problems.push({ path, rule: 'must have "search", "configuration" or both' })
  if (!plan.classes.some((c) => c.service === service.name))
    problems.push({
      path: `${path}.name`,
      found: shown(service.name),
      rule: 'must be the service of a class: nobody calls it; give it a class, or take it out',
    })
  const model = plan.models.find((m) => m.name === service.model)
  if (service.model === undefined && !configuration?.profile) {
    problems.push({ path: `${path}.model`, rule: 'is missing; only a configuration with its own profile can do without' })
  }
  if (service.model !== undefined && !model) problems.push(missing(`${path}.model`, service.model, 'models'))
  search?.machines?.forEach((machine, i) => {
    if (!offers.some((m) => m.name === machine)) problems.push(missing(`${path}.search.machines[${i}]`, machine, 'machines'))
  })
  service.preparation?.forEach(({ on }, i) => {
    const offer = plan.machines.find((m) => m.name === on)
    if (on === undefined) return
    if (!offer) problems.push(missing(`${path}.preparation[${i}].on`, on, 'machines'))
    else if (offer.pricePerHour === undefined)
      problems.push({ path: `${path}.preparation[${i}].on`, found: shown(on), rule: 'must be a machine that is for rent by the hour' })
  })
  // A place that is mistyped would leave out all that there is.
  for (const [list, field] of [
    ['regions', 'region'],
    ['zones', 'zone'],
    ['providers', 'provider'],
  ] as const)
    search?.[list]?.forEach((where, i) => {
      if (!offers.some((m) => m[field] === where)) problems.push(missing(`${path}.search.${list}[${i}]`, where, 'machines'))
    })
  if (search?.leastTrust !== undefined && !offers.some((m) => (m.trust ?? 0) >= (search.leastTrust ?? 0)))
    problems.push({
      path: `${path}.search.leastTrust`,
      found: shown(search.leastTrust),
      rule: 'must be at most what some machine states as "trust"',
    })
  search?.variants?.forEach((variant, i) => {
    if (model && !model.variants.some((v) => v.name === variant)) problems.push(missing(`${path}.search.variants[${i}]`, variant, 'models'))
  })
  search?.without?.forEach((w, i) => {
    if (!offers.some((m) => m.name === w.machine)) problems.push(missing(`${path}.search.without[${i}].machine`, w.machine, 'machines'))
  })
  service.policies?.forEach((p, i) => {
    problems.push(...policyProblems(p, `${path}.policies[${i}]`))
    if (!search && configuration?.policy !== p.name)
      problems.push({
        path: `${path}.policies[${i}].name`,
        found: shown(p.name),
        rule: 'must be used: nothing searches, and the configuration does not name it; name it there, or take it out',
      })
  })
  problems.push(...duplicates(`${path}.policies`, service.policies ?? []))
  const kind = profileKind(plan, service)
  if (service.limits?.outputCap !== undefined && kind !== undefined && kind !== 'token') {
    problems.push({ path: `${path}.limits.outputCap`, rule: 'must be left out: fixed work has no answer to cut off' })
  }
  if (search) problems.push(...triedBesideProblems(service, search, kind, `${path}.search`))
  if (configuration) problems.push(...configurationProblems(plan, service, model, `${path}.configuration`))
  return problems
}

/** What is tried beside what the service states must be able to matter. */
function triedBesideProblems(
  { start }: Service,
  search: NonNullable<Service['search']>,
  kind: ProfileSpec['kind'] | undefined,
  path: string,
): Problem[] {
  const problems: Problem[] = []
  if (search.weightsFrom && !start)
    problems.push({
      path: `${path}.weightsFrom`,
      rule: 'must be left out: the service has no start-up by stages ("start") in which weights come from anywhere',
    })
  for (const key of ['prompts', 'stepTokens', 'maxPrefillTokens', 'reservations', 'splits'] as const) {
    if (search[key] && kind !== undefined && kind !== 'token')
      problems.push({ path: `${path}.${key}`, rule: 'must be left out: fixed work has no prompts and no cache' })
  }
  if (search.windowSeconds && kind !== undefined && kind !== 'batch')
    problems.push({ path: `${path}.windowSeconds`, rule: 'must be left out: only batches wait to fill' })
  return problems
}

function policyProblems(policy: ScalingPolicy, path: string): Problem[] {
  const problems: Problem[] = []
  policy.metrics?.forEach(({ metric, target }, i) => {
    if (METRICS[metric].isShare && target > 1)
      problems.push({
        path: `${path}.metrics[${i}].target`,
        found: shown(target),
        rule: `must be a share of at most 1: ${metric} of ${target} % is ${Number((target / 100).toPrecision(6))}`,
      })
  })
  if (policy.min > policy.max)
    problems.push({ path: `${path}.min`, found: shown(policy.min), rule: `must be at most the maximum of ${policy.max}` })
  if (policy.name === 'fixed')
    problems.push({
      path: `${path}.name`,
      found: shown(policy.name),
      rule: 'must be another name: "fixed" is what a number without a policy is called',
    })
  if (policy.min === 0 && !policy.idle)
    problems.push({
      path: `${path}.idle`,
      rule: 'is missing; a minimum of 0 needs to say when nobody is left, and what the first caller finds',
    })
  if (policy.idle && policy.min > 0)
    problems.push({ path: `${path}.min`, found: shown(policy.min), rule: 'must be 0: with "idle" the service goes to zero' })
  if (policy.wake && !policy.idle)
    problems.push({ path: `${path}.wake`, rule: 'must be left out: without "idle" it never sleeps, and there is nobody to be woken' })
  if (policy.wake?.leadP95Seconds !== undefined && policy.wake.leadP95Seconds < policy.wake.leadSeconds)
    problems.push({
      path: `${path}.wake.leadP95Seconds`,
      found: shown(policy.wake.leadP95Seconds),
      rule: `must be at least the median of ${policy.wake.leadSeconds}`,
    })
  if (!policy.metrics?.length && !policy.ahead && !policy.schedule?.length && !policy.idle)
    problems.push({ path, rule: 'must have "metrics", "ahead", "schedule" or "idle": otherwise nothing ever changes' })
  return problems
}

function configurationProblems(plan: Plan, service: Service, model: Model | undefined, path: string): Problem[] {
  const { machine, variant, profile, policy } = service.configuration ?? {}
  const problems: Problem[] = []
  if (policy !== undefined && !service.policies?.some((p) => p.name === policy))
    problems.push(missing(`${path}.policy`, policy, 'policies'))
  if (policy !== undefined && profile)
    problems.push({
      path: `${path}.policy`,
      rule: 'must be left out: a configuration with its own profile has no machines that could come and go',
    })
  if (profile?.kind === 'token' && profile.cacheTokens === undefined) {
    problems.push({ path: `${path}.profile.cacheTokens`, rule: 'is missing; a configuration with its own profile states its cache' })
  }
  if (profile) return problems
  if (machine === undefined) problems.push({ path: `${path}.machine`, rule: 'is missing; without a profile a machine is needed' })
  else if (!offersOf(plan).some((m) => m.name === machine)) problems.push(missing(`${path}.machine`, machine, 'machines'))
  if (variant === undefined) problems.push({ path: `${path}.variant`, rule: 'is missing; without a profile a variant is needed' })
  else if (model && !model.variants.some((v) => v.name === variant)) problems.push(missing(`${path}.variant`, variant, 'models'))
  return problems
}
