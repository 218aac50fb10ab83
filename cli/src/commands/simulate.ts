import {
  BadInput,
  callersWords,
  clock,
  configured,
  costWords,
  duration,
  guardWords,
  Load,
  percent,
  perRequestCsv,
  price,
  refusalProblem,
  servedWords,
  sideBySideWords,
  isByTokens,
  simulateConfigured,
  threeDigits,
  waitLeft,
  type ClassSummary,
  type Plan,
  type Problem,
  type SimulatedService,
  CORE_VERSION,
} from '@sandclock/core'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { readInput, type LogOptions } from '../input.ts'
import { note } from '../progress.ts'
import { table } from '../table.ts'
import { copies } from '../words.ts'
import { writeJson, writePieces } from '../writePieces.ts'
import { detailsText } from '../details.ts'
import { checkDistributions, toldDistributions, type DistributionOptions } from '../distributions.ts'
import { asksForTest, loadTestText, type LoadTestOptions } from './loadTest.ts'
import { targetsText } from './recommend.ts'

interface Options extends LogOptions, DistributionOptions, LoadTestOptions {
  json?: boolean
  perRequest?: string
  details?: boolean
  waitLeft?: string
}

export async function simulateCommand(planFile: string, options: Options): Promise<ExitStatus> {
  const isTest = asksForTest(options)
  const { plan, log } = await readInput(planFile, options)
  if (isTest) {
    process.stdout.write(loadTestText(plan, log, options, options.json ?? false))
    return MET
  }
  checkDistributions(plan, options, options.json ?? false)
  const load = new Load(plan, log)
  const results = simulateAll(plan, load)
  const records = new Map(results.map((r) => [r.service, r.record]))
  const times = await toldDistributions(plan, records, options)
  process.stdout.write(
    options.json
      ? jsonText(plan, results)
      : `${[...results.flatMap((r) => [serviceText(plan, r), ...(options.details ? detailsText(plan, load, r.seen) : [])]), ...times].join('\n\n')}\n`,
  )
  if (options.perRequest !== undefined) {
    await writePieces(options.perRequest, perRequestCsv(plan, load.all(0), records))
    note(`wrote ${options.perRequest}`)
  }
  if (options.waitLeft !== undefined) {
    const left = results.map(({ seen: { candidate, groups } }) => waitLeft(plan, { service: candidate.service, candidate, groups }, load))
    await writeJson(options.waitLeft, left)
  }
  return results.every((r) => r.meets) ? MET : NOT_MET
}

/** @throws BadInput when no service states a configuration, or one can not be had or run */
export function simulateAll(plan: Plan, load: Load): SimulatedService[] {
  const refused: Problem[] = []
  // All are asked before any is simulated: who is refused is not to wait for the others.
  const stated = plan.services.flatMap((service, i) => {
    const { configuration } = service
    if (!configuration) return []
    const ready = configured(plan, service, configuration)
    if (!ready.ok) {
      refused.push(refusalProblem(plan, i, configuration, ready.refusal))
      return []
    }
    return [{ service, configuration, ready }]
  })
  if (refused.length > 0) throw new BadInput('A stated configuration can not be had or run.', refused)
  const out = stated.map(({ service, configuration, ready }) => {
    note(`simulating ${service.name}`)
    return simulateConfigured(plan, service, configuration, load, ready)
  })
  if (out.length > 0) return out
  throw new BadInput('This plan states no configuration to simulate.', [
    { path: 'services[0].configuration', rule: 'is missing; state one, or let "sandclock recommend" find one' },
  ])
}

function jsonText(plan: Plan, results: readonly SimulatedService[]): string {
  const services = results.map(({ record: _, seen: __, ...rest }) => rest)
  return `${JSON.stringify({ format: 'sand-clock-simulation', version: 1, coreVersion: CORE_VERSION, plan, services }, null, 2)}\n`
}

function serviceText(plan: Plan, r: SimulatedService): string {
  const { configuration: c, money } = r
  const { purchase } = r.seen.candidate
  const what = c.profile
    ? `${copies(c.replicas)} with a ${r.profileSource} profile`
    : isByTokens(purchase)
      ? `${c.machine}, by tokens, ${c.variant}`
      : c.policy
        ? `up to ${r.machines} × ${c.machine}, ${c.variant}, ${c.policy}`
        : `${r.machines} × ${c.machine}, ${c.variant}, ${copies(c.replicas)}`
  const cost =
    money === null
      ? 'no price stated'
      : `${costWords(plan, money.perHour, r.service)}, ${price(money.perThousandRequests, plan.currency)} per 1\u202f000 requests`
  const { classes, overall } = r.run
  const all = classes.length > 1 ? [...classes, overall] : classes
  return [
    `${r.service.toUpperCase()}: ${what}, ${sideBySideWords({ ...c, purchase })}; ${cost}`,
    countsTable(all),
    spreadsTable(all),
    worstHoursTable(plan, all),
    useText(r),
    targetsText(r),
    relianceLine(r),
    ...callersWords(plan, r.run.met),
    ...(r.guard ? guardWords(r.guard, plan.horizon.start, plan.currency) : []),
    ...r.remarks,
    ...fleetLines(r),
  ].join('\n')
}

