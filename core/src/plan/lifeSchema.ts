import * as z from 'zod'
import { count, name, nonNegative, positive } from './primitives.ts'
import { METRICS, waysOf, WEIGHTS_FROM } from './ways.ts'

export const WeightsFromSchema = z.enum(waysOf(WEIGHTS_FROM))

/** What stands between the wish for a replica and its first request. */
export const StartSchema = z.strictObject({
  machineSeconds: nonNegative.optional().describe('until a new machine is ready, unless the offer says; 0 if left out'),
  machineP95Seconds: positive.optional().describe('95 of 100 machines are ready by then; a fixed time if left out'),
  resumeSeconds: nonNegative
    .optional()
    .describe('until a machine that was stopped, and keeps its disk, is there again; as long as a new one if left out'),
  imageBytes: nonNegative,
  imageBytesPerSecond: positive.describe('of one machine'),
  imageTotalBytesPerSecond: positive.optional().describe('of all machines that pull at once, divided evenly; no limit if left out'),
  weights: z.strictObject({
    from: WeightsFromSchema.describe('store: fetched at each start; image: part of it; node: fetched once and kept on the machine'),
    bytesPerSecond: positive.describe('of one reader'),
    totalBytesPerSecond: positive.optional().describe('of all readers together, divided evenly; no limit if left out'),
  }),
  loadBytesPerSecond: positive.describe('from host to device'),
  warmupSeconds: nonNegative.describe('of every start'),
  keptWarmupSeconds: nonNegative
    .optional()
    .describe('and of the first on a machine, which leaves it there: compiled programs, captured graphs; 0 if left out'),
  backSeconds: nonNegative
    .optional()
    .describe('until a copy whose model was unloaded (nodes.whenIdle) serves again; its load and the warm-up of every start if left out'),
  timeoutSeconds: positive.optional().describe('a start-up that takes longer is begun anew; never if left out'),
})

/** Work that is done before any start-up: fetching, converting, compiling, building, copying. */
export const PreparationSchema = z
  .strictObject({
    name,
    when: z.enum(['once', 'each-version']).describe('once, before the very first start; or anew for each version of the model'),
    seconds: nonNegative.describe('beside what bytes take'),
    bytes: nonNegative.optional().describe('what is moved, at a rate'),
    bytesPerSecond: positive.optional(),
    on: name.optional().describe('the machine that is rented for it, on demand; nothing is paid if left out'),
  })
  .refine((p) => p.bytes === undefined || p.bytesPerSecond !== undefined, {
    path: ['bytesPerSecond'],
    error: 'is missing: without a rate nobody knows how long those bytes take',
  })

export const NodesSchema = z.strictObject({
  whenIdle: z
    .enum(['give-back', 'stop', 'unload'])
    .optional()
    .describe(
      'stop: a machine without replicas keeps its disk, which is paid, and comes back in the resume time; unload: it stays, paid, and its copy with it, whose model is loaded again; give-back if left out',
    ),
  diskBytes: positive.optional().describe('disk of one machine; image and weights if left out'),
  idleSeconds: nonNegative
    .optional()
    .describe('a machine without replicas is given back after so long; 60 if left out, never where it is unloaded'),
  graceSeconds: nonNegative.optional().describe('what a replica may take to finish what it has; 30 if left out'),
})

export const LossesSchema = z.strictObject({
  replicaMeanSeconds: positive.optional().describe('mean time until a ready replica is lost; never if left out'),
  nodeMeanSeconds: positive.optional().describe('the same for a machine'),
  noticeSeconds: nonNegative.optional().describe('machines are told so long before; 0 if left out'),
  drills: z
    .array(z.strictObject({ seconds: nonNegative, what: z.enum(['replica', 'node']), number: z.int().nonnegative() }))
    .max(1000)
    .optional(),
})

const limits = z
  .array(z.strictObject({ unit: z.enum(['replicas', 'percent']), amount: positive, periodSeconds: positive.max(3600) }))
  .max(8)
  .describe('the one that lets most through counts')
const direction = z.strictObject({ stabilisationSeconds: nonNegative.max(3600).optional(), limits: limits.optional() })
const clock = z.string().regex(/^([01]\d|2[0-4]):[0-5]\d$/, 'must be a time of day such as "07:30"')

/** How the number of replicas follows the load. */
export const PolicySchema = z.strictObject({
  name,
  min: z.int().nonnegative().max(2000),
  max: count.max(2000),
  intervalSeconds: positive.max(86_400).optional().describe('between two readings; 15 if left out'),
  tolerance: z.number().min(0).max(1).optional().describe('deviation that is left alone; 0.1 if left out'),
  metrics: z
    .array(
      z.strictObject({
        metric: z.enum(waysOf(METRICS)),
        target: positive.describe('per ready replica: requests, a share, requests a second, requests, a share'),
        windowSeconds: positive.max(3600).optional().describe('60 if left out'),
        baseShare: z.number().min(0).max(1).optional().describe('host-cpu: what the host shows at rest; 0.05 if left out'),
        sharePerRequest: nonNegative.optional().describe('host-cpu: and for each request in flight; 0.001 if left out'),
      }),
    )
    .max(8)
    .optional(),
  up: direction.optional().describe('at once, and 4 replicas or 100 per cent in 15 s, if left out'),
  down: direction.optional().describe('300 s of stabilisation and 100 per cent in 15 s if left out'),
  schedule: z
    .array(
      z.strictObject({
        days: z.array(z.int().min(1).max(7)).min(1).describe('1 is Monday'),
        from: clock,
        until: clock,
        min: count.max(2000),
      }),
    )
    .max(50)
    .optional(),
  ahead: z.strictObject({ from: z.enum(['plan', 'past-week']), perReplica: positive, leadSeconds: nonNegative }).optional(),
  idle: z
    .strictObject({ seconds: positive, firstCaller: z.enum(['hold', 'refuse']) })
    .optional()
    .describe('to zero after so long without a request'),
  keepAwakeSeconds: positive.optional(),
  wakeAt: z.array(clock).max(50).optional(),
  wake: z
    .strictObject({
      leadSeconds: nonNegative.describe('how long before the call its visitor comes, and wakes the service; the median where it spreads'),
      leadP95Seconds: positive.optional().describe('95 of 100 come less long before; a fixed time if left out'),
      neverShare: z.number().min(0).max(0.95).optional().describe('share of all visits after which nobody calls; 0 if left out'),
    })
    .optional()
    .describe('visitors wake it before they call; only where it sleeps'),
})

export type Start = z.infer<typeof StartSchema>
export type Losses = z.infer<typeof LossesSchema>
export type ScalingPolicy = z.infer<typeof PolicySchema>
