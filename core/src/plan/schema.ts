import * as z from 'zod'
import { ArrivalsSchema, SizeSchema } from './loadSchema.ts'
import { count, name, nonNegative, positive } from './primitives.ts'

/** The name that every plan file carries in its `format` field. */
export const PLAN_FORMAT = 'sand-clock-plan'
/** The newest version of the plan format that this core reads and writes. */
export const PLAN_VERSION = 1

/** What a class is promised. */
export const TargetSchema = z.discriminatedUnion('measure', [
  z.strictObject({
    measure: z.enum(['wait', 'ttft', 'tpot', 'latency']),
    percentile: z.number().gt(0).lt(100),
    seconds: positive,
  }),
  z.strictObject({
    measure: z.literal('lost'),
    share: z.number().min(0).lt(1).describe('largest share of requests that may be refused, abandoned or failed'),
  }),
  z.strictObject({
    measure: z.literal('throughput'),
    perSecond: positive.describe('finished requests per second, averaged over the counted time'),
  }),
])

export const ClassSchema = z.strictObject({
  name,
  service: name.describe('the service that answers this class'),
  arrivals: ArrivalsSchema,
  input: SizeSchema.optional().describe('prompt tokens; for token services'),
  output: SizeSchema.optional().describe('answer tokens; for token services'),
  work: SizeSchema.optional().describe('work units; for fixed-work services'),
  items: SizeSchema.optional().describe('items in one request, such as images; for fixed-work services; 1 if left out'),
  patienceSeconds: positive.optional().describe('a request that waited longer than this without being started leaves'),
  priority: z.int().min(-100).max(100).optional().describe('higher is admitted first; 0 if left out'),
  retries: z
    .strictObject({
      most: count.max(100).describe('further attempts of a request that was refused or gave up'),
      firstPauseSeconds: nonNegative,
      growth: z.number().min(1).max(10).optional().describe('each pause is this many times the one before; 2 if left out'),
      jitter: z.number().min(0).max(1).optional().describe('share by which a pause is drawn shorter or longer; 0 if left out'),
    })
    .optional(),
  rateLimit: z
    .strictObject({
      unit: z.enum(['requests', 'tokens']).describe('what an arrival pays: 1, or its prompt and answer tokens'),
      perSecond: positive.describe('what the bucket gains'),
      burst: positive.describe('what it holds at most, and at the start'),
    })
    .optional(),
  turns: z
    .strictObject({
      count: SizeSchema.describe('requests of one conversation; arrivals are then those of conversations'),
      pauseSeconds: nonNegative.describe('from the end of an answer to the next request; the mean when exponential'),
      pausing: z.enum(['fixed', 'exponential']).optional().describe('exponential if left out'),
      historyTokens: count.optional().describe('every prompt carries all prompts and answers before it, up to so many tokens in all; without it each stands alone'),
    })
    .optional(),
  lengthCorrelation: z.number().gt(-1).lt(1).optional().describe('of the normal scores of prompt and answer: above 0 long prompts have long answers; 0 if left out'),
  cachedShare: z.number().min(0).max(1).optional().describe('share of each prompt that is in the cache already; 0 if left out'),
  targets: z.array(TargetSchema).max(12),
})

const perSequences = z.union([
  nonNegative,
  z.strictObject({ base: nonNegative, perSequence: nonNegative }),
  z.array(nonNegative).min(1).max(4096),
])

/** Step costs of a replica, typed in rather than derived (engine rules, section 2). */
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

const VariantSchema = z.strictObject({
  name,
  bytesPerWeight: positive.optional(),
  bytesPerCacheElement: positive.optional(),
  arithmeticBits: count.optional().describe('which of a machine’s arithmetic rates this variant uses'),
  profiles: z
    .array(
      z.strictObject({
        machine: name.optional().describe('name of a machine; without it the profile holds everywhere'),
        devices: count.optional().describe('devices per replica; 1 if left out'),
        profile: ProfileSchema,
      }),
    )
    .optional()
    .describe('for models whose coefficients are given'),
})

export const ModelSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('dense'),
    name,
    parameters: positive,
    layers: count,
    width: count,
    keyValueHeads: count,
    headSize: count,
    contextTokens: count.describe('prompt and answer together may not be longer'),
    activationBytes: nonNegative.optional().describe('working memory of a replica; 0 if left out'),
    variants: z.array(VariantSchema).min(1),
  }),
  z.strictObject({
    kind: z.literal('given'),
    name,
    contextTokens: count.optional(),
    weightBytes: nonNegative.optional().describe('for the memory split; 0 if left out'),
    variants: z.array(VariantSchema).min(1),
  }),
])

export const MachineSchema = z.strictObject({
  name,
  provider: name,
  region: name,
  device: name,
  devices: count.describe('devices in one machine'),
  memoryBytesPerDevice: positive,
  bandwidthBytesPerSecond: positive.describe('memory bandwidth of one device'),
  arithmeticPerSecond: z
    .record(z.string().regex(/^\d+$/, 'must be a number of bits such as "16"'), positive)
    .describe('operations per second of one device, by bits'),
  linkBytesPerSecond: positive.optional().describe('between devices; needed for more than one device per replica'),
  hopSeconds: nonNegative.optional().describe('latency of one exchange between devices; 0 if left out'),
  pricePerHour: nonNegative.describe('on demand, for the whole machine'),
  stock: z.int().nonnegative().describe('machines that can be had at once'),
})

