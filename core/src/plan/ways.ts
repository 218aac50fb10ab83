/**
 * What a service may be run with in one of several ways. Each choice is one table: its values, in words, and what follows
 * from each. Types, schema, sentence, search, remedies and levers read them; to add a way is to add it here and to write what
 * it does.
 */

/** One value of a choice. */
interface Way {
  /** as a part of an option's name, and of what is tried beside */
  words: string
}

interface RoutingWay extends Way {
  /** whether only the state of the replicas decides, so that it does not matter who came before or how many */
  byState: boolean
  /** a common line from which replicas with room take */
  sharesQueue: boolean
  /** whether the answer says what it would do instead of the one that is stated */
  isLever: boolean
}

/** Which replica a request goes to (docs/model.md, 6). */
export const ROUTINGS = {
  'least-busy': { words: 'least-busy routing', byState: true, sharesQueue: false, isLever: true },
  'round-robin': { words: 'round-robin routing', byState: false, sharesQueue: false, isLever: false },
  'two-choice': { words: 'two-choice routing', byState: false, sharesQueue: false, isLever: false },
  'shared-queue': { words: 'shared-queue routing', byState: true, sharesQueue: true, isLever: true },
} as const satisfies Record<string, RoutingWay>
export type Routing = keyof typeof ROUTINGS

/** Where a start has its weights from. */
export const WEIGHTS_FROM = {
  store: { words: 'weights from the store', instead: 'weights fetched from the store at each start', kept: 'in the store' },
  image: { words: 'weights in the image', instead: 'weights as part of the image', kept: 'in the image' },
  node: { words: 'weights kept on the machine', instead: 'weights kept on the machine once they are fetched', kept: 'on the machine' },
} as const satisfies Record<string, Way & { /** as a change that would help */ instead: string; /** where they are kept */ kept: string }>
export type WeightsFrom = keyof typeof WEIGHTS_FROM

/** How prompts are worked on beside decoding (docs/model.md, 4). */
export const PROMPTS = {
  whole: { words: 'whole prompts', picked: 'in steps of their own' },
  interleaved: { words: 'prompts in chunks', picked: 'in chunks beside decoding' },
} as const satisfies Record<string, Way & { /** in the sentence of a service */ picked: string }>

export type Prompts = keyof typeof PROMPTS

/** How much of the cache a request holds. */
export const RESERVATIONS = {
  whole: { words: 'room kept from the start', picked: 'kept for whole answers' },
  optimistic: { words: 'room as tokens come', picked: 'taken as tokens come' },
} as const satisfies Record<string, Way & { picked: string }>

export type Reservation = keyof typeof RESERVATIONS

/** How a replica over several machines is divided between them. */
export const SPLITS = {
  heads: { words: 'split by heads' },
  layers: { words: 'split by layers' },
} as const satisfies Record<string, Way>

export type Split = keyof typeof SPLITS

/** What a scaler may read, per ready replica, averaged over a window (docs/model.md, 7). */
export const METRICS = {
  'in-flight': { words: 'requests in flight', picked: 'requests in flight', unit: 'requests in flight', read: 'in flight, a copy', isShare: false, firstTarget: 10 },
  busy: { words: 'busy share', picked: 'busy share', unit: 'busy', read: 'busy, a copy', isShare: true, firstTarget: 0.7 },
  arrivals: { words: 'arrivals', picked: 'arrivals a second', unit: 'requests a second', read: 'arrivals, a copy', isShare: false, firstTarget: 1 },
  waiting: { words: 'waiting requests', picked: 'requests waiting', unit: 'requests waiting', read: 'waiting, a copy', isShare: false, firstTarget: 1 },
  'host-cpu': { words: 'host CPU', picked: 'host CPU', unit: 'host CPU', read: 'host CPU', isShare: true, firstTarget: 0.7 },
} as const satisfies Record<string, Way & {
  /** in the sentence of a policy */
  picked: string
  /** after a figure */
  unit: string
  /** beside what a scaler read */
  read: string
  /** of 1, so that a target above is a slip */
  isShare: boolean
  /** a target that makes sense of it, when another one was read before */
  firstTarget: number
}>
export type MetricName = keyof typeof METRICS

/** The values of a choice, in the order of its table. */
export function waysOf<T extends Record<string, unknown>>(table: T): [keyof T & string, ...(keyof T & string)[]] {
  return Object.keys(table) as [keyof T & string, ...(keyof T & string)[]] // what a table has, of which none is empty
}
