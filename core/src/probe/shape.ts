import { ln } from '../arithmetic/sameBits.ts'
import type { Requests } from '../demand/requests.ts'
import { RandomStream } from '../random/stream.ts'
import { AWAKE, afterIdleLabel, isCold } from './idle.ts'

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
  /** until the first token, in the middle of those that finished */
  firstSeconds?: number
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
  /** after how long without a call it sleeps: from a time on, doubled until it does or so long, and then between the two */
  | { kind: 'find-idle'; fromSeconds: number; mostSeconds: number }
  /** so many at once, to find step costs; then others to judge them by, each so long: a share of what the best answered, a spike */
  | { kind: 'find-costs'; clients: number[]; requestsEach: number; judgeSeconds: number }
)

/** What finds step costs as a rule: alone, with a few and with many, prompts and answers of two sizes. */
export const FINDING_COSTS = {
  clients: [1, 4, 16],
  requestsEach: 12,
  judgeSeconds: 60,
  sizes: [
    { input: 200, output: 60 },
    { input: 1600, output: 120 },
  ],
} as const

/** What of a load judges: its rows are never fitted. */
const JUDGES = 'to judge by: '
export const isJudging = (part: string): boolean => part.includes(JUDGES)
/** What a part is called, without what it is for. */
export const withoutPurpose = (part: string): string => part.replace(JUDGES, '')
/** Of what the best step answered a second: what judges comes so often, and a spike so often before, at its height and after. */
const JUDGED_SHARE = 0.7
const SPIKE_SHARES = [0.4, 1.2, 0.4] as const

/** What a measurement through a server sends at the most: all of its requests are kept until the page has them. */
export const MOST_THROUGH_SERVER = 100_000

/** Most callers at once that a growing load is taken to. */
export const MOST_AT_ONCE = 1024
/** A step that answers less than this much more a second than the one before is the last. */
const GROWS = 1.05

/** What is sent of a request log: times from its first request on, and sizes, none without a token. @param most requests of it */
export function sentOfLog(
  { at, input, output }: Pick<Requests, 'at' | 'input' | 'output'>,
  most = Infinity,
): { at: Float64Array; asking: Asking[] } {
  const times = at.subarray(0, Math.min(most, at.length)).map((t) => t - at[0])
  return { at: times, asking: Array.from(times, (_, i) => ({ input: Math.max(1, input[i]), output: Math.max(1, output[i]) })) }
}

/** What of a load says how long it takes: a stated one has as much as one that was read. */
export type TimedShape = Untimed<ProbeShape>
type Untimed<T> = T extends unknown
  ? Omit<T, 'warmUp' | 'seed' | 'sizes' | 'apart' | 'asking' | 'at'> & {
      sizes: readonly unknown[]
      apart?: boolean | undefined
    } & (T extends { at: unknown } ? { at: ArrayLike<number> } : unknown)
  : never

/** Seconds that a load takes by its own times, beside what its answers take: a bound that is not stated lies beyond them. */
export function secondsOfShape(shape: TimedShape): number {
  const times = shape.apart ? shape.sizes.length : 1
  if (shape.kind === 'rates') return times * shape.perSecond.length * shape.seconds
  if (shape.kind === 'after-idle') return times * shape.times * shape.idleSeconds
  // All that doubling tries, and as much again between the last two.
  if (shape.kind === 'find-idle') return times * IDLE_TIMES * shape.mostSeconds
  if (shape.kind === 'find-costs') return times * 2 * shape.judgeSeconds
  return shape.kind === 'log' ? times * (shape.at[shape.at.length - 1] ?? 0) : 0
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
    case 'find-costs':
      return yield* findingCosts(shape, take)
    case 'rates':
      for (const [i, perSecond] of shape.perSecond.entries()) {
        const due = poisson(perSecond, shape.seconds, new RandomStream(shape.seed, 'probe', `${i}`))
        const shown = yield { kind: 'open', label: rateWords(perSecond), due, asking: take(due.length) }
        if (!shown.kept) return
      }
      return
    case 'log':
      yield { kind: 'open', label: 'the log', due: shape.at, asking: shape.asking }
      return
    case 'after-idle':
      for (let i = 0; i < shape.times; i++) yield afterIdle(shape.idleSeconds, take)
      return
    case 'find-idle':
      return yield* findingIdle(shape, take)
  }
}

const afterIdle = (idleSeconds: number, take: (count: number) => Asking[]): ProbePart => ({
  kind: 'closed',
  label: afterIdleLabel(idleSeconds),
  idleSeconds,
  clients: 1,
  asking: take(1),
})

/** Calls by which one tells who waits for a start-up. */
const AWAKE_CALLS = 5
/** The two idle times are near enough when they are this share, or so many seconds, from each other. */
const NEAR_SHARE = 0.1
const NEAR_SECONDS = 1
/** Of the longest idle time: at most twice it until it sleeps, and less than three times it between awake and asleep. */
const IDLE_TIMES = 5

function* findingIdle(
  { fromSeconds, mostSeconds }: Extract<ProbeShape, { kind: 'find-idle' }>,
  take: (count: number) => Asking[],
): Generator<ProbePart, void, PartShown> {
  const { firstSeconds: warm } = yield { kind: 'closed', label: AWAKE, clients: 1, asking: take(AWAKE_CALLS) }
  if (warm === undefined) return
  let [awake, asleep] = [0, Infinity]
  for (let idle = Math.min(fromSeconds, mostSeconds); ;) {
    const { firstSeconds } = yield afterIdle(idle, take)
    if (isCold(firstSeconds, warm)) asleep = idle
    else awake = idle
    const isNear = Number.isFinite(asleep) ? asleep - awake <= Math.max(NEAR_SECONDS, NEAR_SHARE * asleep) : idle >= mostSeconds
    if (isNear) return
    idle = Number.isFinite(asleep) ? (awake + asleep) / 2 : Math.min(2 * idle, mostSeconds)
  }
}

/** So many at once, and what judges what is found behind them. Nothing judges where nobody was answered. */
function* findingCosts(
  { clients, requestsEach, judgeSeconds, seed }: Extract<ProbeShape, { kind: 'find-costs' }>,
  take: (count: number) => Asking[],
): Generator<ProbePart, void, PartShown> {
  let best = 0
  for (const c of clients) {
    const shown = yield { kind: 'closed', label: `${c} at once`, clients: c, asking: take(c * requestsEach) }
    best = Math.max(best, shown.perSecond)
  }
  if (best === 0) return
  const random = new RandomStream(seed, 'probe', 'judge')
  const steady = poisson(JUDGED_SHARE * best, judgeSeconds, random)
  yield { kind: 'open', label: `${JUDGES}${rateWords(JUDGED_SHARE * best)}`, due: steady, asking: take(steady.length) }
  const third = judgeSeconds / SPIKE_SHARES.length
  const spike = Float64Array.from(SPIKE_SHARES.flatMap((share, i) => [...poisson(share * best, third, random)].map((t) => t + i * third)))
  yield { kind: 'open', label: `${JUDGES}a spike of ${rateWords(SPIKE_SHARES[1] * best)}`, due: spike, asking: take(spike.length) }
}

const rateWords = (perSecond: number) => `${Number(perSecond.toPrecision(3))} a second`

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
