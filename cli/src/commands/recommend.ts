import {
  answerWords,
  BadInput,
  breakingSentences,
  callersWords,
  certaintyWords,
  driveElsewhere,
  fleetWords,
  headRoomWords,
  isOverBudget,
  isSearched,
  metWords,
  mostWords,
  frontier,
  frontierOptions,
  Load,
  measureWords,
  paidWords,
  perRequestCsv,
  price,
  purseWords,
  recommend,
  run,
  settingWords,
  takeWord,
  countCell,
  guardWords,
  MOST_SIDE_BY_SIDE,
  unpromisedLosses,
  valueWords,
  limitWords,
  observedRun,
  volumeCurves,
  volumeWords,
  worldsSeenWords,
  waitLeft,
  whereWords,
  surchargeWords,
  machinesNeeded,
  machineUse,
  machineUseTable,
  neededWords,
  type Answer,
  type Choice,
  type FleetRun,
  type Meter,
  type FrontierPoint,
  type Plan,
  type RejectedOption,
  type RequestLog,
  type RunRecord,
  type ServiceAnswer,
} from '@sandclock/core'
import { trialPool, usualThreads } from '@sandclock/threads'
import { chosenSpecs } from '../chosen.ts'
import { detailsText } from '../details.ts'
import { checkDistributions, toldDistributions, type DistributionOptions } from '../distributions.ts'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { readInput, type LogOptions } from '../input.ts'
import { note, ProgressLine } from '../progress.ts'
import { table } from '../table.ts'
import { worldCount, worldsText } from '../worldsText.ts'
import { writeJson, writePieces } from '../writePieces.ts'

interface Options extends LogOptions, DistributionOptions {
  json?: boolean
  perRequest?: string
  all?: boolean
  explain?: boolean
  details?: boolean
  out?: string
  frontier?: string
  threads?: string
  waitLeft?: string
  worlds?: string | true
}

const MOST_THREADS_ASKED = 64

export async function recommendCommand(planFile: string, options: Options): Promise<ExitStatus> {
  const { plan, log } = await readInput(planFile, options)
  checkDistributions(plan, options, (options.json || options.explain) ?? false)
  const threads = threadCount(options.threads)
  const count = worldCount(options)
  const load = new Load(plan, log, threads > 1 ? SharedArrayBuffer : ArrayBuffer)
  const { answer, frontiers } = await search(plan, load, threads, options.frontier !== undefined)
  const wantsRecords = options.perRequest !== undefined || options.distributions !== undefined
  const ran = wantsRecords ? records(plan, load, answer) : new Map<string, RunRecord>()
  const times = await toldDistributions(plan, ran, options)
  const drawn = count === undefined ? [] : worldsText(plan, load, answer, count)
  const text = options.json
    ? `${JSON.stringify(answer, null, 2)}\n`
    : options.explain
      ? `${[...answerWords(answer), ...drawn].join('\n\n')}\n`
      : [
          answerText(answer, options.all ?? false),
          ...(options.details ? chosenDetails(plan, load, answer, log) : []),
          ...(drawn.length > 0 ? [`${drawn.join('\n')}\n`] : []),
          ...(times.length > 0 ? [`${times.join('\n\n')}\n`] : []),
        ].join('\n')
  if (options.out === undefined) process.stdout.write(text)
  else await writePieces(options.out, [text])
  if (options.perRequest !== undefined) {
    await writePieces(options.perRequest, perRequestCsv(plan, load.all(0), ran))
    note(`wrote ${options.perRequest}`)
  }
  if (options.frontier !== undefined) await writeJson(options.frontier, frontiers)
  if (options.waitLeft !== undefined)
    await writeJson(
      options.waitLeft,
      chosenSpecs(plan, answer).map(({ spec }) => waitLeft(plan, spec, load)),
    )
  return answer.meets ? MET : NOT_MET
}

