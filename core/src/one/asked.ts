import type { WaySeconds } from '../plan/way.ts'

/** Where a request finds its service: nothing there, a stopped machine with its disk, a copy without its model, or a ready replica. */
export const FINDS = {
  nothing: { words: 'nothing there', begin: 'nothing', from: 'nothing' },
  stopped: { words: 'a stopped machine', begin: 'stopped', from: 'stopped' },
  unloaded: { words: 'a copy whose model is unloaded', begin: 'unloaded', from: 'unloaded' },
  warm: { words: 'a ready replica', begin: 'running', from: null },
} as const
export type Finds = keyof typeof FINDS

/** One request, to one replica. */
export interface OneAsked {
  /** name of a service of the plan; its rules of batching hold */
  service: string
  machine: string
  variant: string
  /** devices of the replica, 1… */
  devices: number
  /** requests side by side that the replica takes, 1… */
  sequences: number
  finds: Finds
  /** prompt tokens, or work of a request that has no tokens; 1… */
  input: number
  /** answer tokens, 1…; not used where there are none */
  output: number
  /** requests in service beside it, of the same size, as soon as one is done the next */
  others: number
  /** how long the machine is kept after it, before it is given back */
  keptSeconds: number
  /** between its caller and the service; no time if left out */
  way?: WaySeconds
}

/** What money buys one request, each in the plan's currency; null where the offer does not sell so. */
export interface OneMoney {
  currency: string
  /**
   * the machine from its order, or from the call where it is ready, until it is given back; billing step and minimum on top, and what is
   * paid for the bytes that its start fetches
   */
  byHour: { perHour: number; seconds: number; roundingSeconds: number; transfer: number; amount: number } | null
  /** the call itself, and the time of its instance by memory, start-up where that is paid */
  byCall: { call: number; time: number; amount: number } | null
  /** what is sold by tokens and serves its model, each with what such a request costs there, none of its prompt in a cache */
  byTokens: { offer: string; amount: number }[]
  /** what a million tokens of such requests would be, of the time in which this one is served, with so many beside it */
  perMillionTokens: number | null
}
