import * as z from 'zod'
import { GuardSchema } from './guardSchema.ts'
import { ArrivalsSchema } from './arrivalKinds.ts'
import { LossesSchema, NodesSchema, PolicySchema, PreparationSchema, StartSchema, WeightsFromSchema } from './lifeSchema.ts'
import { SizeSchema, WaySchema } from './loadSchema.ts'
import { MachineSchema } from './machineSchema.ts'
import { ModelSchema } from './modelSchema.ts'
import { count, MOST_REPLICAS, name, nonNegative, positive, share } from './primitives.ts'
import { DoubtSchema } from './doubtSchema.ts'
import { ProfileSchema } from './profileSchema.ts'
import { SoldSchema } from './soldSchema.ts'
import { PROMPTS, PURCHASES, RESERVATIONS, ROUTINGS, SPLITS, waysOf } from './ways.ts'

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
    at: z
      .enum(['caller', 'service'])
      .optional()
      .describe('of ttft and latency of a class that states a way: whether it counts; without a way both are the same'),
    over: z
      .enum(['all', 'worst-hour'])
      .optional()
      .describe(
        'all: every counted request together; worst-hour: every hour of the horizon by itself, as far as it has enough requests for the percentile; all if left out',
      ),
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
      callers: z
        .strictObject({
          count: count.max(100_000),
          skew: z
            .number()
            .min(0)
            .max(3)
            .optional()
            .describe('the k-th caller sends a share like k^−skew: 0 all alike, 1 a few most of it; 0 if left out'),
        })
        .optional()
        .describe('a bucket for each of so many callers; one for the whole class if left out'),
    })
    .optional(),
  turns: z
    .strictObject({
      count: SizeSchema.describe('requests of one conversation; arrivals are then those of conversations'),
      pauseSeconds: nonNegative.describe('from the end of an answer to the next request; the mean when exponential'),
      pausing: z.enum(['fixed', 'exponential']).optional().describe('exponential if left out'),
      historyTokens: count
        .optional()
        .describe('every prompt carries all prompts and answers before it, up to so many tokens in all; without it each stands alone'),
    })
    .optional(),
  lengthCorrelation: z
    .number()
    .gt(-1)
    .lt(1)
    .optional()
    .describe('of the normal scores of prompt and answer: above 0 long prompts have long answers; 0 if left out'),
  way: WaySchema.optional().describe('between caller and service; no time if left out'),
  cachedShare: z.number().min(0).max(1).optional().describe('share of each prompt that is in the cache already; 0 if left out'),
  targets: z.array(TargetSchema).max(12),
})

const RoutingSchema = z.enum(waysOf(ROUTINGS))
const PromptsSchema = z.enum(waysOf(PROMPTS))
const PurchaseSchema = z.enum(waysOf(PURCHASES))
const SplitSchema = z.enum(waysOf(SPLITS))
const ReservationSchema = z.enum(waysOf(RESERVATIONS))

const LimitsSchema = z.strictObject({
  queue: z.int().nonnegative().optional().describe('requests that may wait in the whole service; more are rejected'),
  maxPrefillTokens: count.optional().describe('prompt tokens of one prefill step; 8192 if left out'),
  windowSeconds: nonNegative.optional().describe('how long a batch waits to fill; 0 if left out'),
  prompts: PromptsSchema.optional().describe('prompts in steps of their own, or in chunks beside decoding; whole if left out'),
  stepTokens: count.optional().describe('interleaved: token budget of a step; 2048 if left out'),
  reservation: ReservationSchema.optional().describe(
    'whole: room for prompt and answer is kept from the start; optimistic: the cache fills as tokens come and the last admitted is evicted; whole if left out',
  ),
  outputCap: count.optional().describe('longer answers are cut off here'),
  contextTokens: count
    .optional()
    .describe('longest prompt and answer that is served; the cache must hold one of it; what the model takes if left out'),
  draft: z
    .strictObject({
      tokens: count.max(64).describe('tokens drafted for each sequence in each step'),
      acceptedPerStep: z.number().min(1).max(65).describe('mean tokens that a sequence gains in a step'),
      secondsPerStep: nonNegative.describe('what drafting adds to a step'),
    })
    .refine((d) => d.acceptedPerStep <= d.tokens + 1, {
      path: ['acceptedPerStep'],
      error: 'must be at most one more than the drafted tokens',
    })
    .optional(),
})

