import {
  bare,
  BadInput,
  duration,
  grouped,
  parseFigure,
  percent,
  price,
  probedCsv,
  readHowToAsk,
  takenFor,
  threeDigits,
  type Asking,
  type FigureKind,
  type HowToAsk,
  type PartSummary,
  type ProbedPercentiles,
  type ProbeShape,
} from '@sandclock/core'
import { histogramOf, runProbe, type ProbeRecord } from '@sandclock/outside'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { readLog, textFile } from '../input.ts'
import { note, ProgressLine } from '../progress.ts'
import { table } from '../table.ts'
import { writeJson, writePieces } from '../writePieces.ts'

export interface MeasureOptions {
  requests?: string[]
  columns?: string
  calls?: string
  atOnce?: string | true
  each?: string
  rates?: string
  lasts?: string
  afterIdle?: string
  times?: string
  sizes?: string
  apart?: boolean
  prompts?: string
  warmUp?: string
  seed?: string
  firstToken?: string
  latency?: string
  mostRequests?: string
  mostTime?: string
  mostMoney?: string
  allowHost?: string[]
  out?: string
  histogram?: string
  json?: string
}

const TITLE = 'This can not be measured.'
const refused = (path: string, rule: string, found?: string) => new BadInput(TITLE, [{ path, rule, ...(found !== undefined && { found }) }])
/** What the loads are told apart by. */
const KINDS = ['calls', 'atOnce', 'rates', 'requests', 'afterIdle'] as const
const OPTION: Record<(typeof KINDS)[number], string> = {
  calls: '--calls',
  atOnce: '--at-once',
  rates: '--rates',
  requests: '--requests',
  afterIdle: '--after-idle',
}

/** Sends requests to a real endpoint and tells how long they took. Ends early, with what there is, when it is told to. */
export async function measureCommand(howFile: string, options: MeasureOptions): Promise<ExitStatus> {
  const how = readHowToAsk(await textFile(howFile))
  const shape = await shapeOf(options)
  const bounds = {
    requests: figure(options, 'mostRequests', 'count', 1, 1e6, 1000),
    seconds: figure(options, 'mostTime', 'duration', 1, 7 * 86_400, 600),
    money: options.mostMoney === undefined ? Infinity : figure(options, 'mostMoney', 'number', 0, 1e9, 0),
  }
  if (options.mostMoney !== undefined && !how.price)
    throw refused('--most-money', `can not be kept: ${howFile} does not say what a request costs ("price")`)
  const promise = {
    ...(options.firstToken !== undefined && { firstTokenSeconds: figure(options, 'firstToken', 'duration', 0, 3600, 0) }),
    ...(options.latency !== undefined && { latencySeconds: figure(options, 'latency', 'duration', 0, 3600, 0) }),
  }
  const told = new AbortController()
  const stop = () => told.abort()
  process.once('SIGINT', stop).once('SIGTERM', stop)
  const line = new ProgressLine()
  let count = 0
  const record = await runProbe({ how, shape, bounds, promise, allowed: options.allowHost ?? [], environment: process.env }, told.signal, {
    row: (r) => line.show(`${++count} requests, ${r.part}`),
  }).finally(() => {
    line.done()
    process.off('SIGINT', stop).off('SIGTERM', stop)
  })
  if (options.out !== undefined) {
    await writePieces(options.out, probedCsv(record.rows))
    note(`wrote ${options.out}`)
  }
  if (options.histogram !== undefined) await writeJson(options.histogram, histograms(record))
  if (options.json !== undefined)
    await writeJson(options.json, { format: 'sand-clock-measured', version: 1, shape: shape.kind, ...record, rows: undefined })
  process.stdout.write(`${measuredText(how, shape, record)}\n`)
  const counted = record.parts.filter((p) => !p.warmUp)
  return counted.some((p) => (p.outcomes.finished ?? 0) > 0) && counted.every((p) => !p.isVoid) ? MET : NOT_MET
}

async function shapeOf(options: MeasureOptions): Promise<ProbeShape> {
  const kinds = KINDS.filter((k) => options[k] !== undefined)
  if (kinds.length > 1) throw refused(kinds.map((k) => OPTION[k]).join(' and '), 'are loads of their own; measure one after the other')
  const common = {
    sizes: await sizesOf(options),
    apart: options.apart ?? false,
    warmUp: figure(options, 'warmUp', 'count', 0, 1000, 1),
    seed: figure(options, 'seed', 'count', 0, 4_294_967_295, 1),
  }
  switch (kinds.at(0)) {
    case undefined:
      return { ...common, kind: 'one' }
    case 'calls':
      return { ...common, kind: 'one-after-another', requests: figure(options, 'calls', 'count', 1, 1e6, 1) }
    case 'atOnce': {
      const clients = typeof options.atOnce === 'string' ? list('--at-once', options.atOnce, 'count', 1, 1024) : null
      return { ...common, kind: 'at-once', clients, requestsEach: figure(options, 'each', 'count', 1, 1e5, 8) }
    }
    case 'rates':
      return {
        ...common,
        kind: 'rates',
        perSecond: list('--rates', options.rates ?? '', 'rate', 1e-4, 1e4),
        seconds: figure(options, 'lasts', 'duration', 1, 86_400, 60),
      }
    case 'afterIdle':
      return {
        ...common,
        warmUp: options.warmUp === undefined ? 0 : common.warmUp,
        kind: 'after-idle',
        idleSeconds: figure(options, 'afterIdle', 'duration', 0, 86_400, 0),
        times: figure(options, 'times', 'count', 1, 1000, 3),
      }
    case 'requests': {
      const { requests } = await readLog(options.requests ?? [], options.columns)
      const asking = Array.from(requests.at, (_, i): Asking => ({ input: requests.input[i], output: Math.max(1, requests.output[i]) }))
      return { ...common, kind: 'log', at: requests.at.map((t) => t - requests.at[0]), asking }
    }
  }
}