/** @throws BadInput for a number of threads that is none */
function threadCount(text: string | undefined): number {
  if (text === undefined) return usualThreads()
  const threads = Number(text)
  if (Number.isInteger(threads) && threads >= 1 && threads <= MOST_THREADS_ASKED) return threads
  throw new BadInput('The number of threads can not be used.', [
    { path: '--threads', found: text, rule: `must be a whole number from 1 to ${MOST_THREADS_ASKED}` },
  ])
}

interface Found {
  answer: Answer
  /** points around the ranked options of every service, if they are wanted */
  frontiers: Record<string, FrontierPoint[]>
}

async function search(plan: Plan, load: Load, threads: number, wantsFrontier: boolean): Promise<Found> {
  const pool = trialPool(plan, load, threads)
  const line = new ProgressLine()
  try {
    const answer = await driveElsewhere(recommend(plan, load), pool, (p) => {
      line.show(`${p.settled} of ${p.total} options settled, ${p.simulations} simulations; ${p.doing}`)
    })
    const frontiers: Found['frontiers'] = {}
    for (const found of wantsFrontier ? answer.services : []) {
      const service = plan.services.find((s) => s.name === found.service)
      if (!service) continue
      frontiers[found.service] = await driveElsewhere(frontier(plan, service, frontierOptions(found)), pool, (points) =>
        line.show(`the frontier of ${found.service}: ${points.length} points`),
      )
    }
    return { answer, frontiers }
  } finally {
    line.done()
    await pool.stop()
  }
}

function records(plan: Plan, load: Load, answer: Answer): Map<string, RunRecord> {
  return new Map(
    chosenSpecs(plan, answer).map(({ name, spec }) => [name, run(plan, spec, load.of(spec.service, 0), { toTheEnd: true }).record]),
  )
}

/** What is behind each configuration that is recommended. */
function chosenDetails(plan: Plan, load: Load, answer: Answer, log: RequestLog | undefined): string[] {
  const runs: (FleetRun & { meter: Meter })[] = []
  const details = chosenSpecs(plan, answer).flatMap(({ name, chosen, spec, others }) => {
    const { candidate, groups } = spec
    const observed = observedRun(plan, spec, load.of(spec.service, 0))
    runs.push({ candidate, groups, life: observed.life, meter: observed.meter })
    const seen = {
      candidate,
      groups,
      observed,
      perHour: chosen.money.perHour,
      committedGroups: chosen.committedMachines / candidate.group.machines,
    }
    const volume = [...volumeCurves(plan, spec, others, load, (p) => new Load(p, log))].at(-1)
    return [
      `${name.toUpperCase()}, in detail`,
      ...detailsText(plan, load, seen),
      ...(volume ? [volumeWords(volume, plan.currency).join('\n')] : []),
      '',
    ]
  })
  const use = machineUseTable(machineUse(plan, runs))
  return [
    ...details,
    ...(use.rows.length > 0 ? [`${use.title}\n${table(use.header, use.rows)}`, ''] : []),
    ...neededWords(plan, machinesNeeded(runs)).map((w) => `${w}.`),
    '',
  ]
}

function answerText(answer: Answer, all: boolean): string {
  const parts = answer.services.map((s) => serviceText(answer, s, all))
  if (answer.conflict !== null) parts.push(answer.conflict)
  const verdict = answer.meets
    ? `${metWords(answer)}, ${price(answer.perHour, answer.currency)} an hour.`
    : isOverBudget(answer)
      ? 'Every target is met, but not within the budget.'
      : `${metWords(answer)}; the reasons stand above.`
  return `${[...parts, [verdict, ...purseWords(answer)].join('\n')].join('\n\n')}\n`
}

