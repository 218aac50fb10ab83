import { isClosedLoop, withRate } from './arrivalKinds.ts'
import { shown, type Problem } from './problem.ts'
import type { Model, Plan, ProfileSpec, RequestClass, ScalingPolicy, Service, Variant } from './schema.ts'
import { METRICS } from './ways.ts'

/** Rules between fields: names that must exist once, classes that fit their service. */
export function crossChecks(plan: Plan): Problem[] {
  return [
    ...duplicates('classes', plan.classes),
    ...duplicates('services', plan.services),
    ...duplicates('models', plan.models),
    ...duplicates('machines', plan.machines),
    ...plan.models.flatMap((m, i) => duplicates(`models[${i}].variants`, m.variants)),
    ...plan.models.flatMap(variantFields),
    ...plan.models.flatMap((m, i) => strangeMachines(plan, m, i)),
    ...plan.models.flatMap(expertProblems),
    ...warmup(plan),
    ...plan.classes.flatMap((c, i) => classProblems(plan, c, `classes[${i}]`)),
    ...plan.services.flatMap((s, i) => serviceProblems(plan, s, `services[${i}]`)),
  ]
}

function duplicates(path: string, named: readonly { name: string }[]): Problem[] {
  const seen = new Set<string>()
  return named.flatMap(({ name }, i) => {
    const again = seen.has(name)
    seen.add(name)
    return again ? [{ path: `${path}[${i}].name`, found: shown(name), rule: 'must differ from the other names of this list' }] : []
  })
}

function warmup(plan: Plan): Problem[] {
  const { warmupSeconds, seconds } = plan.horizon
  if (warmupSeconds < seconds) return []
  return [{ path: 'horizon.warmupSeconds', found: shown(warmupSeconds), rule: `must be less than the horizon of ${seconds} seconds` }]
}

function variantFields(model: Model, index: number): Problem[] {
  return model.variants.flatMap((variant, j) => {
    const path = `models[${index}].variants[${j}]`
    if (model.kind === 'given') {
      return variant.profiles?.length || variant.measurements?.length
        ? measurementProblems(variant, path)
        : [{ path: `${path}.profiles`, rule: 'is missing; a model of kind "given" states its coefficients or measurements' }]
    }
    return [...bitProblems(model, variant, path), ...measurementProblems(variant, path)]
  })
}

/** Coefficients and measurements of a machine that there is none of would be passed over in silence. */
function strangeMachines(plan: Plan, model: Model, index: number): Problem[] {
  const isThere = (name: string | undefined) => name === undefined || plan.machines.some((m) => m.name === name)
  return model.variants.flatMap((variant, j) =>
    (['profiles', 'measurements'] as const).flatMap((list) =>
      (variant[list] ?? []).flatMap(({ machine }, k) =>
        machine === undefined || isThere(machine)
          ? []
          : [missing(`models[${index}].variants[${j}].${list}[${k}].machine`, machine, 'machines')],
      ),
    ),
  )
}

/** The bits that a derivation needs, each stated in one way only. */
function bitProblems(model: Model, variant: Variant, path: string): Problem[] {
  if (model.kind === 'cpu' || model.kind === 'given') return []
  const problems: Problem[] = []
  const one = (a: keyof Variant, b: keyof Variant, needed: boolean) => {
    if (variant[a] === undefined && variant[b] === undefined && needed)
      problems.push({ path: `${path}.${a}`, rule: `is missing; a model of kind "${model.kind}" needs it or "${b}"` })
    if (variant[a] !== undefined && variant[b] !== undefined)
      problems.push({ path: `${path}.${b}`, rule: `must be left out: "${a}" says it already` })
  }
  one('weightBits', 'bytesPerWeight', true)
  one('cacheBits', 'bytesPerCacheElement', model.kind === 'dense' || model.kind === 'experts')
  if (variant.arithmeticBits === undefined)
    problems.push({ path: `${path}.arithmeticBits`, rule: `is missing; a model of kind "${model.kind}" needs it` })
  if (variant.groupSize === undefined && (variant.scaleBits || variant.zeroPointBits))
    problems.push({ path: `${path}.groupSize`, rule: 'is missing; scales and zero points belong to groups of weights' })
  return problems
}

