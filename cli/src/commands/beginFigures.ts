import {
  BadInput,
  DAYS,
  figuresOf,
  modelFromShape,
  modelOfSize,
  sizeFrom,
  OPENINGS,
  readCatalogue,
  readModelShape,
  readQuantity,
  SHAPES,
  speedComplaint,
  SPEEDS,
  type Figures,
  type Machine,
  type ModelShape,
  type OpeningName,
  type OwnModel,
  type QuantityKind,
  type ShapeName,
  type Speed,
} from '@sandclock/core'
import { fileURLToPath } from 'node:url'
import { refusing } from '../refusing.ts'
import { textFile } from '../input.ts'
import { note } from '../progress.ts'

/** The made-up market that is delivered with it, seen from the bundle. */
const MARKET = fileURLToPath(new URL('../../examples/harbour-market.csv', import.meta.url))

/** Options that are about the figures of a beginning. */
export interface FigureOptions {
  like?: string
  rate?: string
  day?: string
  input?: string
  output?: string
  ttft?: string
  latency?: string
  model?: string
  facts?: string
  on?: string
  alone?: string
  together?: string
  sideBySide?: string
  reads?: string
  weights?: string
  provider?: string[]
  budget?: string
}

/** What a beginning is asked, from the options; what was not said is as its opening has it. */
export async function figuresFrom(options: FigureOptions, machines: readonly Machine[]): Promise<Figures> {
  const opening = among('like', options.like ?? 'chat', OPENINGS)
  const figures = figuresOf(opening)
  const { promises, works } = OPENINGS[opening]
  const other = promises === 'ttft' ? 'latency' : 'ttft'
  if (options[other] !== undefined) throw cannotBegin(`--${other}`, `is not what "${opening}" promises; give --${promises}`)
  if (options.output !== undefined && works !== 'tokens')
    throw cannotBegin(`--output`, `is not asked for by "${opening}", whose requests have no tokens`)
  const own = await ownFrom(options, opening, machines)
  return {
    ...figures,
    ratePerSecond: positive('rate', options.rate, figures.ratePerSecond),
    day: options.day === undefined ? figures.day : among('day', options.day, DAYS),
    input: positive('input', options.input, figures.input),
    output: positive('output', options.output, figures.output),
    promisedSeconds: positive(promises, options[promises], figures.promisedSeconds),
    shape: own || options.model === undefined ? figures.shape : shapeFrom(options.model, opening),
    ...(own && { own }),
    providers: options.provider ?? [],
    budgetPerMonth: options.budget === undefined ? null : positive('budget', options.budget, 0),
  }
}

/** Machines of a catalogue, or of the made-up market; rows that can not be read are told. */
export async function offers(file: string | undefined): Promise<Machine[]> {
  const { machines, problems } = readCatalogue(
    await textFile(file ?? MARKET),
    /\.json$/i.test(file ?? '') ? 'json' : /\.ya?ml$/i.test(file ?? '') ? 'yaml' : 'csv',
  )
  for (const { row, field, found, rule } of problems) note(`offers, row ${row}, ${field} ${found}: ${rule}`)
  return machines
}

function shapeFrom(name: string, opening: OpeningName): ShapeName {
  const { works } = OPENINGS[opening]
  const shape = among('model', name, SHAPES)
  if (SHAPES[shape].works === works) return shape
  const fitting = Object.entries(SHAPES)
    .filter(([, s]) => s.works === works)
    .map(([fits]) => fits)
  throw cannotBegin('--model', `must be one that "${opening}" can use: ${fitting.join(', ')}`, shape)
}

/** Figures of a speed, by their options. */
const SPEED_OPTIONS = { alone: 'alone', together: 'together', sideBySide: 'side-by-side', reads: 'reads', weights: 'weights' } as const

