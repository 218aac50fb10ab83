import { cachedTokens } from '../demand/requests.ts'
import type { RunRecord } from '../engine/record.ts'
import type { StepSeries } from '../measure/fleetPicture.ts'
import type { Plan } from '../plan/schema.ts'
import type { Sold } from '../plan/soldSchema.ts'

/** What something sold by tokens costs, in the plan's currency. */
export interface TokenPrices {
  perInputToken: number
  /** a prompt token that is in the cache already */
  perCachedToken: number
  perOutputToken: number
  perRequest: number
  /** by class index, the share of each prompt that is in the cache */
  cachedShares: readonly number[]
}

const MILLION = 1e6

/** @returns null where it is not sold by tokens */
export function tokenPrices({ classes }: Pick<Plan, 'classes'>, sold: Sold | undefined): TokenPrices | null {
  if (!sold) return null
  const { pricePerMillionInput, pricePerMillionCachedInput = pricePerMillionInput, pricePerMillionOutput, pricePerRequest = 0 } = sold
  return {
    perInputToken: pricePerMillionInput / MILLION,
    perCachedToken: pricePerMillionCachedInput / MILLION,
    perOutputToken: pricePerMillionOutput / MILLION,
    perRequest: pricePerRequest,
    cachedShares: classes.map((c) => c.cachedShare ?? 0),
  }
}

/** What one request costs. @param cachedShare of its prompt that is in the cache already */
export function priceOfRequest(prices: TokenPrices, input: number, output: number, cachedShare: number): number {
  const cached = cachedTokens(input, cachedShare)
  return prices.perRequest + (input - cached) * prices.perInputToken + cached * prices.perCachedToken + output * prices.perOutputToken
}

/** What the requests of a run cost: each that was begun, its whole prompt and answer. */
export function tokensPaid(record: Pick<RunRecord, 'requests' | 'start'>, prices: TokenPrices): number {
  let sum = 0
  eachPaid(record, prices, (money) => (sum += money))
  return sum
}

/** Pieces of a horizon in which tokens are added up to be shown. */
const PIECES = 240

/** The same an hour over time: what a request costs is paid when it is begun. */
export function tokensOverTime(record: Pick<RunRecord, 'requests' | 'start'>, prices: TokenPrices, horizonSeconds: number): StepSeries {
  const pieceSeconds = horizonSeconds / PIECES
  const values = Array.from({ length: PIECES }, () => 0)
  eachPaid(record, prices, (money, start) => {
    values[Math.min(PIECES - 1, Math.floor(start / pieceSeconds))] += (money * 3600) / pieceSeconds
  })
  return { seconds: values.map((_, i) => i * pieceSeconds), values }
}

/** Calls `pay` with what each request costs, and when it is begun. */
export function eachPaid(
  { requests, start }: Pick<RunRecord, 'requests' | 'start'>,
  prices: TokenPrices,
  pay: (money: number, start: number) => void,
): void {
  for (let i = 0; i < requests.count; i++) {
    if (start[i] !== start[i]) continue
    pay(priceOfRequest(prices, requests.input[i], requests.output[i], prices.cachedShares[requests.classIndex[i]]), start[i])
  }
}
