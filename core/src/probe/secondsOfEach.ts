import { square } from '../arithmetic/sameBits.ts'
import { decodeStepSeconds, prefillStepSeconds, type TokenProfile } from '../service/profile.ts'
import type { Asking } from './shape.ts'

/**
 * What a request takes about, in seconds, among so many that come again at once: its prompt waits for those of the others, and its tokens
 * share their steps.
 *
 * @param clients at least 1; those beyond what one replica takes side by side wait for their turn
 * @param sizes of the requests, in turn; at least one
 */
export function secondsOfEach(profile: TokenProfile, clients: number, sizes: readonly Asking[]): number {
  const together = Math.min(clients, profile.maxSequences)
  const one = sizes.reduce((sum, { input, output }) => {
    const step = decodeStepSeconds(profile, together, together * (input + output / 2)) / profile.tokensPerStep
    return sum + together * prefillStepSeconds(profile, input, square(input)) + output * step
  }, 0)
  return (one / sizes.length) * (clients / together)
}