/** A model of one's own: of a shape file, or as fast as was said. */
async function ownFrom(options: FigureOptions, opening: OpeningName, machines: readonly Machine[]): Promise<OwnModel | undefined> {
  const { works } = OPENINGS[opening]
  const said = (Object.keys(SPEED_OPTIONS) as (keyof typeof SPEED_OPTIONS)[]).find((key) => options[key] !== undefined)
  if (options.on !== undefined) {
    if (options.model !== undefined) throw cannotBegin('--model', 'is not needed where a speed is said with --on; leave one of them out')
    return { from: 'speed', speed: speedFrom(options, opening, machines) }
  }
  if (said) throw cannotBegin(`--${SPEED_OPTIONS[said]}`, 'is a speed that was seen; say on which machine with --on')
  const billions = options.model === undefined || Object.hasOwn(SHAPES, options.model) ? undefined : sizeFrom(options.model)
  if (billions !== undefined && works === 'tokens' && options.facts === undefined) return { from: 'size', model: modelOfSize(billions) }
  // A shape is named by a word, a file by its ending or its folder.
  if (options.model === undefined || Object.hasOwn(SHAPES, options.model) || !/[./\\]/.test(options.model)) {
    if (options.facts !== undefined) throw cannotBegin('--facts', 'is about a shape file; give one with --model')
    return undefined
  }
  if (works !== 'tokens')
    throw cannotBegin('--model', `can not be a shape file for "${opening}", whose requests have no tokens`, options.model)
  const shape = withFacts(
    readModelShape(await textFile(options.model), options.model.split(/[/\\]/).at(-1) ?? options.model),
    options.facts,
  )
  return { from: 'file', model: modelFromShape(shape) }
}

/** A shape with what its file left open, which has to be said. */
function withFacts(shape: ModelShape, said = ''): ModelShape {
  const figures = new Map(
    said
      .split(',')
      .filter(Boolean)
      .map((pair) => pair.split('=').map((part) => part.trim()) as [string, string | undefined])
      .map(([name, value]) => [
        among('facts', name, Object.fromEntries(shape.facts.map((f) => [f.field, f]))),
        positive('facts', value ?? '', 0),
      ]),
  )
  const facts = shape.facts.map((f) => ({ ...f, value: figures.get(f.field) ?? f.value }))
  const open = facts.filter((f) => f.value === undefined)
  if (open.length === 0) return { ...shape, facts }
  throw new BadInput(
    'This plan can not be begun.',
    open.map((f) => ({ path: '--model', rule: `does not tell ${f.field} (${f.how}); say it with --facts ${f.field}=NUMBER` })),
  )
}

function speedFrom(options: FigureOptions, opening: OpeningName, machines: readonly Machine[]): Speed {
  const machine = machines.find((m) => m.name === options.on)
  if (!machine) throw cannotBegin('--on', `must be one of the offers: ${machines.map((m) => m.name).join(', ')}`, options.on)
  if (options.provider && !options.provider.includes(machine.provider))
    throw cannotBegin('--provider', `leaves ${machine.provider} out, of whose machine the speed is; leave it out or add that`)
  const usual = SPEEDS[OPENINGS[opening].works]
  const alone = positive('alone', options.alone, usual.alone)
  const sideBySide = positive('side-by-side', options.sideBySide, options.alone === undefined ? usual.sideBySide : 1)
  if (!Number.isInteger(sideBySide)) throw cannotBegin('--side-by-side', 'must be a whole number', options.sideBySide)
  const otherwise = options.alone === undefined ? usual.together : alone
  const speed: Speed = {
    machine: machine.name,
    alone,
    sideBySide,
    together: positive('together', options.together, otherwise),
    reads: positive('reads', options.reads, usual.reads),
    weightBytes: quantity('weights', options.weights, 'bytes', usual.weightBytes),
  }
  const complaint = speedComplaint(speed)
  if (complaint !== undefined) throw cannotBegin('--together', `makes no speed: ${complaint}`)
  return speed
}

function quantity(option: string, text: string | undefined, kind: QuantityKind, otherwise: number): number {
  if (text === undefined) return otherwise
  const reading = readQuantity(text, kind)
  if ('complaint' in reading) throw cannotBegin(`--${option}`, reading.complaint, text)
  return reading.value
}

export const cannotBegin = refusing('This plan can not be begun.')

export function among<T extends object>(option: string, value: string, table: T): keyof T & string {
  if (Object.hasOwn(table, value)) return value as keyof T & string // as was just seen
  throw cannotBegin(`--${option}`, `must be one of ${Object.keys(table).join(', ')}`, value)
}

export function positive(option: string, text: string | undefined, otherwise: number): number {
  if (text === undefined) return otherwise
  const value = Number(text)
  if (text.trim() !== '' && Number.isFinite(value) && value > 0) return value
  throw cannotBegin(`--${option}`, 'must be a number above 0', text)
}
