import {
  capital,
  BadInput,
  bendWords,
  configured,
  CORE_VERSION,
  Load,
  loadTest,
  loadTestTable,
  refusalProblem,
  SENT,
  sentWords,
  type LoadTest,
  type Plan,
  type Pressing,
  type Problem,
  type RequestLog,
  type Sent,
} from '@sandclock/core'
import { refusing } from '../refusing.ts'
import { table } from '../table.ts'
import { copies } from '../words.ts'

const MOST_CALLERS = 10_000
const MOST_A_SECOND = 1_000_000
const TITLE = 'A load test on paper can not be made.'
const refused = refusing(TITLE)

/** What a load test is asked for by; true is the numbers that show where it bends. */
export interface LoadTestOptions {
  sideBySide?: string | true
  rates?: string | true
  sizes?: string
}

/** Options of `simulate` that are about the load of the plan, as they are typed. */
const OF_THE_LOAD = {
  perRequest: '--per-request',
  details: '--details',
  distributions: '--distributions',
  within: '--within',
  waitLeft: '--wait-left',
} as const

/** Whether a load test is wanted in place of the load. @throws BadInput for options that do not go together, before anything is read */
export function asksForTest(options: LoadTestOptions & Partial<Record<keyof typeof OF_THE_LOAD, unknown>>): boolean {
  const { sideBySide, rates, sizes } = options
  if (sideBySide === undefined && rates === undefined) {
    if (sizes !== undefined) throw refused('--sizes', 'is about a load test; add --side-by-side or --rates, or leave it out')
    return false
  }
  for (const option of Object.keys(OF_THE_LOAD) as (keyof typeof OF_THE_LOAD)[])
    if (options[option] !== undefined)
      throw refused(OF_THE_LOAD[option], 'is about the load of the plan, and a load test replaces that; leave one out')
  return true
}

/** Load tests on paper of every class whose service states a configuration. */
export function loadTestText(plan: Plan, log: RequestLog | undefined, options: LoadTestOptions, json: boolean): string {
  const sizes = sentOf(options.sizes)
  const asked = [
    ...(options.sideBySide === undefined
      ? []
      : [{ pressing: 'at once', pressures: numbers('--side-by-side', options.sideBySide) } as const]),
    ...(options.rates === undefined ? [] : [{ pressing: 'a second', pressures: numbers('--rates', options.rates) } as const]),
  ]
  const tests = tested(plan, log, asked, sizes)
  return json
    ? `${JSON.stringify({ format: 'sand-clock-load-test', version: 1, coreVersion: CORE_VERSION, tests: tests.map(({ of: _, ...t }) => t) }, null, 2)}\n`
    : `${tests.map(testText).join('\n\n')}\n`
}

const isCallers = (n: number) => Number.isInteger(n) && n >= 1 && n <= MOST_CALLERS
const isRate = (n: number) => n > 0 && n <= MOST_A_SECOND

/** Numbers that are listed, ascending, each once; undefined for those that show where it bends. */
function numbers(option: '--side-by-side' | '--rates', list: string | true): number[] | undefined {
  if (list === true) return undefined
  const listed = list.split(',').map((part) => Number(part.trim() || NaN))
  if (listed.every(option === '--rates' ? isRate : isCallers)) return [...new Set(listed)].sort((a, b) => a - b)
  throw option === '--rates'
    ? refused(option, `must be requests a second, above 0 and at most ${MOST_A_SECOND}, such as 0.5,1,2,4`, list)
    : refused(option, `must be whole numbers of callers from 1 to ${MOST_CALLERS}, such as 1,2,4,8`, list)
}

function sentOf(list: string | undefined): Sent[] {
  const words = list === undefined ? ['as drawn'] : list.split(',').map((w) => w.trim())
  const found = words.map((w) => SENT.find((s) => s === w || (w === 'drawn' && s === 'as drawn')))
  if (found.every((s) => s !== undefined)) return found
  throw refused('--sizes', 'must be drawn, short or long, or several of them with commas between', list)
}

/** @throws BadInput where no service states a configuration, one can not be had, or a class has no requests */
function tested(
  plan: Plan,
  log: RequestLog | undefined,
  asked: readonly { pressing: Pressing; pressures: readonly number[] | undefined }[],
  sizes: readonly Sent[],
): LoadTest[] {
  const problems: Problem[] = []
  const load = new Load(plan, log)
  const tests = plan.classes.flatMap((c, i) => {
    const at = plan.services.findIndex((s) => s.name === c.service)
    const { configuration } = plan.services[at]
    if (!configuration) return []
    const { policy = null, ...fixed } = configuration
    const ready = configured(plan, plan.services[at], fixed)
    if (!ready.ok) {
      problems.push(refusalProblem(plan, at, configuration, ready.refusal))
      return []
    }
    return sizes.flatMap((sent) =>
      asked.flatMap(({ pressing, pressures }) => {
        const test = [...loadTest(plan, ready.spec, load, { className: c.name, sent }, pressing, pressures)].at(-1)
        if (test) return [{ ...test, withoutPolicy: policy }]
        problems.push({ path: `classes[${i}]`, rule: 'has no requests in the load, so that there are no sizes to be sent' })
        return []
      }),
    )
  })
  if (problems.length > 0) throw new BadInput(TITLE, problems)
  if (tests.length > 0) return tests
  throw new BadInput('This plan states no configuration to test.', [
    { path: 'services[0].configuration', rule: 'is missing; state one, or let "sandclock recommend" find one' },
  ])
}

function testText(test: LoadTest): string {
  const { className, service, replicas, places, withoutPolicy, steps, sent } = test
  const hasTokens = steps[0].ttft !== undefined
  const words = bendWords(test)
  const without = withoutPolicy === null ? '' : ` without the policy “${withoutPolicy}”`
  const { header, rows } = loadTestTable(test)
  return [
    `${className.toUpperCase()} at ${service}, ${sentWords(sent)}: ${copies(replicas)}${without}, ${places} places; latency${hasTokens ? ', and at the right the time to the first token' : ''}`,
    table(header, rows),
    `${capital(words)}.`,
  ].join('\n')
}
