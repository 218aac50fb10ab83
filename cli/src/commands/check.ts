import {
  certaintyWords,
  describes,
  driftOf,
  driftTable,
  driftWords,
  headRoomWords,
  costWords,
  limitWords,
  Load,
  measureWords,
  planMoney,
  price,
  stoppedWords,
  unmeasuredWords,
  valueWords,
  type Plan,
  type RequestLog,
  type SimulatedService,
} from '@sandclock/core'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { readInput, readLog, type LogOptions } from '../input.ts'
import { refusing } from '../refusing.ts'
import { within } from '../within.ts'
import { table } from '../table.ts'
import { relianceLine, simulateAll } from './simulate.ts'

interface CheckOptions extends LogOptions {
  against?: string[]
  tolerance?: string
}

const refused = refusing('This can not be laid beside the plan.')
const USUAL_TOLERANCE = 0.15

/**
 * Says whether what a plan states still keeps its promises, and describes what happens, for a pipeline that is to stop when it does not.
 */
export async function checkCommand(planFile: string, options: CheckOptions): Promise<ExitStatus> {
  const { plan, log } = await readInput(planFile, options)
  const tolerance =
    options.tolerance === undefined ? USUAL_TOLERANCE : within(refused, '--tolerance', options.tolerance, 'percent', 0.01, 10)
  const happened = options.against && (await happenedIn(options.against, options.columns))
  const load = new Load(plan, log)
  const results = simulateAll(plan, load)
  const drifts = happened ? driftsOf(plan, happened, load, tolerance) : []
  const broken = results.filter((r) => !r.meets)
  const { budget } = planMoney(
    plan,
    results.reduce((sum, r) => sum + (r.money?.perHour ?? 0), 0),
  )
  const spent = budget !== null && budget.left < 0
  const purse = spent
    ? [`All of it costs ${price(-budget.left, plan.currency)} a month more than the budget of ${price(budget.perMonth, plan.currency)}.`]
    : []
  process.stdout.write(
    `${[...results.map((r) => serviceText(plan, r)), verdictText(plan, broken), ...purse, ...drifts.map((d) => d.text)].join('\n')}\n`,
  )
  return broken.length === 0 && !spent && drifts.every((d) => d.describes) ? MET : NOT_MET
}

/** A log that says how long each request took. */
async function happenedIn(files: readonly string[], columns: string | undefined): Promise<RequestLog> {
  const read = await readLog(files, columns)
  if (!read.columns.names.duration)
    throw refused(
      `--against ${files.join(', ')}`,
      'does not say how long each request took; a column such as latency or duration is needed (name it with --columns)',
    )
  return read
}

/** Each stated service beside what happened. */
function driftsOf(plan: Plan, happened: RequestLog, load: Load, tolerance: number): { text: string; describes: boolean }[] {
  const start = happened.isCalendar ? new Date(happened.startSeconds * 1000).toISOString() : plan.horizon.start
  const drifts = plan.services.flatMap((s) => (s.configuration ? (driftOf(plan, s, happened, load, tolerance) ?? []) : []))
  if (drifts.length === 0) throw refused('--against', 'has no request of a service that states a configuration and says how long it took')
  return drifts.map((drift) => {
    const { header, rows } = driftTable(drift, start)
    const figures = rows.length > 0 ? [table(header, rows)] : []
    return { text: ['', ...figures, ...driftWords(drift, start)].join('\n'), describes: describes(drift) }
  })
}

function serviceText(plan: Plan, result: SimulatedService): string {
  const { service, targets, money } = result
  const rows = targets.map((t) => [
    t.className,
    measureWords(t.target),
    limitWords(t.target),
    valueWords(t.target, t.interval?.mean),
    t.headRoom === null ? '' : headRoomWords(t.headRoom),
    certaintyWords(t),
  ])
  const unmeasured = unmeasuredWords(targets)
    .map((words) => `${words}\n`)
    .join('')
  return `${service}${money ? `, ${costWords(plan, money.perHour, service)}` : ''}\n${table(['class', 'target', 'limit', 'simulated', 'to spare', ''], rows)}\n${unmeasured}${relianceLine(result)}`
}

function verdictText({ horizon, currency }: Plan, broken: readonly SimulatedService[]): string {
  if (broken.length === 0) return 'Every stated configuration keeps its promises.'
  return broken
    .flatMap(({ service, targets, guard }) => [
      ...stoppedWords(guard, horizon.start, currency).map((words) => `${service}: ${words}.`),
      ...targets
        .filter((t) => t.certainty !== 'meets')
        .map(
          (t) =>
            `${service} no longer keeps its promise: ${t.className}, ${measureWords(t.target)} ${valueWords(t.target, t.interval?.mean)}, promised ${limitWords(t.target)}${t.certainty === 'likely' ? ' (it may, by chance: the interval is not all on the right side)' : ''}.`,
        ),
    ])
    .join('\n')
}