function measurementProblems(variant: Variant, path: string): Problem[] {
  return (variant.measurements ?? []).flatMap((m, i) =>
    m.rows.some((r) => r.ttftSeconds !== undefined || r.tpotSeconds !== undefined || r.latencySeconds !== undefined)
      ? []
      : [{ path: `${path}.measurements[${i}].rows`, rule: 'must have a TTFT, a TPOT or a latency in at least one row' }],
  )
}

/** A mixture of experts has fewer active parameters than parameters, and picks no more experts than there are. */
function expertProblems(model: Model, index: number): Problem[] {
  if (model.kind !== 'experts') return []
  const { parameters, activeParameters, experts, expertsPerToken } = model
  const path = `models[${index}]`
  if (expertsPerToken > experts)
    return [{ path: `${path}.expertsPerToken`, found: shown(expertsPerToken), rule: `must be at most the ${experts} experts of a layer` }]
  if (activeParameters > parameters)
    return [{ path: `${path}.activeParameters`, found: shown(activeParameters), rule: `must be at most all ${parameters} parameters` }]
  const least = (parameters * expertsPerToken) / experts
  return activeParameters < least
    ? [
        {
          path: `${path}.activeParameters`,
          found: shown(activeParameters),
          rule: `must be at least ${Math.ceil(least)}: ${expertsPerToken} of ${experts} experts of all parameters`,
        },
      ]
    : []
}

/** What kind of profile a service runs, as far as the plan says. */
export function profileKind(plan: Plan, service: Service): ProfileSpec['kind'] | undefined {
  if (service.configuration?.profile) return service.configuration.profile.kind
  const model = plan.models.find((m) => m.name === service.model)
  return model && modelProfileKind(model)
}

/** What kind of profile a model has: by its kind, or by what is given or measured of it. */
export function modelProfileKind(model: Model): ProfileSpec['kind'] | undefined {
  if (model.kind === 'dense' || model.kind === 'experts') return 'token'
  if (model.kind === 'cpu') return 'shared'
  if (model.kind === 'iterative') return 'iterative'
  if (model.kind === 'work') return 'batch'
  const given = model.variants.flatMap((v) => v.profiles ?? [])[0]?.profile.kind
  if (given !== undefined) return given
  // Only measured: rows with prompts are of a token model.
  return model.variants.some((v) => v.measurements?.some((m) => m.rows.some((r) => r.input !== undefined))) ? 'token' : 'batch'
}

function classProblems(plan: Plan, requestClass: RequestClass, path: string): Problem[] {
  const service = plan.services.find((s) => s.name === requestClass.service)
  if (!service) return [missing(`${path}.service`, requestClass.service, 'services')]
  const kind = profileKind(plan, service)
  const fixedWork = kind !== 'token' && kind !== undefined
  const needed = fixedWork ? (['work'] as const) : (['input', 'output'] as const)
  const problems: Problem[] = needed
    .filter((field) => requestClass[field] === undefined)
    .map((field) => ({ path: `${path}.${field}`, rule: `is missing; service "${service.name}" needs it` }))
  const strange = fixedWork ? (['input', 'output'] as const) : kind === 'token' ? (['work'] as const) : []
  for (const field of strange) {
    if (requestClass[field])
      problems.push({
        path: `${path}.${field}`,
        rule: `must be left out: service "${service.name}" ${fixedWork ? 'has fixed work, which "work" and "items" state' : 'has prompts and answers, which "input" and "output" state'}`,
      })
  }
  problems.push(...shareTargets(requestClass, path))
  if (fixedWork) problems.push(...tokenTargets(requestClass, path))
  problems.push(...loadProblems(requestClass, path, fixedWork))
  return problems
}

