import {
  BadInput,
  bendWords,
  CORE_VERSION,
  duration,
  loadTest,
  percent,
  refusalProblem,
  threeDigits,
  type LoadTest,
  type Percentiles,
  type Plan,
  type Problem,
} from '@sandclock/core'
import { refusing } from '../refusing.ts'
import { table } from '../table.ts'
import { copies } from '../words.ts'

const MOST_CALLERS = 10_000
const TITLE = 'A load test on paper can not be made.'
const refused = refusing(TITLE)

/** Options of `simulate` that are about the load of the plan, as they are typed. */
const OF_THE_LOAD = {
  requests: '--requests',
  columns: '--columns',
  perRequest: '--per-request',
  details: '--details',
  distributions: '--distributions',
  within: '--within',
  waitLeft: '--wait-left',
} as const

/**
 * Load tests on paper of every class whose service states a configuration.
 *
 * @param options of the command; those that are about the load of the plan are refused
 */
export function atOnceText(plan: Plan, list: string, options: Partial<Record<keyof typeof OF_THE_LOAD, unknown>>, json: boolean): string {
  for (const option of Object.keys(OF_THE_LOAD) as (keyof typeof OF_THE_LOAD)[])
    if (options[option] !== undefined)
      throw refused(
        OF_THE_LOAD[option],
        'is about the load of the plan, and --side-by-side replaces that by callers at once; leave one out',
      )
  const tests = tested(plan, callers(list))
  return json
    ? `${JSON.stringify({ format: 'sand-clock-load-test', version: 1, coreVersion: CORE_VERSION, tests }, null, 2)}\n`
    : `${tests.map(testText).join('\n\n')}\n`
}

/** Numbers of callers, ascending, each once. */
function callers(list: string): number[] {
  const numbers = list.split(',').map((part) => Number(part.trim() || NaN))
  if (numbers.every((n) => Number.isInteger(n) && n >= 1 && n <= MOST_CALLERS)) return [...new Set(numbers)].sort((a, b) => a - b)
  throw refused('--side-by-side', `must be whole numbers of callers from 1 to ${MOST_CALLERS}, such as 1,2,4,8`, list)
}

/** @throws BadInput where no service states a configuration, one can not be had, or a class has no sizes to be drawn */
function tested(plan: Plan, clients: readonly number[]): LoadTest[] {
  const problems: Problem[] = []
  const tests = plan.classes.flatMap((c, i) => {
    const at = plan.services.findIndex((s) => s.name === c.service)
    const { configuration } = plan.services[at]
    if (!configuration) return []
    if (c.arrivals.kind === 'log') {
      problems.push({ path: `classes[${i}].arrivals`, rule: 'is a log, of which no sizes can be drawn; begin a plan that is like it' })
      return []
    }
    const test = loadTest(plan, plan.services[at], configuration, c, clients)
    if (!('refusal' in test)) return [test]
    problems.push(refusalProblem(plan, at, configuration, test.refusal))
    return []
  })
  if (problems.length > 0) throw new BadInput(TITLE, problems)
  if (tests.length > 0) return tests
  throw new BadInput('This plan states no configuration to test.', [
    { path: 'services[0].configuration', rule: 'is missing; state one, or let "sandclock recommend" find one' },
  ])
}

function testText(test: LoadTest): string {
  const { className, service, replicas, places, withoutPolicy, steps } = test
  const hasTokens = steps[0].ttft !== undefined
  const spread = (p: Percentiles) => [p.p50, p.p90, p.p95, p.p99].map((seconds) => duration(seconds))
  const words = bendWords(test)
  return [
    `${className.toUpperCase()} at ${service}: ${copies(replicas)}${withoutPolicy === null ? '' : ` without the policy “${withoutPolicy}”`}, ${places} places; latency${hasTokens ? ', and at the right the time to the first token' : ''}`,
    table(
      [
        'at once',
        'requests/s',
        ...(hasTokens ? ['answer tokens/s'] : []),
        ...['p50', 'p90', 'p95', 'p99'],
        'waiting',
        ...(hasTokens ? ['first p50', 'first p90', 'first p95', 'first p99'] : []),
        'counted',
      ],
      steps.map((s) => [
        String(s.clients),
        threeDigits(s.requestsPerSecond),
        ...(s.answerTokensPerSecond === undefined ? [] : [threeDigits(s.answerTokensPerSecond)]),
        ...spread(s.latency),
        percent(s.waitShare),
        ...(s.ttft ? spread(s.ttft) : []),
        String(s.requests),
      ]),
    ),
    `${words[0].toUpperCase()}${words.slice(1)}.`,
  ].join('\n')
}