/** Sizes as they are stated, or those of one's own prompts. */
async function sizesOf(options: MeasureOptions): Promise<Asking[]> {
  const sizes = (options.sizes ?? '256+64').split(',').map((text): Asking => {
    const [input, output] = text.split('+').map((n) => parseFigure(n, 'count'))
    if (!(input >= 1 && input <= 1e6 && output >= 1 && output <= 1e6))
      throw refused('--sizes', 'must be tokens of a prompt + tokens of an answer, such as 200+50,4000+400', text)
    return { input, output }
  })
  if (options.prompts === undefined) return sizes
  const prompts = (await textFile(options.prompts)).split(/\r?\n/).filter((p) => p.trim() !== '')
  if (prompts.length === 0) throw refused('--prompts', `must name a file with a prompt a line; there is none in ${options.prompts}`)
  return prompts.map((prompt, i) => ({ ...sizes[i % sizes.length], prompt }))
}

type Named = { [K in keyof MeasureOptions]: MeasureOptions[K] extends string | undefined ? K : never }[keyof MeasureOptions]
function figure(
  options: MeasureOptions,
  name: NonNullable<Named>,
  kind: FigureKind,
  least: number,
  most: number,
  otherwise: number,
): number {
  const text = options[name]
  if (text === undefined) return otherwise
  return within(`--${name.replaceAll(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`, text, kind, least, most)
}

const list = (option: string, text: string, kind: FigureKind, least: number, most: number) =>
  text.split(',').map((t) => within(option, t, kind, least, most))

function within(option: string, text: string, kind: FigureKind, least: number, most: number): number {
  const value = parseFigure(text, kind)
  if (value >= least && value <= most) return value
  const [from, to] = kind === 'duration' ? [duration(least), duration(most)] : [grouped(least, least < 1 ? 4 : 0), grouped(most, 0)]
  throw refused(option, `must be ${kind === 'count' ? 'a whole number' : 'a figure'} from ${from} to ${to}`, text)
}

function histograms({ rows }: ProbeRecord): object {
  const counted = rows.filter((r) => !r.warmUp && r.outcome === 'finished')
  return {
    format: 'sand-clock-histogram',
    version: 1,
    parts: [...new Set(counted.map((r) => r.part))].map((part) => {
      const own = counted.filter((r) => r.part === part)
      return {
        part,
        firstToken: histogramOf(own.map((r) => r.firstToken - r.due)),
        gap: histogramOf(own.flatMap((r) => r.gaps)),
        latency: histogramOf(own.map((r) => r.end - r.due)),
      }
    }),
  }
}

const CUT: Record<NonNullable<ProbeRecord['cutShort']>, string> = {
  requests: 'the most requests that it may send (--most-requests) were sent',
  seconds: 'the longest that it may take (--most-time) was over',
  money: 'the most money that it may cost (--most-money) was spent',
  told: 'it was stopped',
}

function measuredText(how: HowToAsk, shape: ProbeShape, record: ProbeRecord): string {
  const { parts, cutShort, spent, rows } = record
  const lost = rows.filter((r) => r.outcome !== 'finished' && r.outcome !== 'stopped')
  const reasons = [...new Set(lost.map((r) => `${r.outcome}${r.status > 0 ? ` (${r.status})` : ''}${r.why === '' ? '' : `: ${r.why}`}`))]
  return [
    `${how.name ?? how.url}: ${grouped(rows.length, 0)} requests`,
    table(['', 'requests', 'finished', 'a second', 'tokens/s of one', 'of all', 'sent late, p95'], parts.map(row)),
    ...MEASURES.filter(([, of]) => parts.some((p) => of(p).p50)).map(
      ([name, of]) =>
        `\n${table(
          [name, 'p50', 'p95', 'p99'],
          parts.map((p) => [p.part, ...cells(of(p))]),
        )}`,
    ),
    '',
    ...(cutShort ? [`It ended early: ${CUT[cutShort]}; what there is until then is told.`] : []),
    ...(spent !== undefined ? [`It cost ${price(spent, how.price?.currency ?? '')}.`] : []),
    ...reasons.slice(0, 5).map((r) => `did not finish: ${r}`),
    ...takenFor(shape.kind, parts),
  ].join('\n')
}

function row(p: PartSummary): string[] {
  const finished = p.outcomes.finished ?? 0
  return [
    `${p.part}${p.warmUp ? ', not counted' : ''}${p.isVoid ? ', VOID' : ''}`,
    grouped(p.requests, 0),
    percent(p.requests > 0 ? finished / p.requests : 0),
    number(p.perSecond),
    number(p.tokensOfOne),
    number(p.tokensOfAll),
    duration(p.late.p95?.value),
  ]
}

const MEASURES: [string, (p: PartSummary) => ProbedPercentiles][] = [
  ['TTFT (and where it lies with 95 %)', (p) => p.firstToken],
  ['gaps between tokens', (p) => p.gap],
  ['latency', (p) => p.latency],
]

const number = (value: number) => (Number.isNaN(value) ? '–' : bare(threeDigits(value)))

/** Percentiles with their intervals, as far as one is known. */
function cells(of: ProbedPercentiles): string[] {
  return [of.p50, of.p95, of.p99].map((found) => {
    if (!found) return '–'
    const { value, low, high } = found
    if (low === undefined && high === undefined) return duration(value)
    return `${duration(value)} (${low === undefined ? '' : duration(low)} … ${high === undefined ? '' : duration(high)})`
  })
}