/** Exactly one configuration, to be simulated as it stands. */
export const ConfigurationSchema = z.strictObject({
  machine: name.optional(),
  variant: name.optional(),
  devices: count.optional().describe('devices per replica; 1 if left out'),
  sequences: count.describe('sequences side by side in a replica, or requests in a batch'),
  purchase: PurchaseSchema.optional().describe('on-demand if left out'),
  safeShare: share.optional().describe('mixed: share of the machines that can not be taken away; 0.5 if left out'),
  replicas: count.max(MOST_REPLICAS).describe('with a policy they follow the load instead, and this many are not used'),
  policy: name.optional().describe('one of the policies of the service; a fixed number if left out'),
  profile: ProfileSchema.optional().describe('coefficients of one replica; then no machine is needed'),
  pricePerReplicaHour: nonNegative.optional().describe('with a profile: what one replica costs'),
})

const SearchSchema = z.strictObject({
  machines: z.array(name).min(1).optional().describe('all machines if left out'),
  variants: z.array(name).min(1).optional().describe('all variants if left out'),
  devices: z.array(count.max(1024)).min(1).optional().describe('devices per replica to try; 1, 2, 4 and 8 if left out'),
  without: z
    .array(z.strictObject({ machine: name, variant: name.optional(), devices: count.optional() }))
    .max(2000)
    .optional()
    .describe('combinations that are not to be tried; a field that is left out stands for all'),
  regions: z.array(name).min(1).max(100).optional().describe('where machines may stand; anywhere if left out'),
  zones: z.array(name).min(1).max(100).optional().describe('and in which zones of it'),
  providers: z.array(name).min(1).max(100).optional().describe('who may rent them out; anybody if left out'),
  leastTrust: z.int().min(1).max(99).optional().describe('only hosts of offers that state at least so much'),
  qualityFloor: share.optional().describe('least quality score, with its whole 95 % interval'),
  licensedForProduction: z.boolean().optional().describe('true: only variants whose licence says that they may serve in production'),
  purchases: z
    .array(PurchaseSchema)
    .min(1)
    .optional()
    .describe('ways of paying to try, where an offer has them; on demand alone if left out'),
  safeShares: z
    .array(share)
    .min(1)
    .max(8)
    .optional()
    .describe('mixed: shares of the machines, the first ones, that can not be taken away; 0.5 if left out'),
  sequences: z.array(count.max(4096)).min(1).describe('sequence limits, or batch sizes, to try'),
  routings: z
    .array(RoutingSchema)
    .min(1)
    .max(waysOf(ROUTINGS).length)
    .optional()
    .describe('ways of routing to try beside the service’s own'),
  splits: z
    .array(SplitSchema)
    .min(1)
    .max(2)
    .optional()
    .describe('ways of dividing a replica over several machines, to try beside the service’s own'),
  weightsFrom: z.array(WeightsFromSchema).min(1).max(3).optional().describe('where weights may come from, to try beside what start states'),
  prompts: z.array(PromptsSchema).min(1).max(2).optional().describe('to try beside limits.prompts'),
  stepTokens: z.array(count).min(1).max(16).optional().describe('interleaved: to try beside limits.stepTokens'),
  maxPrefillTokens: z.array(count).min(1).max(16).optional().describe('whole prompts: to try beside limits.maxPrefillTokens'),
  reservations: z.array(ReservationSchema).min(1).max(2).optional().describe('to try beside limits.reservation'),
  windowSeconds: z.array(nonNegative).min(1).max(16).optional().describe('batches: to try beside limits.windowSeconds'),
  maxReplicas: count.max(MOST_REPLICAS).optional().describe('200 if left out'),
})

export const ServiceSchema = z.strictObject({
  name,
  model: name.optional(),
  routing: RoutingSchema,
  split: SplitSchema.optional().describe(
    'how a replica over several machines is divided: every layer by heads over all devices, or whole layers by machine; heads if left out',
  ),
  startupSeconds: nonNegative.optional().describe('from the start of the horizon until the replicas are ready; 0 if left out'),
  start: StartSchema.optional().describe('start-up by stages, in place of startupSeconds'),
  preparation: z.array(PreparationSchema).min(1).max(20).optional().describe('work before any start-up, in its order'),
  nodes: NodesSchema.optional(),
  losses: LossesSchema.optional(),
  host: z
    .strictObject({ cores: positive.optional(), memoryBytes: positive.optional() })
    .optional()
    .describe('what each replica takes of its host beside devices; a machine holds as many replicas as it has room for'),
  policies: z.array(PolicySchema).max(20).optional().describe('ways of scaling that the search tries beside fixed numbers'),
  limits: LimitsSchema.optional(),
  guard: GuardSchema.optional().describe('stops the service once it has spent so much in a day or a month'),
  search: SearchSchema.optional(),
  configuration: ConfigurationSchema.optional(),
})

