import * as z from 'zod'
import { count, name, nonNegative, positive, share } from './primitives.ts'
import type { Sold } from './soldSchema.ts'

/** What may be rented: one machine of a provider in a region. */
export const MachineSchema = z
  .strictObject({
    name,
    provider: name,
    region: name,
    zone: name.optional(),
    trust: z
      .int()
      .min(0)
      .max(99)
      .optional()
      .describe('how far its host is to be trusted, on a scale of the plan’s own: more is more; 0 if left out'),
    device: name,
    devices: count.describe('devices in one machine'),
    splits: z.array(count).min(1).max(32).optional().describe('devices per replica that the machine allows; any number if left out'),
    memoryBytesPerDevice: positive,
    bandwidthBytesPerSecond: positive.describe('memory bandwidth of one device'),
    arithmeticPerSecond: z
      .record(z.string().regex(/^\d+$/, 'must be a number of bits such as "16"'), positive)
      .describe('operations per second of one device, by bits'),
    linkBytesPerSecond: positive.optional().describe('between devices; needed for more than one device per replica'),
    hopSeconds: nonNegative.optional().describe('latency of one exchange between devices; 0 if left out'),
    hostLinkBytesPerSecond: positive.optional().describe('between hosts; needed for a replica over several machines'),
    hostHopSeconds: nonNegative.optional().describe('latency of one exchange between hosts; 0 if left out'),
    hostCores: positive.optional(),
    coreSpeed: positive.optional().describe('of its cores, against those that CPU models are stated for; 1 if left out'),
    hostMemoryBytes: positive.optional(),
    diskBytes: positive.optional(),
    networkBytesPerSecond: positive.optional().describe('from outside to this machine'),
    pricePerHour: nonNegative.optional().describe('on demand, for the whole machine; not for rent by the hour if left out'),
    spotPerHour: nonNegative.optional().describe('may be taken away at any time'),
    spotMeanSeconds: positive.optional().describe('mean time until a spot machine is taken away; 24 hours if left out'),
    spotNoticeSeconds: nonNegative.optional().describe('how long before it is told; 60 if left out'),
    committedPerHour: nonNegative.optional().describe('paid always, used or not'),
    surchargeShare: nonNegative
      .max(100)
      .optional()
      .describe('what a managed service takes on top of each of these prices, as a share of it: 0.2 is 20 per cent'),
    surchargePerHour: nonNegative.optional().describe('and for every hour of a machine'),
    pricePerRequest: nonNegative.optional().describe('what one call costs, where calls are what is sold'),
    storagePerGigabyteMonth: nonNegative.optional().describe('disk of a machine, also while it is stopped; nothing if left out'),
    transferPerGigabyte: nonNegative.optional().describe('what a start fetches: image and weights; nothing if left out'),
    pricePerGigabyteSecond: nonNegative.optional().describe('calls: and for the time of an instance, by its memory; nothing if left out'),
    freeRequestsPerMonth: nonNegative.optional().describe('calls that cost nothing each month'),
    freeGigabyteSecondsPerMonth: nonNegative.optional(),
    keptSeconds: positive.optional().describe('an instance without calls is kept so long; 300 if left out'),
    startIsPaid: z.boolean().optional().describe('true: the start-up of an instance is paid like a call'),
    billingStepSeconds: positive.optional().describe('paid time is rounded up to this; 1 s if left out'),
    billingMinimumSeconds: nonNegative.optional(),
    provisioningSeconds: nonNegative.optional().describe('from the order until it is ready'),
    stock: z.int().nonnegative().describe('machines that can be had at once'),
    quota: z.int().nonnegative().optional().describe('machines that this account may have; no limit if left out'),
    availability: share.optional().describe('share of the attempts to get one that succeed; every one if left out'),
    retrySeconds: positive.optional().describe('between two attempts; 60 if left out'),
    ceilings: z
      .strictObject({
        packageBytes: positive.optional().describe('largest files of a variant'),
        memoryStepsBytes: z
          .array(positive)
          .min(1)
          .max(64)
          .optional()
          .describe('memory is sold in these sizes; the smallest that is enough is taken'),
        concurrency: count.optional().describe('requests side by side in a replica'),
        replicas: count.optional().describe('replicas of one service'),
        accelerator: z
          .boolean()
          .optional()
          .describe('false: there is no accelerator behind it; only CPU models and given coefficients run'),
        oneModel: z.boolean().optional().describe('true: only one service of the plan may use it'),
      })
      .optional()
      .describe('what an easy mode of renting does not let through'),
  })
  .refine((m) => (m.pricePerHour ?? m.committedPerHour ?? m.spotPerHour ?? m.pricePerRequest) !== undefined, {
    path: ['pricePerHour'],
    error: 'must be there unless the offer has a committed, a spot or a call price',
  })

/** An offer: a machine for rent, or one replica of something that is `sold` by tokens (see `offerOf`), which no plan file states so. */
export type Machine = z.infer<typeof MachineSchema> & { sold?: Sold }

/** What a machine costs an hour with the surcharge of a managed service; undefined where the bare one has no such price. */
export function surcharged(bare: number | undefined, { surchargeShare = 0, surchargePerHour = 0 }: Surcharge): number | undefined {
  return bare === undefined ? undefined : bare * (1 + surchargeShare) + surchargePerHour
}

export type Surcharge = Pick<Machine, 'surchargeShare' | 'surchargePerHour'>

/** Machines of an offer that can be had: by stock and by quota. */
export function obtainable(machine: Pick<Machine, 'stock' | 'quota'>): number {
  return Math.min(machine.stock, machine.quota ?? Infinity)
}
