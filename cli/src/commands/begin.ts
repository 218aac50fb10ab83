import {
  BadInput,
  ASPECTS,
  begunFromLog,
  begunYaml,
  fitHistory,
  fitLog,
  parseFigure,
  ROLES,
  writePlan,
  type Figures,
  type FromLog,
  type LogFit,
  type Machine,
  type Role,
} from '@sandclock/core'
import { askHistory } from '@sandclock/outside'
import { writeFile } from 'node:fs/promises'
import { dirname, relative } from 'node:path'
import { MET, type ExitStatus } from '../exitStatus.ts'
import { historyTexts, metricsAndRoles } from '../histories.ts'
import { readLog, sayRead } from '../input.ts'
import { note } from '../progress.ts'
import { among, cannotBegin, figuresFrom, offers, positive, type FigureOptions } from './beginFigures.ts'

interface Options extends FigureOptions {
  from?: string[]
  columns?: string
  metrics?: string
  by?: string
  select?: string
  past?: string
  step?: string
  allowHost?: string[]
  as?: string
  leave?: string
  scale?: string
  shift?: string
  grow?: string
  variation?: string
  offers?: string
  currency: string
  json?: boolean
  out?: string
}

/** What a monitoring server is asked for where nothing else is said: a week and a day, by steps that show its hours. */
const PAST_SECONDS = 8 * 86_400
const STEP_SECONDS = 300

/** Writes a whole plan from a few figures; what was not said is assumed, and each assumption stands beside its field. */
export async function beginCommand(options: Options): Promise<ExitStatus> {
  const machines = await offers(options.offers)
  const figures = await figuresFrom(options, machines)
  knownProviders(figures.providers, machines)
  const {
    plan,
    comments,
    text: yaml,
  } = options.from === undefined
    ? withoutLog(options, figures, machines)
    : begunFromLog(figures, machines, options.currency, await fromLog(options.from, options))
  const text = options.json ? writePlan(plan) : yaml
  if (options.out === undefined) process.stdout.write(text)
  else await writeFile(options.out, text)
  if (options.json) for (const { field, words } of comments) note(`${field}: ${words}`)
  return MET
}

/** An option as it is typed. */
const written = (option: string) => `--${option.replaceAll(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`

function withoutLog(options: Options, figures: Figures, machines: readonly Machine[]) {
  for (const option of [
    'columns',
    'metrics',
    'by',
    'select',
    'past',
    'step',
    'allowHost',
    'as',
    'leave',
    'scale',
    'shift',
    'grow',
    'variation',
  ] as const)
    if (options[option] !== undefined) throw cannotBegin(written(option), 'is about a log or a history; give one with --from')
  return begunYaml(figures, machines, options.currency)
}

/** What is taken of a log, and what of it is another. */
async function fromLog(files: readonly string[], options: Options): Promise<FromLog> {
  const came = among('as', options.as ?? 'such', { such: 1, came: 1 }) === 'came'
  const ofDrawn = (['leave', 'scale', 'shift', 'grow', 'variation'] as const).find((o) => options[o] !== undefined)
  if (came && ofDrawn) throw cannotBegin(`--${ofDrawn}`, 'changes a load that is drawn; a log as it came stays as it is')
  for (const option of ['rate', 'day', 'input', 'output'] as const)
    if (options[option] !== undefined) throw cannotBegin(`--${option}`, 'is what the log says; leave it out')
  const history = await historyFrom(files, options)
  if (history && came) throw cannotBegin('--as', 'can not be "came" for a metrics history, which has no single requests')
  if (history && options.columns !== undefined)
    throw cannotBegin('--columns', 'is about a log, and this is a metrics history; say --metrics')
  if (history) return { ...history, taken: takenOf(history.fit, options.leave), change: changeFrom(options) }
  for (const option of ['metrics', 'by', 'variation'] as const)
    if (options[option] !== undefined) throw cannotBegin(`--${option}`, 'is about a metrics history, and this is a log')
  const log = await readLog(files, options.columns)
  sayRead(log)
  const fit = fitLog(log)
  if (came) return { fit, as: 'came', log: { ...log, files: files.map((file) => nameFrom(options.out, file)) } }
  return { fit, as: 'such', log, taken: takenOf(fit, options.leave), change: changeFrom(options) }
}