const AssumptionsSchema = z.strictObject({
  memoryEfficiency: share,
  arithmeticEfficiency: share,
  launchSeconds: nonNegative.describe('launch overhead of one step'),
  memoryShare: share.describe('share of device memory given to the server'),
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
    begin: z
      .enum(['running', 'nothing', 'stopped', 'unloaded'])
      .optional()
      .describe(
        'what there is at the start: a fixed number, or a policy’s minimum, ready on machines that are there; nothing, so that it has to start up; or stopped machines with image and kept weights; or copies that are there with their model unloaded; running if left out',
      ),
    warmupSeconds: nonNegative.describe('requests that arrive in this first part are simulated and not counted'),
  }),
  seed: z.int().min(0).max(4_294_967_295),
  repetitions: count.max(50).describe('independent seeds behind a confidence interval'),
  margin: z.number().min(0).max(0.9).describe('head-room that every time target must keep: 0.1 is 10 per cent'),
  expectedGrowthPerMonth: z
    .number()
    .gt(0)
    .max(10)
    .optional()
    .describe('how the whole load is expected to grow after the horizon: 0.05 is 5 per cent a month; nothing is said of it if left out'),
  fixedCosts: z
    .array(
      z.strictObject({
        name,
        perMonth: nonNegative,
        stays: z
          .boolean()
          .optional()
          .describe('true: it is still there, and paid, when the machines are gone, such as an address or a copy of an image'),
      }),
    )
    .max(50)
    .optional()
    .describe('what is paid whatever is rented: balancers, addresses, licences'),
  budgetPerMonth: positive.optional().describe('what all of it may cost'),
  prepaid: positive.optional().describe('a balance that the plan is paid from, as it stands at the start of the horizon'),
  log: z
    .union([z.string().max(260), z.array(z.string().max(260)).min(1).max(1000)])
    .optional()
    .describe('file name of the request log that classes with "log" use; several files of one log are a list'),
  certainty: z
    .number()
    .min(0.5)
    .max(0.99)
    .optional()
    .describe(
      'what is searched has to keep every promise in so many of 100 worlds as well, where what is stated is off as its doubts allow: 0.9 is 90 of them',
    ),
  doubt: DoubtSchema.optional().describe('how unsure what is stated is, where worlds are drawn; as is usual if left out'),
  classes: z.array(ClassSchema).min(1).max(50),
  models: z.array(ModelSchema).max(100),
  machines: z.array(MachineSchema).max(1000),
  soldByTokens: z.array(SoldSchema).max(200).optional().describe('services that answer at a price for their tokens'),
  assumptions: AssumptionsSchema,
  services: z.array(ServiceSchema).min(1).max(50),
})

export type { Losses, ScalingPolicy, Start } from './lifeSchema.ts'
export type { Machine } from './machineSchema.ts'
export type { Sold } from './soldSchema.ts'
export type { Found, Measurement, MeasurementRow } from './measurementSchema.ts'
export type { CpuModel, DenseModel, ExpertsModel, Model, OperationsModel, TokenModel, Variant } from './modelSchema.ts'
export type { PerSequences, ProfileSpec } from './profileSchema.ts'
export type { Arrivals, ClosedLoop, GeneratedArrivals } from './arrivalKinds.ts'
export type { Bursts, Size, Spike, Way } from './loadSchema.ts'
export type Plan = z.infer<typeof PlanSchema>
export type RequestClass = z.infer<typeof ClassSchema>
export type Turns = NonNullable<RequestClass['turns']>
export type Target = z.infer<typeof TargetSchema>
export type Service = z.infer<typeof ServiceSchema>
export type Configuration = z.infer<typeof ConfigurationSchema>
export type Assumptions = z.infer<typeof AssumptionsSchema>
