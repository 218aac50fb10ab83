import type { TokenPrices } from '../cost/tokens.ts'
import type { SoldProfile } from '../service/profile.ts'
import type { Sold } from '../plan/soldSchema.ts'

/** The most that can be asked of something sold by tokens in a minute, and what keeps it from being more. */
export interface LargestOfTokens {
  perMinute: number
  tokensPerMinute: number
  carriedBy: 'rate limits' | 'offer limits' | 'side by side' | 'nothing'
}

/**
 * What a minute costs at the most: as many requests and tokens as the offer lets a key ask for, the dearer ones first, and no more
 * than its places can serve, each busy with whatever costs most a second (half of the requests are no quicker). Infinity where nothing
 * limits it.
 *
 * @param allowedPerSecond requests that the rate limits of the plan's own classes let through; Infinity for any number
 */
export function largestOfTokens(sold: Sold, profile: SoldProfile, prices: TokenPrices, allowedPerSecond: number): LargestOfTokens {
  const byLimits = mostOfLimits(sold, profile, prices, Infinity)
  const byClasses = mostOfLimits(sold, profile, prices, allowedPerSecond * 60)
  const bySlots = sold.concurrency === undefined ? UNLIMITED : mostOfSlots(profile, prices)
  const all = [
    { ...byClasses, carriedBy: byClasses.perMinute < byLimits.perMinute ? ('rate limits' as const) : ('offer limits' as const) },
    { ...bySlots, carriedBy: 'side by side' as const },
  ]
  const least = all.reduce((a, b) => (b.perMinute < a.perMinute ? b : a))
  return Number.isFinite(least.perMinute) ? least : { ...UNLIMITED, carriedBy: 'nothing' }
}

const UNLIMITED = { perMinute: Infinity, tokensPerMinute: Infinity }

/** The dearer kind of tokens as far as it goes, then the other: an upper bound, reached where requests may be of any shape. */
function mostOfLimits({ limits = {} }: Sold, profile: SoldProfile, prices: TokenPrices, allowed: number): typeof UNLIMITED {
  const {
    requestsPerMinute = Infinity,
    tokensPerMinute = Infinity,
    inputTokensPerMinute = Infinity,
    outputTokensPerMinute = Infinity,
  } = limits
  // A request has a token of each at the least, and as many as the offer takes at the most.
  const requests = Math.min(requestsPerMinute, allowed, tokensPerMinute / 2, inputTokensPerMinute, outputTokensPerMinute)
  const tokens = Math.min(tokensPerMinute, requests === Infinity ? Infinity : requests * profile.requestTokens)
  const perInput = Math.max(prices.perInputToken, prices.perCachedToken)
  const kinds = [
    { most: inputTokensPerMinute, price: perInput },
    { most: outputTokensPerMinute, price: prices.perOutputToken },
  ].sort((a, b) => b.price - a.price)
  const dear = Math.min(kinds[0].most, tokens)
  const other = Math.min(kinds[1].most, tokens === Infinity ? Infinity : tokens - dear)
  return {
    perMinute: times(requests, prices.perRequest) + times(dear, kinds[0].price) + times(other, kinds[1].price),
    tokensPerMinute: dear + other,
  }
}

/** What costs nothing costs nothing, however much there is of it. */
const times = (n: number, price: number) => (price === 0 ? 0 : n * price)

/** Of requests of every shape the dearest a second is the shortest, or the one with the longest prompt or answer. */
function mostOfSlots(
  { firstToken, eachToken, secondsPerInputToken, requestTokens, slots }: SoldProfile,
  prices: TokenPrices,
): typeof UNLIMITED {
  const perInput = Math.max(prices.perInputToken, prices.perCachedToken)
  const shapes = [
    [1, 1],
    [requestTokens - 1, 1],
    [1, requestTokens - 1],
  ].map(([input, output]) => {
    const seconds = firstToken.median + secondsPerInputToken * input + (output - 1) * eachToken.median
    const cost = prices.perRequest + times(input, perInput) + times(output, prices.perOutputToken)
    return { perMinute: (60 * slots * cost) / seconds, tokensPerMinute: (60 * slots * (input + output)) / seconds }
  })
  return shapes.reduce((a, b) => (b.perMinute > a.perMinute || Number.isNaN(b.perMinute) ? b : a))
}