function takenOf(fit: LogFit, leave = ''): NonNullable<FromLog['taken']> {
  const left = new Set(
    leave
      .split(',')
      .filter(Boolean)
      .map((name) => among('leave', name.trim(), ASPECTS)),
  )
  return Object.fromEntries(fit.classes.map((c) => [c.name, c.clear.filter((aspect) => !left.has(aspect))]))
}

const changeFrom = (options: Options): NonNullable<FromLog['change']> => ({
  scale: positive('scale', options.scale, 1),
  ...(options.shift !== undefined && { shiftHours: wholeHours(options.shift) }),
  ...(options.grow !== undefined && { growthPerMonth: growth(options.grow) }),
  ...(options.variation !== undefined && { variation: positive('variation', options.variation, 1) }),
})

/** What a metrics history is like; undefined for what is a log. */
async function historyFrom(
  paths: readonly string[],
  options: Options,
): Promise<{ fit: LogFit; as: 'such'; log: { name: string } } | undefined> {
  const files = paths.every(isAddress) ? await asked(paths, options) : await historyFiles(paths, options)
  if (!files) return undefined
  const { metrics, roles } = metricsAndRoles(files, options.metrics, cannotBegin)
  const fit = fitHistory(metrics, roles, options.by)
  note(
    `A metrics history: ${Object.entries(roles)
      .map(([role, name]) => `${name} as ${ROLES[role as Role]}`)
      .join(', ')}; ${fit.classes.length === 1 ? 'one class' : `${fit.classes.length} classes`}. ` +
      `What is not what it is taken for is said with --metrics arrivals=NAME,input=NAME,output=NAME; classes with --by LABEL.`,
  )
  return { fit, as: 'such', log: { name: paths[0] } }
}

const isAddress = (path: string) => /^https?:\/\//i.test(path)

/** What monitoring servers answer to a question about their past. */
function asked(addresses: readonly string[], options: Options): Promise<{ name: string; text: string }[]> {
  const question = {
    select: options.select ?? '',
    pastSeconds: time('past', options.past, PAST_SECONDS),
    stepSeconds: time('step', options.step, STEP_SECONDS),
  }
  return Promise.all(
    addresses.map(async (address) => ({
      name: new URL(address).host,
      text: await askHistory({ ...question, address }, options.allowHost ?? [], Date.now() / 1000),
    })),
  )
}

function time(option: string, text: string | undefined, otherwise: number): number {
  const seconds = text === undefined ? otherwise : parseFigure(text, 'duration')
  if (seconds > 0) return seconds
  throw cannotBegin(`--${option}`, 'must be a time such as 8 d or 5 min', text)
}

/** Files that are a history; undefined for what is a log. */
async function historyFiles(paths: readonly string[], options: Options): Promise<{ name: string; text: string }[] | undefined> {
  if (paths.some(isAddress)) throw cannotBegin('--from', 'must be files or addresses of monitoring servers, not both')
  for (const option of ['select', 'past', 'step', 'allowHost'] as const)
    if (options[option] !== undefined) throw cannotBegin(written(option), 'is about a monitoring server, and --from is a file')
  return historyTexts(paths)
}

/** A plan names its log from where it lies itself. */
const nameFrom = (out: string | undefined, log: string) => (out === undefined ? log : relative(dirname(out), log))

function wholeHours(text: string): number {
  const hours = Number(text)
  if (text.trim() !== '' && Number.isInteger(hours) && Math.abs(hours) < 24) return hours
  throw cannotBegin('--shift', 'must be a whole number of hours, from −23 to 23', text)
}

function growth(text: string): number {
  const share = Number(text)
  if (text.trim() !== '' && share > -1 && share <= 10) return share
  throw cannotBegin('--grow', 'must be a share above −1 and at most 10: 0.1 is 10 per cent more each month', text)
}

function knownProviders(wanted: readonly string[], machines: readonly Machine[]): void {
  const known = [...new Set(machines.map((m) => m.provider))]
  const strange = wanted.filter((name) => !known.includes(name))
  if (strange.length > 0)
    throw new BadInput(
      'This plan can not be begun.',
      strange.map((found) => ({ path: '--provider', found, rule: `is not among the offers, which are of ${known.join(', ')}` })),
    )
}
