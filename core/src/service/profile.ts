/** Where the coefficients of a profile come from. */
export type ProfileSource = 'derived' | 'given' | 'measured'

/**
 * Step costs of a replica of a token model. Tables have an entry for n = 0…maxSequences; entry 0 is unused.
 *
 * decode step of n sequences with k cached tokens: max(memory[n] + cacheSecondsPerToken·k, arithmetic[n]) + overhead[n];
 * prefill step over prompts p: prefillBase + max(prefillMemory, prefillPerToken·Σp) + prefillPerTokenSquared·Σp².
 * All times in seconds.
 */
export interface TokenProfile {
  readonly kind: 'token'
  readonly source: ProfileSource
  readonly memorySeconds: Float64Array
  readonly arithmeticSeconds: Float64Array
  readonly overheadSeconds: Float64Array
  readonly cacheSecondsPerToken: number
  readonly prefillBaseSeconds: number
  readonly prefillMemorySeconds: number
  readonly prefillSecondsPerToken: number
  readonly prefillSecondsPerTokenSquared: number
  /** sequences side by side in one replica, at least 1 */
  readonly maxSequences: number
  /** tokens that the cache of one replica holds */
  readonly cacheTokens: number
  /** summed prompt of one prefill step; the first prompt is admitted whatever its length */
  readonly maxPrefillTokens: number
  /** prompt + answer above this is rejected on arrival; at most cacheTokens */
  readonly requestTokens: number
}

/** Step costs of a replica that serves whole batches: baseSeconds + secondsPerWorkUnit·b·(largest work of the batch). */
export interface BatchProfile {
  readonly kind: 'batch'
  readonly source: ProfileSource
  readonly baseSeconds: number
  readonly secondsPerWorkUnit: number
  readonly maxBatch: number
  readonly windowSeconds: number
}

export type Profile = TokenProfile | BatchProfile

/** Seconds of one decode step with n sequences (1…maxSequences) and k cached tokens. */
export function decodeStepSeconds(profile: TokenProfile, n: number, k: number): number {
  const memory = profile.memorySeconds[n] + profile.cacheSecondsPerToken * k
  return Math.max(memory, profile.arithmeticSeconds[n]) + profile.overheadSeconds[n]
}

/** Seconds of one prefill step over prompts with the given sum and sum of squares. */
export function prefillStepSeconds(profile: TokenProfile, sum: number, sumOfSquares: number): number {
  const stream = Math.max(profile.prefillMemorySeconds, profile.prefillSecondsPerToken * sum)
  return profile.prefillBaseSeconds + stream + profile.prefillSecondsPerTokenSquared * sumOfSquares
}

/** Seconds of one batch of b requests whose largest work is w. */
export function batchSeconds(profile: BatchProfile, b: number, w: number): number {
  return profile.baseSeconds + profile.secondsPerWorkUnit * b * w
}
