import { square } from '../arithmetic/sameBits.ts'
import { decodeStepSeconds, mixedStepSeconds, prefillStepSeconds, type TokenProfile } from './profile.ts'

/** Sizes of one request: prompt and answer tokens, both at least 1; means may be fractions. */
export interface RequestSize {
  input: number
  output: number
}

/**
 * Requests a second that one replica of a token model sustains with n of them always in service, all of one size: what one
 * request takes of the replica's time, its own prompt and its part of every decode step.
 *
 * Whole prompts: 1 / (prefill(p) + (o − 1)·step(n)/n), each prompt in a step of its own. Interleaved: every step decodes x and
 * takes the c = p·x/(o − 1) prompt tokens that as many new requests bring; where the budget T binds, x + c = T.
 *
 * @param n in 1…maxSequences
 */
export function sustainedRequestsPerSecond(profile: TokenProfile, n: number, { input, output }: RequestSize): number {
  const steps = Math.max(0, output - 1) / profile.tokensPerStep
  const cached = input + output / 2
  const prompt = prefillStepSeconds(profile, input, square(input))
  if (profile.prompts === 'whole' || steps === 0) return 1 / (prompt + (steps * decodeStepSeconds(profile, n, n * cached)) / n)
  const promptTokensEach = input / steps
  const bounded = profile.stepTokens / (profile.scheduledPerSequence + promptTokensEach)
  const decoding = Math.max(1, Math.min(n, Math.floor(bounded)))
  const chunk = Math.round(Math.min(decoding * promptTokensEach, Math.max(1, profile.stepTokens - decoding * profile.scheduledPerSequence)))
  // Chunks of a prompt add up to its square, however it is cut.
  const squares = (chunk / input) * square(input)
  return chunk / input / mixedStepSeconds(profile, decoding, decoding * cached, chunk, squares)
}
