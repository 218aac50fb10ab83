import type { PurchaseKind } from '../plan/ways.ts'
import type { DayName } from './days.ts'
import type { OwnModel } from './ownModel.ts'
import type { ShapeName, Works } from './shapes.ts'

/** The figures that a beginning asks for; everything else is assumed, and said to be. */
export interface Figures {
  opening: OpeningName
  /** requests a second at the busiest of the week */
  ratePerSecond: number
  day: DayName
  /** median tokens of a prompt; steps or work units of a request of fixed work */
  input: number
  /** median tokens of an answer; not used by fixed work */
  output: number
  /** within so long comes the first token, or the whole answer: as the opening promises */
  promisedSeconds: number
  shape: ShapeName
  /** in place of that shape */
  own?: OwnModel
  /** providers whose machines may be rented; all if empty */
  providers: string[]
  /** in the currency of the offers; null where nobody said */
  budgetPerMonth: number | null
}

interface Opening {
  /** what arrives, in the sentence and in lists */
  words: string
  /** of the class and the service of its plan */
  className: string
  service: string
  works: Works
  promises: 'ttft' | 'latency'
  figures: Omit<Figures, 'opening' | 'own' | 'providers' | 'budgetPerMonth'>
  purchases: readonly PurchaseKind[]
  devices: readonly number[]
  /** side by side, or requests of a batch */
  sequences: readonly number[]
  /** requests in flight that each copy should have */
  inFlight: number
  /** copies that stay when nobody calls */
  least: 0 | 1
}

const TOKENS = { works: 'tokens', sequences: [16, 48], inFlight: 10 } as const

/** Six cases to begin with, made up. */
export const OPENINGS = {
  chat: {
    ...TOKENS,
    words: 'chat for people',
    className: 'people who ask',
    service: 'chat',
    promises: 'ttft',
    figures: { ratePerSecond: 4, day: 'office', input: 500, output: 300, promisedSeconds: 1, shape: '14b' },
    purchases: ['on-demand', 'committed'],
    devices: [1, 2],
    least: 1,
  },
  documents: {
    ...TOKENS,
    words: 'long documents to short records',
    className: 'documents',
    service: 'reader',
    promises: 'latency',
    figures: { ratePerSecond: 0.5, day: 'office', input: 6000, output: 200, promisedSeconds: 30, shape: '8b' },
    purchases: ['on-demand', 'spot'],
    devices: [1, 2],
    least: 0,
  },
  pictures: {
    works: 'steps',
    words: 'pictures in denoising steps',
    className: 'wishes for a picture',
    service: 'pictures',
    promises: 'latency',
    figures: { ratePerSecond: 0.2, day: 'evening', input: 28, output: 1, promisedSeconds: 30, shape: 'sketch' },
    purchases: ['on-demand', 'spot'],
    devices: [1],
    sequences: [1, 2, 4],
    inFlight: 1.5,
    least: 1,
  },
  classifier: {
    works: 'units',
    words: 'a small classifier by the call',
    className: 'things to sort',
    service: 'sorter',
    promises: 'latency',
    figures: { ratePerSecond: 3, day: 'office', input: 40, output: 1, promisedSeconds: 0.5, shape: 'sorter' },
    purchases: ['on-demand', 'per-request'],
    devices: [1],
    sequences: [1, 4, 16],
    inFlight: 4,
    least: 1,
  },
  bulk: {
    ...TOKENS,
    words: 'overnight bulk',
    className: 'records of the day',
    service: 'bulk reader',
    promises: 'latency',
    figures: { ratePerSecond: 2, day: 'night', input: 1500, output: 150, promisedSeconds: 3600, shape: '3b' },
    purchases: ['on-demand', 'spot'],
    devices: [1],
    least: 0,
  },
  experts: {
    ...TOKENS,
    words: 'a mixture of experts on several devices',
    className: 'people who ask',
    service: 'experts',
    promises: 'ttft',
    figures: { ratePerSecond: 2, day: 'office', input: 900, output: 500, promisedSeconds: 2, shape: 'experts' },
    purchases: ['on-demand', 'committed'],
    devices: [1, 2, 4],
    least: 1,
  },
} as const satisfies Record<string, Opening>
export type OpeningName = keyof typeof OPENINGS

/** The figures with which an opening begins. @example figuresOf('chat').ratePerSecond // 4 */
export function figuresOf(opening: OpeningName): Figures {
  return { ...OPENINGS[opening].figures, opening, providers: [], budgetPerMonth: null }
}
