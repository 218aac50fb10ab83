import {
  FINDING_COSTS,
  parseFigure,
  PROBE_RANGES,
  sentOfLog,
  type Asking,
  type FigureKind,
  type ProbeRange,
  type ProbeShape,
} from '@sandclock/core'
import { readLog, textFile } from './input.ts'
import { refusing } from './refusing.ts'
import { within } from './within.ts'

/** Options that say which load is sent. */
export interface ProbeShapeOptions {
  requests?: string[]
  columns?: string
  calls?: string
  atOnce?: string | true
  each?: string
  rates?: string
  lasts?: string
  afterIdle?: string
  findIdle?: string | true
  mostIdle?: string
  findCosts?: string | true
  times?: string
  sizes?: string
  apart?: boolean
  prompts?: string
  warmUp?: string
  seed?: string
}

const refused = refusing('This can not be measured.')
/** What the loads are told apart by. */
const KINDS = ['calls', 'atOnce', 'rates', 'requests', 'afterIdle', 'findIdle', 'findCosts'] as const
const OPTION: Record<(typeof KINDS)[number], string> = {
  calls: '--calls',
  atOnce: '--at-once',
  rates: '--rates',
  requests: '--requests',
  afterIdle: '--after-idle',
  findIdle: '--find-idle',
  findCosts: '--find-costs',
}

/** The load that the options say. @throws BadInput for one that can not be sent */
export async function shapeOf(options: ProbeShapeOptions): Promise<ProbeShape> {
  const kinds = KINDS.filter((k) => options[k] !== undefined)
  if (kinds.length > 1) throw refused(kinds.map((k) => OPTION[k]).join(' and '), 'are loads of their own; measure one after the other')
  const common = {
    sizes: await sizesOf(options),
    apart: options.apart ?? false,
    warmUp: figure('--warm-up', options.warmUp, 'count', 'warmUp', 1),
    seed: figure('--seed', options.seed, 'count', 'seed', 1),
  }
  switch (kinds.at(0)) {
    case undefined:
      return { ...common, kind: 'one' }
    case 'calls':
      return { ...common, kind: 'one-after-another', requests: figure('--calls', options.calls, 'count', 'calls', 1) }
    case 'atOnce': {
      const clients = typeof options.atOnce === 'string' ? list('--at-once', options.atOnce, 'count', 'clients') : null
      return { ...common, kind: 'at-once', clients, requestsEach: figure('--each', options.each, 'count', 'each', 8) }
    }
    case 'rates':
      return {
        ...common,
        kind: 'rates',
        perSecond: list('--rates', options.rates ?? '', 'rate', 'perSecond'),
        seconds: figure('--lasts', options.lasts, 'duration', 'lastsSeconds', 60),
      }
    case 'afterIdle':
      return {
        ...common,
        warmUp: options.warmUp === undefined ? 0 : common.warmUp,
        kind: 'after-idle',
        idleSeconds: figure('--after-idle', options.afterIdle, 'duration', 'idleSeconds', 0),
        times: figure('--times', options.times, 'count', 'times', 3),
      }
    case 'findIdle':
      return {
        ...common,
        kind: 'find-idle',
        fromSeconds: figure(
          '--find-idle',
          typeof options.findIdle === 'string' ? options.findIdle : undefined,
          'duration',
          'soughtSeconds',
          60,
        ),
        mostSeconds: figure('--most-idle', options.mostIdle, 'duration', 'soughtSeconds', 1800),
      }
    case 'findCosts':
      return {
        ...common,
        kind: 'find-costs',
        clients:
          typeof options.findCosts === 'string' ? list('--find-costs', options.findCosts, 'count', 'clients') : [...FINDING_COSTS.clients],
        requestsEach: figure('--each', options.each, 'count', 'each', FINDING_COSTS.requestsEach),
        judgeSeconds: figure('--lasts', options.lasts, 'duration', 'lastsSeconds', FINDING_COSTS.judgeSeconds),
      }
    case 'requests': {
      const { requests } = await readLog(options.requests ?? [], options.columns)
      return { ...common, kind: 'log', ...sentOfLog(requests) }
    }
  }
}

/** Sizes as they are stated, or those of one's own prompts. */
async function sizesOf(options: ProbeShapeOptions): Promise<Asking[]> {
  if (options.sizes === undefined && options.findCosts !== undefined && options.prompts === undefined) return [...FINDING_COSTS.sizes]
  const sizes = (options.sizes ?? '256+64').split(',').map((text): Asking => {
    const [input, output] = text.split('+').map((n) => parseFigure(n, 'count'))
    const [least, most] = PROBE_RANGES.tokens
    if (!(input >= least && input <= most && output >= least && output <= most))
      throw refused('--sizes', 'must be tokens of a prompt + tokens of an answer, such as 200+50,4000+400', text)
    return { input, output }
  })
  if (options.prompts === undefined) return sizes
  const prompts = (await textFile(options.prompts)).split(/\r?\n/).filter((p) => p.trim() !== '')
  if (prompts.length === 0) throw refused('--prompts', `must name a file with a prompt a line; there is none in ${options.prompts}`)
  return prompts.map((prompt, i) => ({ ...sizes[i % sizes.length], prompt }))
}

/** A figure of an option, if it is there. */
export function optional(option: string, text: string | undefined, kind: FigureKind, of: ProbeRange): number | undefined {
  return text === undefined ? undefined : inRange(option, text, kind, of)
}

/** A figure of an option, or what it is where it is left out. */
function figure(option: string, text: string | undefined, kind: FigureKind, of: ProbeRange, otherwise: number): number {
  return optional(option, text, kind, of) ?? otherwise
}

const list = (option: string, text: string, kind: FigureKind, of: ProbeRange) => text.split(',').map((t) => inRange(option, t, kind, of))

function inRange(option: string, text: string, kind: FigureKind, of: ProbeRange): number {
  const [least, most] = PROBE_RANGES[of]
  return within(refused, option, text, kind, least, most)
}