/** Most requests of one class that a plan may ask for: what 32-bit places and the memory of a page have room for. */
const MOST_REQUESTS = 40_000_000

function loadProblems(requestClass: RequestClass, path: string, fixedWork: boolean): Problem[] {
  const { arrivals, turns } = requestClass
  const problems: Problem[] = []
  const onOwn = withRate(arrivals) !== undefined
  if (turns && !onOwn)
    problems.push({ path: `${path}.turns`, rule: `must be left out: arrivals of kind "${arrivals.kind}" say themselves who follows whom` })
  if (turns?.count.kind === 'log')
    problems.push({
      path: `${path}.turns.count.kind`,
      found: '"log"',
      rule: 'must be another kind: a log does not say which requests belong together',
    })
  if (isClosedLoop(arrivals) && arrivals.clients * arrivals.requestsPerClient > MOST_REQUESTS) {
    problems.push({
      path: `${path}.arrivals.requestsPerClient`,
      found: shown(arrivals.requestsPerClient),
      rule: `must be fewer: clients × requests may be ${MOST_REQUESTS} at most`,
    })
  }
  if (requestClass.lengthCorrelation && (requestClass.input?.kind === 'log' || requestClass.output?.kind === 'log')) {
    problems.push({ path: `${path}.lengthCorrelation`, rule: 'must be left out: lengths from a log depend on each other as they do there' })
  }
  if (!fixedWork && requestClass.items) problems.push({ path: `${path}.items`, rule: 'must be left out: only fixed work has items' })
  if (fixedWork && requestClass.cachedShare)
    problems.push({ path: `${path}.cachedShare`, rule: 'must be left out: fixed work has no prompt' })
  return problems
}

/** A percentile below 1 is a share that was meant as one. */
function shareTargets({ targets }: RequestClass, path: string): Problem[] {
  return targets.flatMap((t, i) =>
    'percentile' in t && t.percentile < 1
      ? [
          {
            path: `${path}.targets[${i}].percentile`,
            found: shown(t.percentile),
            rule: `must be in per cent: ${Number((t.percentile * 100).toPrecision(6))} for ${Number((t.percentile * 100).toPrecision(6))} of 100`,
          },
        ]
      : [],
  )
}

function tokenTargets(requestClass: RequestClass, path: string): Problem[] {
  return requestClass.targets.flatMap((t, i) =>
    t.measure === 'ttft' || t.measure === 'tpot'
      ? [
          {
            path: `${path}.targets[${i}].measure`,
            found: shown(t.measure),
            rule: 'must be "wait", "latency", "lost" or "throughput": fixed work has no tokens',
          },
        ]
      : [],
  )
}

function serviceProblems(plan: Plan, service: Service, path: string): Problem[] {
  const problems: Problem[] = []
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
    if (!plan.machines.some((m) => m.name === machine)) problems.push(missing(`${path}.search.machines[${i}]`, machine, 'machines'))
  })
  search?.variants?.forEach((variant, i) => {
    if (model && !model.variants.some((v) => v.name === variant)) problems.push(missing(`${path}.search.variants[${i}]`, variant, 'models'))
  })
  search?.without?.forEach((w, i) => {
    if (!plan.machines.some((m) => m.name === w.machine))
      problems.push(missing(`${path}.search.without[${i}].machine`, w.machine, 'machines'))
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
  else if (!plan.machines.some((m) => m.name === machine)) problems.push(missing(`${path}.machine`, machine, 'machines'))
  if (variant === undefined) problems.push({ path: `${path}.variant`, rule: 'is missing; without a profile a variant is needed' })
  else if (model && !model.variants.some((v) => v.name === variant)) problems.push(missing(`${path}.variant`, variant, 'models'))
  return problems
}

function missing(path: string, name: string, list: string): Problem {
  return { path, found: shown(name), rule: `must be a name that stands in "${list}"` }
}
