/**
 * What a service may be run with in one of several ways. Each choice is one table: its values, in words, and what follows
 * from each. Types, schema, sentence, search, remedies and levers read them; to add a way is to add it here and to write what
 * it does.
 */

/** One value of a choice. */
interface Way {
  /** as a part of an option's name, and of what is tried beside */
  words: string
  /** what it is, for those who write plans (docs/ways.md is made of these) */
  means: string
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
  'least-busy': {
    words: 'least-busy routing',
    means: 'to the ready replica with the fewest requests bound to it, waiting or in service',
    byState: true,
    sharesQueue: false,
    isLever: true,
  },
  'round-robin': {
    words: 'round-robin routing',
    means: 'to the ready replicas in turn',
    byState: false,
    sharesQueue: false,
    isLever: false,
  },
  'two-choice': {
    words: 'two-choice routing',
    means: 'to the less busy of two ready replicas that are drawn at random',
    byState: false,
    sharesQueue: false,
    isLever: false,
  },
  'shared-queue': {
    words: 'shared-queue routing',
    means: 'one line for all, from which replicas with room take',
    byState: true,
    sharesQueue: true,
    isLever: true,
  },
} as const satisfies Record<string, RoutingWay>
export type Routing = keyof typeof ROUTINGS

/** Where a start has its weights from. */
export const WEIGHTS_FROM = {
  store: {
    words: 'weights from the store',
    means: 'fetched from the store at every start, all starts sharing what it gives',
    instead: 'weights fetched from the store at each start',
    kept: 'in the store',
  },
  image: {
    words: 'weights in the image',
    means: 'pulled with the image, as a part of it',
    instead: 'weights as part of the image',
    kept: 'in the image',
  },
  node: {
    words: 'weights kept on the machine',
    means: 'fetched once to a machine, and there for later starts on it',
    instead: 'weights kept on the machine once they are fetched',
    kept: 'on the machine',
  },
} as const satisfies Record<string, Way & { /** as a change that would help */ instead: string; /** where they are kept */ kept: string }>
export type WeightsFrom = keyof typeof WEIGHTS_FROM

/** How prompts are worked on beside decoding (docs/model.md, 4). */
export const PROMPTS = {
  whole: { words: 'whole prompts', means: 'each in a step of its own, which those that decode wait for', picked: 'in steps of their own' },
  interleaved: {
    words: 'prompts in chunks',
    means: 'in chunks, as far as the token budget of a decoding step has room',
    picked: 'in chunks beside decoding',
  },
} as const satisfies Record<string, Way & { /** in the sentence of a service */ picked: string }>

export type Prompts = keyof typeof PROMPTS

/** How much of the cache a request holds. */
export const RESERVATIONS = {
  whole: {
    words: 'room kept from the start',
    means: 'room for prompt and whole answer from admission on',
    picked: 'kept for whole answers',
  },
  optimistic: {
    words: 'room as tokens come',
    means: 'room for what there is; the last admitted is evicted when it runs out, and begins again',
    picked: 'taken as tokens come',
  },
} as const satisfies Record<string, Way & { picked: string }>

export type Reservation = keyof typeof RESERVATIONS

/** How a replica over several machines is divided between them. */
export const SPLITS = {
  heads: { words: 'split by heads', means: 'every layer over all devices, by heads, with an exchange in each layer' },
  layers: { words: 'split by layers', means: 'whole layers by machine, and by heads within one' },
} as const satisfies Record<string, Way>

export type Split = keyof typeof SPLITS

/** Prices that an offer may have. */
type PriceField = 'pricePerHour' | 'committedPerHour' | 'spotPerHour' | 'pricePerRequest' | 'sold'

interface PurchaseWay extends Way {
  /** in the sentence of a service */
  picked: string
  /** after a fleet in the fewest words */
  after: string
  /** prices that an offer has to have for it: one of each list */
  needs: readonly (readonly PriceField[])[]
  /** share of the machines that can not be taken away; stated where the plan says it */
  safeShare: 0 | 1 | 'stated'
  /** whether machines may be committed to, each paid always where that costs less than its time on demand */
  mayCommit: boolean
  /** whether what is paid follows from the run, also of a fixed number of machines */
  paidByRun: boolean
  /** whether instances come with calls and go without, and calls are what is paid */
  byCall: boolean
  /** whether nothing is rented, and tokens are what is paid */
  byTokens: boolean
}

