import * as z from 'zod'
import { count, nonNegative } from './primitives.ts'

export const perSequences = z.union([
  nonNegative,
  z.strictObject({ base: nonNegative, perSequence: nonNegative }),
  z.array(nonNegative).min(1).max(4096),
])

/** Step costs of a replica, typed in rather than derived (docs/model.md, 3). */
export const ProfileSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('token'),
    memorySeconds: perSequences.describe('M[n]: seconds to read the weights for n sequences'),
    cacheSecondsPerToken: nonNegative.describe('m1: seconds to read one cached token'),
    arithmeticSeconds: perSequences.describe('C[n]: seconds of arithmetic for n sequences'),
    overheadSeconds: perSequences.describe('O[n]: seconds of launch and communication for n sequences'),
    prefillBaseSeconds: nonNegative.describe('P0'),
    prefillMemorySeconds: nonNegative.describe('Pm: one read of the weights'),
    prefillSecondsPerToken: nonNegative.describe('P1'),
    prefillExchangeSecondsPerToken: nonNegative.optional().describe('Px: exchange between devices for each prompt token; 0 if left out'),
    prefillSecondsPerTokenSquared: nonNegative.describe('P2'),
    cacheTokens: count.optional().describe('tokens that the cache of one replica holds'),
  }),
  z.strictObject({
    kind: z.literal('batch'),
    baseSeconds: nonNegative.describe('B0'),
    secondsPerWorkUnit: nonNegative.describe('B1, multiplied by the batch size and its largest work'),
  }),
  z.strictObject({
    kind: z.literal('iterative'),
    fixedSeconds: perSequences.describe('seconds of a batch beside its steps, by items in it'),
    stepSeconds: perSequences.describe('seconds of one step of a batch, by items in it; work counts the steps'),
  }),
  z.strictObject({
    kind: z.literal('shared'),
    baseSeconds: nonNegative.describe('D0: seconds of a request alone, whatever its work'),
    secondsPerWorkUnit: nonNegative.describe('D1: seconds of one work unit alone'),
    slowdown: nonNegative.describe('s: with n side by side each advances at rate 1/(1 + s(n − 1))'),
  }),
])

export type ProfileSpec = z.infer<typeof ProfileSchema>
export type PerSequences = z.infer<typeof perSequences>
