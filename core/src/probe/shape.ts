import { ln } from '../arithmetic/sameBits.ts'
import { RandomStream } from '../random/stream.ts'
import { duration } from '../units/duration.ts'

/** What a request asks for: sizes in tokens, or a prompt of one's own. */
export interface Asking {
  input: number
  output: number
  prompt?: string
}

/** One part of a load: a number of callers who come again at once, or requests that are due at times of their own. */
export type ProbePart = {
  /** such as "4 at once"; the class of its rows */
  label: string
  /** before the rest, and not counted */
  warmUp?: boolean
  /** seconds without any request before it, so that whoever goes to sleep does */
  idleSeconds?: number
} & ({ kind: 'closed'; clients: number; asking: Asking[] } | { kind: 'open'; due: Float64Array; asking: Asking[] })

/** What a part showed that decides whether another follows. */
export interface PartShown {
  /** requests answered a second, from the first due to the last end */
  perSecond: number
  /** 95 of 100 finished, and what was promised was kept */
  kept: boolean
}

/** The load of a probe, as people use them. Sizes are taken in turn. */
export type ProbeShape = {
  sizes: Asking[]
  /** each of them apart, one load after the other */
  apart?: boolean
  warmUp: number
  seed: number
} & (
  | { kind: 'one' }
  | { kind: 'one-after-another'; requests: number }
  /** so many at once, each step with so many requests a caller; null: 1, 2, 4 … until no more are answered a second */
  | { kind: 'at-once'; clients: number[] | null; requestsEach: number }
  /** Poisson at each rate in turn, until what is promised breaks */
  | { kind: 'rates'; perSecond: number[]; seconds: number }
  /** at times of their own, with their own sizes */
  | { kind: 'log'; at: Float64Array; asking: Asking[] }
  /** the first call after so long without any, again and again */
  | { kind: 'after-idle'; idleSeconds: number; times: number }
)

/** Most callers at once that a growing load is taken to. */
export const MOST_AT_ONCE = 1024
/** A step that answers less than this much more a second than the one before is the last. */
const GROWS = 1.05

/** Seconds that a load takes by its own times, beside what its answers take: a bound that is not stated lies beyond them. */
export function secondsOfShape(shape: ProbeShape): number {
  const times = shape.apart ? shape.sizes.length : 1
  if (shape.kind === 'rates') return times * shape.perSecond.length * shape.seconds
  if (shape.kind === 'after-idle') return times * shape.times * shape.idleSeconds
  return shape.kind === 'log' ? times * (shape.at.at(-1) ?? 0) : 0
}

/** The parts of a load, each made when what the last one showed is known: `next` is given that. */
export function* partsOfShape(shape: ProbeShape): Generator<ProbePart, void, PartShown> {
  if (!shape.apart || shape.sizes.length < 2) return yield* partsOfSizes(shape)
  for (const [i, size] of shape.sizes.entries()) {
    const load = partsOfSizes({ ...shape, sizes: [size], warmUp: i === 0 ? shape.warmUp : 0 })
    const words = size.prompt === undefined ? `${size.input} + ${size.output} tokens` : `prompt ${i + 1}`
    for (let next = load.next(); !next.done;) next = load.next(yield { ...next.value, label: `${words}, ${next.value.label}` })
  }
}

function* partsOfSizes(shape: ProbeShape): Generator<ProbePart, void, PartShown> {
  const take = askingOf(shape)
  if (shape.warmUp > 0) yield { kind: 'closed', label: 'warm-up', warmUp: true, clients: 1, asking: take(shape.warmUp) }
  switch (shape.kind) {
    case 'one':
      yield { kind: 'closed', label: 'one call', clients: 1, asking: take(1) }
      return
    case 'one-after-another':
      yield { kind: 'closed', label: 'one after another', clients: 1, asking: take(shape.requests) }
      return
    case 'at-once': {
      let best = 0
      for (const clients of shape.clients ?? doubling()) {
        const shown = yield { kind: 'closed', label: `${clients} at once`, clients, asking: take(clients * shape.requestsEach) }
        if (!shape.clients && shown.perSecond < best * GROWS) return
        best = Math.max(best, shown.perSecond)
      }
      return
    }
    case 'rates':
      for (const [i, perSecond] of shape.perSecond.entries()) {
        const due = poisson(perSecond, shape.seconds, new RandomStream(shape.seed, 'probe', `${i}`))
        const shown = yield { kind: 'open', label: `${Number(perSecond.toPrecision(3))} a second`, due, asking: take(due.length) }
        if (!shown.kept) return
      }
      return
    case 'log':
      yield { kind: 'open', label: 'the log', due: shape.at, asking: shape.asking }
      return
    case 'after-idle':
      for (let i = 0; i < shape.times; i++)
        yield {
          kind: 'closed',
          label: plain(`after ${duration(shape.idleSeconds)} without a call`),
          idleSeconds: shape.idleSeconds,
          clients: 1,
          asking: take(1),
        }
  }
}

/** Labels stand in files too, where spaces are spaces. */
const plain = (words: string) => words.replaceAll(/[\u00a0\u202f\u2009]/g, ' ')

/** 1, 2, 4 … */
function* doubling(): Generator<number> {
  for (let clients = 1; clients <= MOST_AT_ONCE; clients *= 2) yield clients
}

/** Sizes in turn, on from where the last part stopped. */
function askingOf({ sizes }: ProbeShape): (count: number) => Asking[] {
  let next = 0
  return (count) => Array.from({ length: count }, () => sizes[next++ % sizes.length])
}

/** Arrivals of a Poisson process within so many seconds. */
function poisson(perSecond: number, seconds: number, random: RandomStream): Float64Array {
  const due: number[] = []
  for (let t = -ln(random.open()) / perSecond; t < seconds; t -= ln(random.open()) / perSecond) due.push(t)
  return Float64Array.from(due)
}
