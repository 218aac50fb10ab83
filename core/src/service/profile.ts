/** Where the coefficients of a profile come from. */
export type ProfileSource = 'derived' | 'given' | 'measured'

/**
 * Step costs of a replica of a token model. Tables have an entry for n = 0…maxSequences; entry 0 is unused.
 *
 * decode step of n sequences with k cached tokens: max(memory[n] + cacheSecondsPerToken·k, arithmetic[n]) + overhead[n];
 * prefill step over prompts p: prefillBase + max(prefillMemory, prefillPerToken·Σp) + prefillExchange·Σp + prefillPerTokenSquared·Σp²;
 * mixed step: see {@link mixedStepSeconds}. All times in seconds.
 */
export interface TokenProfile {
  readonly kind: 'token'
  readonly source: ProfileSource
  readonly memorySeconds: Float64Array
  /** the same by all tokens of a mixed step, where prompt tokens make it read more (experts); entries 0…maxSequences + stepTokens */
  readonly mixedMemorySeconds?: Float64Array
  readonly arithmeticSeconds: Float64Array
  readonly overheadSeconds: Float64Array
  readonly cacheSecondsPerToken: number
  readonly prefillBaseSeconds: number
  readonly prefillMemorySeconds: number
  readonly prefillSecondsPerToken: number
  /** exchange between devices */
  readonly prefillExchangeSecondsPerToken: number
  readonly prefillSecondsPerTokenSquared: number
  /** sequences side by side in one replica, at least 1 */
  readonly maxSequences: number
  /** tokens that the cache of one replica holds */
  readonly cacheTokens: number
  /** prompt + answer above this is rejected on arrival; at most cacheTokens */
  readonly requestTokens: number
  /** whole: a prefill step of its own, decoding waits; interleaved: prompts in chunks beside the decoding sequences */
  readonly prompts: 'whole' | 'interleaved'
  /** whole prompts: summed prompt of one prefill step; the first prompt is admitted whatever its length */
  readonly maxPrefillTokens: number
  /** interleaved prompts: token budget of every step, at least 1 */
  readonly stepTokens: number
  /** whole: admission reserves prompt + answer; optimistic: the cache fills as tokens come, and the last admitted is evicted */
  readonly reservation: 'whole' | 'optimistic'
  /** mean tokens that a sequence gains in a decode step, at least 1; above 1 with draft tokens */
  readonly tokensPerStep: number
  /** tokens of the step's budget that a decoding sequence takes: 1, and one for each draft token */
  readonly scheduledPerSequence: number
}

/**
 * Step costs of a replica that serves whole batches: a batch of b items costs baseSeconds[b] + secondsPerWorkUnit[b]·w,
 * w the largest work among them. Tables have an entry for b = 0…maxBatch; entry 0 is unused.
 */
export interface BatchProfile {
  readonly kind: 'batch'
  readonly source: ProfileSource
  readonly baseSeconds: Float64Array
  readonly secondsPerWorkUnit: Float64Array
  /** items of one batch, at least 1 */
  readonly maxBatch: number
  readonly windowSeconds: number
}

/**
 * A replica that serves up to `slots` requests side by side, which slow each other: with n in service each advances at
 * rate 1/(1 + slowdown·(n − 1)). Alone a request needs baseSeconds + secondsPerWorkUnit·(its work, all items).
 */
export interface SharedProfile {
  readonly kind: 'shared'
  readonly source: ProfileSource
  readonly baseSeconds: number
  readonly secondsPerWorkUnit: number
  /** 0: they do not touch each other; 1: they share one processor */
  readonly slowdown: number
  readonly slots: number
}

/** A time drawn for each request, lognormal: half are below the median, 95 of 100 below the other; no spread where they are equal. */
export interface DrawnSeconds {
  readonly median: number
  readonly p95: number
}

/**
 * A service that is sold by tokens: up to `slots` requests side by side that do not touch each other. The first token of a request comes
 * after firstToken + secondsPerInputToken·(its prompt tokens that are not in the cache), each further one after eachToken, both drawn
 * for the request.
 */