function serviceText(answer: Answer, s: ServiceAnswer, all: boolean): string {
  const searched = isSearched(answer.plan, s.service)
  const head = `${s.service.toUpperCase()}: ${searched ? `${s.candidates} options` : 'as stated'}, ${s.simulations} simulations`
  if (!s.chosen && !searched) return [head, ...s.rejected.map((r) => `It can not be had or run: ${r.reason}`)].join('\n')
  if (!s.chosen) return [head, 'No option meets the targets.', rejectedText(s.rejected, all)].join('\n')
  const surcharge = surchargeWords(answer.plan, s.chosen.machine)
  return [
    head,
    ...unpromisedLosses(answer.plan, s.classes).map((w) => `${w}.`),
    table(
      ['', 'machines', 'where', 'variant', 'devices', 'side by side', 'replicas', 'a month', '1 000 requests', '1 M tokens'],
      [
        choiceRow(searched ? takeWord([s.chosen.purchase]) : 'stated', s.chosen, answer.currency),
        ...s.runnersUp.map((c, i) => choiceRow(`${i + 2}.`, c, answer.currency)),
      ],
    ),
    ...(s.passedOver === null ? [] : [`${s.passedOver}.`]),
    `${searched ? 'The first' : 'Of these figures'}: ${[...s.chosen.reliance, ...(surcharge ? [surcharge] : [])].join('; ')}.`,
    targetsText(s.chosen),
    ...(s.chosen.worlds ? [`It holds ${worldsSeenWords(s.chosen)}, as the plan asks.`] : []),
    ...callersWords(answer.plan, s.met).map((w) => `${w}.`),
    s.breaking
      ? breakingSentences(s.breaking)
          .map((w) => `${w}.`)
          .join('\n')
      : '',
    ...mostWords(answer.plan, s.service, s.chosen).map((w) => `${w}.`),
    ...(s.guard ? guardWords(s.guard, answer.plan.horizon.start, answer.currency) : []).map((w) => `${w}.`),
    rejectedText(s.rejected, all),
  ].join('\n')
}

function choiceRow(name: string, c: Choice, currency: string): string[] {
  const { money } = c
  return [
    name,
    `${fleetWords(c)}${paidWords(c)}${c.policy ? `, ${c.policy}` : ''}`,
    whereWords(c) || '–',
    c.variant,
    countCell(c.devices, c.purchase),
    `${c.sequences >= MOST_SIDE_BY_SIDE ? 'any' : c.sequences}${c.setting ? `, ${settingWords(c.setting)}` : ''}`,
    countCell(c.replicas, c.purchase),
    price(money.perMonth, currency),
    price(money.perThousandRequests, currency),
    money.perMillionTokens === undefined ? '–' : price(money.perMillionTokens, currency),
  ]
}

export function targetsText(choice: Pick<Choice, 'targets'>): string {
  if (choice.targets.length === 0) return 'No targets are stated.'
  return table(
    ['class', 'target', 'limit', 'simulated', '95 % interval', 'head-room', ''],
    choice.targets.map((t) => [
      t.className,
      measureWords(t.target),
      limitWords(t.target),
      valueWords(t.target, t.interval?.mean),
      t.interval && t.interval.runs > 1
        ? `${valueWords(t.target, t.interval.low)} to ${valueWords(t.target, t.interval.high)}`
        : 'one run, no interval',
      headRoomWords(t.headRoom),
      certaintyWords(t),
    ]),
  )
}

function rejectedText(rejected: readonly RejectedOption[], all: boolean): string {
  if (all) {
    return table(
      ['rejected', 'variant', 'devices', 'side by side', 'because'],
      rejected.map((r) => [
        r.machine,
        r.variant,
        String(r.devices),
        `${r.sequences}${r.setting ? `, ${settingWords(r.setting)}` : ''}`,
        r.reason,
      ]),
    )
  }
  const groups = new Map<string, RejectedOption[]>()
  for (const r of rejected) groups.set(r.rejection.kind, [...(groups.get(r.rejection.kind) ?? []), r])
  return [...groups.values()]
    .sort((a, b) => b.length - a.length)
    .map(
      (group) =>
        `${String(group.length).padStart(4)} rejected, such as ${group[0].machine}, ${group[0].variant}, ${group[0].devices === 1 ? '1 device' : `${group[0].devices} devices`}: ${group[0].reason}`,
    )
    .join('\n')
}
