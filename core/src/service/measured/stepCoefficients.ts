import type { ProfileSpec } from '../../plan/schema.ts'

/** Step costs of a service of tokens, as a plan states them. */
export type TokenSpec = Extract<ProfileSpec, { kind: 'token' }>

/** The coefficients that are found behind measured requests, all in seconds, in their order in every table here. */
export const STEP_COEFFICIENTS = [
  { symbol: 'P0', meaning: 'of a prompt step, whatever is in it', small: 1e-4 },
  { symbol: 'P1', meaning: 'of each prompt token', small: 1e-7 },
  { symbol: 'M', meaning: 'of a decode step, whatever is in it', small: 1e-4 },
  { symbol: 'O', meaning: 'of each sequence in a decode step', small: 1e-6 },
  { symbol: 'm1', meaning: 'of each cached token in a decode step', small: 1e-10 },
  // There and back can not be told apart from outside: all of it is taken for the way there, where what is in the way mostly is.
  { symbol: 'W', meaning: 'of the way of a request, there and back', small: 1e-4 },
] as const

/** Seconds of the way of a request. */
export const wayOf = (values: readonly number[]): number => values[STEP_COEFFICIENTS.length - 1]
/** When a request is there, of when it was sent. */
export const arrivedAt = (sentSeconds: number, values: readonly number[]): number => sentSeconds + wayOf(values)

/** Step costs with these coefficients; nothing binds but one thing, so that they add up. */
export function specOfSteps([p0, p1, m, o, m1]: readonly number[]): TokenSpec {
  return {
    kind: 'token',
    memorySeconds: m,
    cacheSecondsPerToken: m1,
    arithmeticSeconds: 0,
    overheadSeconds: { base: 0, perSequence: o },
    prefillBaseSeconds: p0,
    prefillMemorySeconds: 0,
    prefillSecondsPerToken: p1,
    prefillSecondsPerTokenSquared: 0,
  }
}
