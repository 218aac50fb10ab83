import {
  certaintyWords,
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
  type SimulatedService,
} from '@sandclock/core'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { happenedIn, refused } from '../against.ts'
import { readInput, type LogOptions } from '../input.ts'
import { within } from '../within.ts'
import { table } from '../table.ts'
import { relianceLine, simulateAll } from './simulate.ts'

interface CheckOptions extends LogOptions {
  against?: string[]
  metrics?: string
  tolerance?: string
}

const USUAL_TOLERANCE = 0.15

/**
 * Says whether what a plan states still keeps its promises, and describes what happens, for a pipeline that is to stop when it does not.
 */
export async function checkCommand(planFile: string, options: CheckOptions): Promise<ExitStatus> {
  const { plan, log } = await readInput(planFile, options)
  const tolerance =
    options.tolerance === undefined ? USUAL_TOLERANCE : within(refused, '--tolerance', options.tolerance, 'percent', 0.01, 10)
  const beside = options.against && (await happenedIn(options.against, options))
  const load = new Load(plan, log)
  const results = simulateAll(plan, load)
  const drifts = beside?.(plan, load, tolerance) ?? []
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
