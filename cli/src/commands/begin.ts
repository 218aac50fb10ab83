import {
  BadInput,
  begunYaml,
  DAYS,
  figuresOf,
  OPENINGS,
  readCatalogue,
  SHAPES,
  writePlan,
  type Figures,
  type Machine,
} from '@sandclock/core'
import { writeFile } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import { MET, type ExitStatus } from '../exitStatus.ts'
import { textFile } from '../input.ts'
import { note } from '../progress.ts'

interface Options {
  like?: string
  rate?: string
  day?: string
  input?: string
  output?: string
  ttft?: string
  latency?: string
  model?: string
  offers?: string
  provider?: string[]
  budget?: string
  currency: string
  json?: boolean
  out?: string
}

/** The made-up market that is delivered with it, seen from the bundle. */
const MARKET = fileURLToPath(new URL('../../examples/harbour-market.csv', import.meta.url))

/** Writes a whole plan from a few figures; what was not said is assumed, and each assumption stands beside its field. */
export async function beginCommand(options: Options): Promise<ExitStatus> {
  const figures = figuresFrom(options)
  const machines = await offers(options.offers)
  knownProviders(figures.providers, machines)
  const { plan, assumed, text: yaml } = begunYaml(figures, machines, options.currency)
  const text = options.json ? writePlan(plan) : yaml
  if (options.out === undefined) process.stdout.write(text)
  else await writeFile(options.out, text)
  if (options.json) for (const { field, words } of assumed) note(`assumed, ${field}: ${words}`)
  return MET
}

async function offers(file: string | undefined): Promise<Machine[]> {
  const { machines, problems } = readCatalogue(
    await textFile(file ?? MARKET),
    /\.json$/i.test(file ?? '') ? 'json' : /\.ya?ml$/i.test(file ?? '') ? 'yaml' : 'csv',
  )
  for (const { row, field, found, rule } of problems) note(`offers, row ${row}, ${field} ${found}: ${rule}`)
  return machines
}

function figuresFrom(options: Options): Figures {
  const opening = among('like', options.like ?? 'chat', OPENINGS)
  const figures = figuresOf(opening)
  const { promises, works } = OPENINGS[opening]
  const other = promises === 'ttft' ? 'latency' : 'ttft'
  if (options[other] !== undefined)
    throw new BadInput('This plan can not be begun.', [
      { path: `--${other}`, rule: `is not what "${opening}" promises; give --${promises}` },
    ])
  if (options.output !== undefined && works !== 'tokens')
    throw new BadInput('This plan can not be begun.', [
      { path: '--output', rule: `is not asked for by "${opening}", whose requests have no tokens` },
    ])
  const shape = options.model === undefined ? figures.shape : among('model', options.model, SHAPES)
  if (SHAPES[shape].works !== works) {
    const fitting = Object.entries(SHAPES)
      .filter(([, s]) => s.works === works)
      .map(([name]) => name)
    throw new BadInput('This plan can not be begun.', [
      { path: '--model', found: shape, rule: `must be one that "${opening}" can use: ${fitting.join(', ')}` },
    ])
  }
  return {
    ...figures,
    ratePerSecond: positive('rate', options.rate, figures.ratePerSecond),
    day: options.day === undefined ? figures.day : among('day', options.day, DAYS),
    input: positive('input', options.input, figures.input),
    output: positive('output', options.output, figures.output),
    promisedSeconds: positive(promises, options[promises], figures.promisedSeconds),
    shape,
    providers: options.provider ?? [],
    budgetPerMonth: options.budget === undefined ? null : positive('budget', options.budget, 0),
  }
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

function among<T extends object>(option: string, value: string, table: T): keyof T & string {
  if (Object.hasOwn(table, value)) return value as keyof T & string // as was just seen
  throw new BadInput('This plan can not be begun.', [
    { path: `--${option}`, found: value, rule: `must be one of ${Object.keys(table).join(', ')}` },
  ])
}

function positive(option: string, text: string | undefined, otherwise: number): number {
  if (text === undefined) return otherwise
  const value = Number(text)
  if (text.trim() !== '' && Number.isFinite(value) && value > 0) return value
  throw new BadInput('This plan can not be begun.', [{ path: `--${option}`, found: text, rule: 'must be a number above 0' }])
}