/** How machines are paid (docs/model.md, 8), in the order of the search. */
export const PURCHASES = {
  'on-demand': {
    words: 'on demand',
    means: 'by use, in billing steps',
    picked: 'on demand',
    after: '',
    needs: [['pricePerHour']],
    safeShare: 1,
    mayCommit: false,
    paidByRun: false,
    byCall: false,
    byTokens: false,
  },
  committed: {
    words: 'committed',
    means: 'so many machines always, used or not, and by use above the number of them that costs least',
    picked: 'committed',
    after: '',
    needs: [['committedPerHour']],
    safeShare: 1,
    mayCommit: true,
    paidByRun: false,
    byCall: false,
    byTokens: false,
  },
  spot: {
    words: 'spot',
    means: 'by use, at the price at which machines may be taken away',
    picked: 'on spot',
    after: ' on spot',
    needs: [['spotPerHour']],
    safeShare: 0,
    mayCommit: false,
    paidByRun: true,
    byCall: false,
    byTokens: false,
  },
  mixed: {
    words: 'spot but for',
    means: 'the first machines safe, the others on spot',
    picked: 'half safe, half on spot',
    after: ' partly on spot',
    needs: [['spotPerHour'], ['pricePerHour', 'committedPerHour']],
    safeShare: 'stated',
    mayCommit: true,
    paidByRun: true,
    byCall: false,
    byTokens: false,
  },
  'per-request': {
    words: 'by the call',
    means: 'by the call; instances come with calls and go without',
    picked: 'by the call',
    after: ' by the call',
    needs: [['pricePerRequest']],
    safeShare: 1,
    mayCommit: false,
    paidByRun: true,
    byCall: true,
    byTokens: false,
  },
  'per-token': {
    words: 'by tokens',
    means: 'by the tokens of a service that is sold so (`soldByTokens`); nothing is rented',
    picked: 'by tokens',
    after: ' by tokens',
    needs: [['sold']],
    safeShare: 1,
    mayCommit: false,
    paidByRun: true,
    byCall: false,
    byTokens: true,
  },
} as const satisfies Record<string, PurchaseWay>
export type PurchaseKind = keyof typeof PURCHASES

/** What a scaler may read, per ready replica, averaged over a window (docs/model.md, 7). */
export const METRICS = {
  'in-flight': {
    words: 'requests in flight',
    means: 'requests that wait or are in service',
    picked: 'requests in flight',
    unit: 'requests in flight',
    read: 'in flight, a copy',
    isShare: false,
    firstTarget: 10,
  },
  busy: {
    words: 'busy share',
    means: 'share of the time in which a replica works, 0 to 1',
    picked: 'busy share',
    unit: 'busy',
    read: 'busy, a copy',
    isShare: true,
    firstTarget: 0.7,
  },
  arrivals: {
    words: 'arrivals',
    means: 'requests that arrive, a second',
    picked: 'arrivals a second',
    unit: 'requests a second',
    read: 'arrivals, a copy',
    isShare: false,
    firstTarget: 1,
  },
  waiting: {
    words: 'waiting requests',
    means: 'requests that wait',
    picked: 'requests waiting',
    unit: 'requests waiting',
    read: 'waiting, a copy',
    isShare: false,
    firstTarget: 1,
  },
  'host-cpu': {
    words: 'host CPU',
    means: "share of a host's cores that are busy, 0 to 1",
    picked: 'host CPU',
    unit: 'host CPU',
    read: 'host CPU',
    isShare: true,
    firstTarget: 0.7,
  },
} as const satisfies Record<
  string,
  Way & {
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
  }
>
export type MetricName = keyof typeof METRICS

/** The values of a choice, in the order of its table. */
export function waysOf<T extends Record<string, unknown>>(table: T): [keyof T & string, ...(keyof T & string)[]] {
  return Object.keys(table) as [keyof T & string, ...(keyof T & string)[]] // what a table has, of which none is empty
}