const LimitsSchema = z.strictObject({
  queue: z.int().nonnegative().optional().describe('requests that may wait in the whole service; more are rejected'),
  maxPrefillTokens: count.optional().describe('prompt tokens of one prefill step; 8192 if left out'),
  windowSeconds: nonNegative.optional().describe('how long a batch waits to fill; 0 if left out'),
  prompts: z.enum(['whole', 'interleaved']).optional().describe('prompts in steps of their own, or in chunks beside decoding; whole if left out'),
  stepTokens: count.optional().describe('interleaved: token budget of a step; 2048 if left out'),
  reservation: z
    .enum(['whole', 'optimistic'])
    .optional()
    .describe('whole: room for prompt and answer is kept from the start; optimistic: the cache fills as tokens come and the last admitted is evicted; whole if left out'),
  outputCap: count.optional().describe('longer answers are cut off here'),
  draft: z
    .strictObject({
      tokens: count.max(64).describe('tokens drafted for each sequence in each step'),
      acceptedPerStep: z.number().min(1).max(65).describe('mean tokens that a sequence gains in a step'),
      secondsPerStep: nonNegative.describe('what drafting adds to a step'),
    })
    .refine((d) => d.acceptedPerStep <= d.tokens + 1, { path: ['acceptedPerStep'], error: 'must be at most one more than the drafted tokens' })
    .optional(),
})

/** Exactly one configuration, to be simulated as it stands. */
export const ConfigurationSchema = z.strictObject({
  machine: name.optional(),
  variant: name.optional(),
  devices: count.optional().describe('devices per replica; 1 if left out'),
  sequences: count.describe('sequences side by side in a replica, or requests in a batch'),
  replicas: count.max(2000),
  profile: ProfileSchema.optional().describe('coefficients of one replica; then no machine is needed'),
  pricePerReplicaHour: nonNegative.optional().describe('with a profile: what one replica costs'),
})

const SearchSchema = z.strictObject({
  machines: z.array(name).min(1).optional().describe('all machines if left out'),
  variants: z.array(name).min(1).optional().describe('all variants if left out'),
  devices: z.array(count).min(1).optional().describe('devices per replica to try; 1, 2, 4 and 8 if left out'),
  sequences: z.array(count.max(4096)).min(1).describe('sequence limits, or batch sizes, to try'),
  maxReplicas: count.max(2000).optional().describe('200 if left out'),
})

export const ServiceSchema = z.strictObject({
  name,
  model: name.optional(),
  routing: z.enum(['least-busy', 'round-robin', 'two-choice', 'shared-queue']),
  startupSeconds: nonNegative.optional().describe('from the start of the horizon until the replicas are ready; 0 if left out'),
  limits: LimitsSchema.optional(),
  search: SearchSchema.optional(),
  configuration: ConfigurationSchema.optional(),
})

const AssumptionsSchema = z.strictObject({
  memoryEfficiency: z.number().gt(0).max(1),
  arithmeticEfficiency: z.number().gt(0).max(1),
  launchSeconds: nonNegative.describe('launch overhead of one step'),
  memoryShare: z.number().gt(0).max(1).describe('share of device memory given to the server'),
  reserveBytesPerDevice: nonNegative,
  source: z.string().max(400).describe('where these figures come from'),
})

export const PlanSchema = z.strictObject({
  format: z.literal(PLAN_FORMAT),
  version: z.literal(PLAN_VERSION),
  name,
  note: z.string().max(2000).optional(),
  currency: z.string().regex(/^[A-Z]{3}$/, 'must be a three-letter code such as "EUR"'),
  horizon: z.strictObject({
    start: z.iso.datetime({ offset: true }),
    seconds: positive.max(366 * 86_400),
    warmupSeconds: nonNegative.describe('requests that arrive in this first part are simulated and not counted'),
  }),
  seed: z.int().min(0).max(4_294_967_295),
  repetitions: count.max(50).describe('independent seeds behind a confidence interval'),
  margin: z.number().min(0).max(0.9).describe('head-room that every time target must keep: 0.1 is 10 per cent'),
  log: z.string().max(260).optional().describe('file name of the request log that classes with "log" use'),
  classes: z.array(ClassSchema).min(1).max(50),
  models: z.array(ModelSchema).max(100),
  machines: z.array(MachineSchema).max(1000),
  assumptions: AssumptionsSchema,
  services: z.array(ServiceSchema).min(1).max(50),
})

export type { Arrivals, Bursts, ClosedLoop, GeneratedArrivals, Size, Spike } from './loadSchema.ts'
export type Plan = z.infer<typeof PlanSchema>
export type RequestClass = z.infer<typeof ClassSchema>
export type Turns = NonNullable<RequestClass['turns']>
export type Target = z.infer<typeof TargetSchema>
export type Model = z.infer<typeof ModelSchema>
export type DenseModel = Extract<Model, { kind: 'dense' }>
export type Variant = z.infer<typeof VariantSchema>
export type Machine = z.infer<typeof MachineSchema>
export type Service = z.infer<typeof ServiceSchema>
export type ProfileSpec = z.infer<typeof ProfileSchema>
export type PerSequences = z.infer<typeof perSequences>
export type Configuration = z.infer<typeof ConfigurationSchema>
export type Assumptions = z.infer<typeof AssumptionsSchema>