export interface SoldProfile {
  readonly kind: 'sold'
  readonly source: ProfileSource
  readonly firstToken: DrawnSeconds
  readonly secondsPerInputToken: number
  readonly eachToken: DrawnSeconds
  /** prompt + answer above this is rejected on arrival */
  readonly requestTokens: number
  readonly slots: number
}

/** Step costs of a replica on a machine, as they are derived, given or measured. */
export type ReplicaProfile = TokenProfile | BatchProfile | SharedProfile
export type Profile = ReplicaProfile | SoldProfile

/** Whether answers come token by token. */
export const hasTokens = (profile: Profile): profile is TokenProfile | SoldProfile => profile.kind === 'token' || profile.kind === 'sold'

/** Seconds of one decode step with n sequences (1…maxSequences) and k cached tokens. */
export function decodeStepSeconds(profile: TokenProfile, n: number, k: number): number {
  const memory = profile.memorySeconds[n] + profile.cacheSecondsPerToken * k
  return Math.max(memory, profile.arithmeticSeconds[n]) + profile.overheadSeconds[n]
}

/** Seconds of one prefill step over prompts with the given sum and sum of squares. */
export function prefillStepSeconds(profile: TokenProfile, sum: number, sumOfSquares: number): number {
  const stream = Math.max(profile.prefillMemorySeconds, profile.prefillSecondsPerToken * sum)
  return (
    profile.prefillBaseSeconds +
    stream +
    profile.prefillExchangeSecondsPerToken * sum +
    profile.prefillSecondsPerTokenSquared * sumOfSquares
  )
}

/**
 * Seconds of one step in which n sequences (0…maxSequences) with k cached tokens decode and `chunk` prompt tokens are
 * taken: max(M[t] + m1·k, C[n] + P1·chunk) + O[n] + Px·chunk + P2·squares, t = n, or n + chunk for a mixture of experts. M and
 * O are taken at n = 1 when nothing decodes (M of experts at t = chunk), C is then 0. `squares` is Σ (after² − before²) over the prompts,
 * of the tokens of each that are in the cache: over a whole
 * prompt its chunks add up to p², however it is cut.
 */
export function mixedStepSeconds(profile: TokenProfile, n: number, k: number, chunk: number, squares: number): number {
  const row = n === 0 ? 1 : n
  const memory = mixedReadSeconds(profile, n, chunk) + profile.cacheSecondsPerToken * k
  const arithmetic = (n === 0 ? 0 : profile.arithmeticSeconds[n]) + profile.prefillSecondsPerToken * chunk
  return (
    Math.max(memory, arithmetic) +
    profile.overheadSeconds[row] +
    profile.prefillExchangeSecondsPerToken * chunk +
    profile.prefillSecondsPerTokenSquared * squares
  )
}

/** M[t] of a mixed step: seconds to read the weights for n decoding sequences and `chunk` prompt tokens. */
export function mixedReadSeconds({ memorySeconds, mixedMemorySeconds }: TokenProfile, n: number, chunk: number): number {
  return mixedMemorySeconds === undefined ? memorySeconds[n === 0 ? 1 : n] : mixedMemorySeconds[Math.max(1, n + chunk)]
}

/** Seconds of one batch of b items (1…maxBatch) whose largest work is w. */
export function batchSeconds(profile: BatchProfile, b: number, w: number): number {
  return profile.baseSeconds[b] + profile.secondsPerWorkUnit[b] * w
}

/** Seconds that a request needs alone: w work units in each of its items. */
export function aloneSeconds(profile: SharedProfile, w: number, items: number): number {
  return profile.baseSeconds + profile.secondsPerWorkUnit * w * items
}

/** How many seconds pass for each second of own work while n are in service. */
export function slowness(profile: SharedProfile, n: number): number {
  return 1 + profile.slowdown * (n - 1)
}

/** Requests that one replica may have in service. */
export function slotsOf(profile: Profile): number {
  if (profile.kind === 'token') return profile.maxSequences
  return profile.kind === 'batch' ? profile.maxBatch : profile.slots
}
