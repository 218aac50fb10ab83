import * as z from 'zod'
import { FoundSchema, MeasurementSchema } from './measurementSchema.ts'
import { count, name, nonNegative, positive, share } from './primitives.ts'
import { ProfileSchema } from './profileSchema.ts'

/** One way in which a model is stored and reckoned: its bits, its file, how good it is, what it may be used for. */
export const VariantSchema = z.strictObject({
  name,
  format: name.optional().describe('how the weights are packed; machines may run one format faster than another'),
  weightBits: positive.max(64).optional().describe('bits of one weight, without its scale'),
  groupSize: count.optional().describe('weights that share one scale and one zero point'),
  scaleBits: nonNegative.max(64).optional().describe('bits of a group’s scale; 0 if left out'),
  zeroPointBits: nonNegative.max(64).optional().describe('bits of a group’s zero point; 0 if left out'),
  bytesPerWeight: positive.optional().describe('all in, in place of bits and groups'),
  cacheBits: positive.max(64).optional().describe('bits of one cached element'),
  bytesPerCacheElement: positive.optional().describe('in place of cacheBits'),
  arithmeticBits: count.optional().describe('which of a machine’s arithmetic rates this variant uses'),
  efficiency: z
    .strictObject({ memory: share.optional(), arithmetic: share.optional() })
    .optional()
    .describe('shares of the machine’s rates that this format reaches; the plan’s assumptions if left out'),
  diskBytes: positive.optional().describe('size of the files'),
  quality: z
    .strictObject({
      score: z.number().min(0).max(1).describe('share of the samples that were answered well'),
      samples: count.describe('samples behind the score'),
      of: z.string().max(200).optional().describe('what was judged, and by whom'),
    })
    .optional(),
  licence: z.strictObject({ production: z.boolean().describe('whether it may serve in production'), note: z.string().max(400) }).optional(),
  profiles: z
    .array(
      z.strictObject({
        machine: name.optional().describe('name of a machine; without it the profile holds everywhere'),
        devices: count.optional().describe('devices per replica; 1 if left out'),
        profile: ProfileSchema,
        measured: FoundSchema.optional().describe('behind which measured requests they were found; typed in if left out'),
      }),
    )
    .optional()
    .describe('coefficients that are typed in, or were found behind measured requests; they come before load tests and derivation'),
  measurements: z.array(MeasurementSchema).max(200).optional().describe('load tests; their fit comes before derivation'),
})

const named = { name, variants: z.array(VariantSchema).min(1) }

const tokenShape = {
  ...named,
  parameters: positive,
  layers: count,
  width: count,
  keyValueHeads: count,
  queryHeads: count.optional().describe('devices that share a layer have to divide them; width / head size if left out'),
  headSize: count,
  cacheBytesPerToken: positive
    .optional()
    .describe(
      'what one token keeps in the cache, where that is compressed: every device keeps all of it; 2 × layers × key-value heads × head size × bytes of an element if left out',
    ),
  contextTokens: count.describe('prompt and answer together may not be longer'),
  outputCap: count.optional().describe('the model never writes a longer answer'),
  activationBytes: nonNegative.optional().describe('working memory of a replica; 0 if left out'),
}

const operationsShape = {
  ...named,
  parameters: positive,
  fixedOperations: nonNegative.describe('operations of one item, whatever its work'),
  activationBytes: nonNegative.optional().describe('working memory of a replica; 0 if left out'),
  activationBytesPerItem: nonNegative.optional().describe('working memory of each item of a batch; 0 if left out'),
}

export const ModelSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('dense'), ...tokenShape }),
  z.strictObject({
    kind: z.literal('experts'),
    ...tokenShape,
    parameters: positive.describe('all of them, every expert included'),
    activeParameters: positive.describe('those that one token passes through'),
    experts: count.describe('experts in a layer'),
    expertsPerToken: count.describe('experts that a token passes through in a layer'),
  }),
  z.strictObject({
    kind: z.literal('work'),
    ...operationsShape,
    operationsPerUnit: nonNegative.describe('operations of one work unit of an item'),
  }),
  z.strictObject({
    kind: z.literal('iterative'),
    ...operationsShape,
    operationsPerStep: positive.describe('operations of one step of an item; work counts the steps'),
  }),
  z.strictObject({
    kind: z.literal('cpu'),
    ...named,
    baseSeconds: nonNegative.describe('seconds of a request, whatever its work, on cores of speed 1'),
    secondsPerUnit: nonNegative.describe('seconds of one work unit on cores of speed 1'),
    coresPerRequest: positive.describe('cores that one request keeps busy'),
    memoryBytes: nonNegative.describe('host memory of a replica at rest'),
    memoryBytesPerRequest: nonNegative.describe('host memory of each request in service'),
    slowdown: nonNegative.optional().describe('how far requests side by side slow each other; 0 if left out'),
  }),
  z.strictObject({
    kind: z.literal('given'),
    ...named,
    contextTokens: count.optional(),
    outputCap: count.optional(),
    weightBytes: nonNegative.optional().describe('for the memory split; 0 if left out'),
  }),
])

export type Model = z.infer<typeof ModelSchema>
export type DenseModel = Extract<Model, { kind: 'dense' }>
export type ExpertsModel = Extract<Model, { kind: 'experts' }>
export type TokenModel = DenseModel | ExpertsModel
export type OperationsModel = Extract<Model, { kind: 'work' | 'iterative' }>
export type CpuModel = Extract<Model, { kind: 'cpu' }>
export type Variant = z.infer<typeof VariantSchema>
