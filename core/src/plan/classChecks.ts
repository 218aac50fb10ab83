import { isClosedLoop, withRate } from './arrivalKinds.ts'
import { missing } from './nameChecks.ts'
import { shown, type Problem } from './problem.ts'
import { profileKind } from './profileKind.ts'
import type { Plan, RequestClass } from './schema.ts'

export function classProblems(plan: Plan, requestClass: RequestClass, path: string): Problem[] {
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
  problems.push(...shareTargets(requestClass, path), ...placeTargets(requestClass, path))
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

/** Where there is a way, a promise says at which of its ends it is. */
function placeTargets({ targets, way }: RequestClass, path: string): Problem[] {
  return targets.flatMap((t, i) => {
    const crosses = t.measure === 'ttft' || t.measure === 'latency'
    if (crosses && way && t.at === undefined)
      return [
        {
          path: `${path}.targets[${i}].at`,
          rule: 'is missing: the class states a way, so that a promise has to say whether it is kept at the "caller" or at the "service"',
        },
      ]
    if (!crosses && 'at' in t && t.at === 'caller' && way)
      return [
        {
          path: `${path}.targets[${i}].at`,
          found: '"caller"',
          rule: `must be left out: the way has no part in ${t.measure === 'wait' ? 'a wait' : 'the gaps between tokens'}`,
        },
      ]
    return []
  })
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