/** What the step costs rely on. */
export const relianceLine = ({ reliance }: SimulatedService) => `of these figures: ${reliance.join('; ')}`

/** The first things that happened to a fleet; all of them are in the JSON. */
const MOST_HAPPENINGS = 12

function fleetLines({ happenings }: SimulatedService): string[] {
  const more = happenings.length - MOST_HAPPENINGS
  return [...happenings.slice(0, MOST_HAPPENINGS).map((h) => h.words), ...(more > 0 ? [`… and ${more} more (--json has them all)`] : [])]
}

function countsTable(classes: readonly ClassSummary[]): string {
  return table(
    [
      'class',
      'arrivals',
      'finished',
      'queue full',
      'rate limit',
      'too large',
      'asleep',
      'abandoned',
      'failed',
      'unfinished',
      'lost',
      'retries',
      'cut off',
    ],
    classes.map(({ className, counts: c }) => [
      className,
      ...[c.arrivals, c.finished, c.queueFull, c.rateLimited, c.tooLarge, c.asleep, c.abandoned, c.failed, c.unfinished].map(String),
      percent(c.arrivals === 0 ? 0 : (c.rejected + c.abandoned + c.failed) / c.arrivals),
      String(c.retries),
      String(c.cutOff),
    ]),
  )
}

/** What came out, how busy the replicas were, and where late requests spent their time. */
function useText({ run }: SimulatedService): string {
  const { replicas, late } = run
  const tokens =
    run.outputTokensPerSecond === null
      ? ''
      : `, ${threeDigits(run.inputTokensPerSecond)} prompt and ${threeDigits(run.outputTokensPerSecond)} answer tokens/s`
  const cache = replicas.cacheShare === null ? '' : `, cache ${percent(replicas.cacheShare)} full on average`
  const evicted = run.evictions > 0 ? `, ${run.evictions} evictions` : ''
  const lines = [
    `served ${threeDigits(run.requestsPerSecond)} requests/s${tokens}`,
    `replicas have something to do ${percent(replicas.busyShare)} of their time${replicas.meanBatch === null ? '' : `, then ${servedWords(replicas.meanBatch, run.slotsEach)}`}${cache}${evicted}`,
  ]
  if (late.late > 0) {
    const parts = [
      ['machine', late.machineSeconds],
      ['start-up', late.startUpSeconds],
      ['queue', late.queueSeconds],
      ['others', late.othersSeconds],
      ['own work', late.ownSeconds],
    ] as const
    const total = parts.reduce((sum, [, s]) => sum + s, 0)
    lines.push(
      `${late.late} late ${late.late === 1 ? 'request' : 'requests'} spent ${duration(total / late.late)} each: ${parts.map(([what, s]) => `${what} ${percent(s / total)}`).join(', ')}`,
    )
  }
  return lines.join('\n')
}

function worstHoursTable(plan: Plan, classes: readonly ClassSummary[]): string {
  const rows = classes.flatMap(({ className, worstHours }) =>
    MEASURES_SHOWN.flatMap((m) => {
      const worst = worstHours[m]
      return worst
        ? [
            [
              className,
              m,
              clock(plan.horizon.start, worst.fromSeconds),
              duration(worst.mean),
              duration(worst.p95),
              duration(worst.p99),
              threeDigits(worst.count),
            ],
          ]
        : []
    }),
  )
  return table(['class', 'measure', 'worst hour from', 'mean', 'p95', 'p99', 'requests'], rows)
}

const MEASURES_SHOWN = ['wait', 'ttft', 'tpot', 'latency'] as const

function spreadsTable(classes: readonly ClassSummary[]): string {
  const rows = classes.flatMap(({ className, spreads }) =>
    MEASURES_SHOWN.filter((m) => spreads[m].count > 0).map((m) => [
      className,
      m,
      ...(['mean', 'p50', 'p90', 'p95', 'p99', 'max'] as const).map((k) => duration(spreads[m][k])),
      threeDigits(spreads[m].count),
    ]),
  )
  return table(['class', 'measure', 'mean', 'p50', 'p90', 'p95', 'p99', 'max', 'requests'], rows)
}
