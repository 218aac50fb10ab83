import { BadInput } from '../plan/problem.ts'
import type { DenseModel, ExpertsModel } from '../plan/schema.ts'

/** Fields of a token model that a published shape file may tell. */
export type ShapeField =
  'parameters' | 'activeParameters' | 'layers' | 'width' | 'keyValueHeads' | 'headSize' | 'contextTokens' | 'experts' | 'expertsPerToken'

/** One field with where it comes from. */
export interface ShapeFact {
  field: ShapeField
  /** undefined: the file does not say and it can not be reckoned; it has to be asked for */
  value: number | undefined
  /** read under a key of the file, reckoned from others (to be confirmed), or missing */
  from: 'read' | 'reckoned' | 'missing'
  /** the key, the formula with its figures, or what to look for */
  how: string
}

export interface ModelShape {
  kind: 'dense' | 'experts'
  name: string
  facts: ShapeFact[]
}

/** Key names under which open model repositories publish a shape. */
const KEYS = {
  layers: ['num_hidden_layers', 'num_layers', 'n_layers', 'n_layer'],
  width: ['hidden_size', 'n_embd', 'd_model', 'dim'],
  heads: ['num_attention_heads', 'n_heads', 'n_head'],
  keyValueHeads: ['num_key_value_heads', 'num_kv_heads', 'n_kv_heads', 'n_head_kv'],
  headSize: ['head_dim', 'd_head', 'd_kv'],
  contextTokens: ['max_position_embeddings', 'max_sequence_length', 'max_seq_len', 'n_positions', 'n_ctx', 'seq_length'],
  inner: ['intermediate_size', 'ffn_hidden_size', 'n_inner', 'd_ff', 'ffn_dim'],
  expertInner: ['moe_intermediate_size', 'expert_intermediate_size'],
  vocabulary: ['vocab_size', 'n_vocab'],
  experts: ['num_local_experts', 'num_experts', 'n_routed_experts', 'moe_num_experts'],
  expertsPerToken: ['num_experts_per_tok', 'num_experts_per_token', 'moe_top_k', 'experts_per_token'],
  sharedExperts: ['n_shared_experts', 'num_shared_experts'],
  parameters: ['num_parameters', 'n_params', 'total_parameters', 'parameters'],
  activeParameters: ['active_parameters', 'num_active_parameters'],
} as const
type Known = keyof typeof KEYS

/** Whether a parsed JSON file looks like the shape of a model. */
export function looksLikeShape(value: unknown): boolean {
  return (
    typeof value === 'object' &&
    value !== null &&
    [...KEYS.layers, ...KEYS.width].filter((key) => key in value || 'text_config' in value).length > 0
  )
}

/**
 * Reads a model's published shape file. What it says is taken, what follows from it is reckoned and marked so, the rest
 * is asked for; nothing is filled in silently.
 *
 * @throws BadInput when the text is not JSON or tells no field of a shape
 */
export function readModelShape(text: string, fileName: string): ModelShape {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    throw new BadInput('This model file can not be read.', [
      { path: '', rule: `is not valid JSON (${error instanceof Error ? error.message : String(error)})` },
    ])
  }
  if (!looksLikeShape(value))
    throw new BadInput('This file tells no shape of a model.', [
      { path: '', rule: `must name layers and width, under keys such as ${KEYS.layers[0]} and ${KEYS.width[0]}` },
    ])
  const file = value as Record<string, unknown> // an object, as was just seen
  const inner = typeof file.text_config === 'object' && file.text_config !== null ? { ...file, ...file.text_config } : file
  const shape = new ShapeReader(inner)
  const experts = shape.has('experts') && (shape.value('experts') ?? 0) > 1
  const name = ['name', 'model_name'].map((k) => file[k]).find((n) => typeof n === 'string') ?? fileName.replace(/\.json$/i, '')
  return { kind: experts ? 'experts' : 'dense', name: String(name).slice(0, 80), facts: factsOf(shape, experts) }
}

class ShapeReader {
  private readonly file: Record<string, unknown>
  constructor(file: Record<string, unknown>) {
    this.file = file
  }

  key(known: Known): string | undefined {
    return KEYS[known].find((key) => typeof this.file[key] === 'number' && (this.file[key] as number) > 0)
  }

  has(known: Known): boolean {
    return this.key(known) !== undefined
  }

  value(known: Known): number | undefined {
    const key = this.key(known)
    return key === undefined ? undefined : (this.file[key] as number) // `key` finds numbers only
  }

  flag(key: string): boolean | undefined {
    const value = this.file[key]
    return typeof value === 'boolean' ? value : undefined
  }
}

function factsOf(shape: ShapeReader, experts: boolean): ShapeFact[] {
  const read = (field: ShapeField & Known): ShapeFact | undefined => {
    const key = shape.key(field)
    return key === undefined ? undefined : { field, value: shape.value(field), from: 'read', how: key }
  }
  const missing = (field: ShapeField, how: string): ShapeFact => ({ field, value: undefined, from: 'missing', how })
  const simple = (field: ShapeField & Known) => read(field) ?? missing(field, `no ${KEYS[field].slice(0, 2).join(' or ')} in the file`)
  const facts = [
    simple('layers'),
    simple('width'),
    read('keyValueHeads') ?? keyValueHeads(shape),
    read('headSize') ?? headSize(shape),
    simple('contextTokens'),
  ]
  const value = (field: ShapeField) => facts.find((f) => f.field === field)?.value
  facts.unshift(read('parameters') ?? parameters(shape, experts, value('keyValueHeads'), value('headSize')))
  if (!experts) return facts
  facts.push(simple('experts'), simple('expertsPerToken'))
  facts.splice(1, 0, read('activeParameters') ?? active(shape, value('parameters')))
  return facts
}

function keyValueHeads(shape: ShapeReader): ShapeFact {
  const heads = shape.value('heads')
  if (heads === undefined)
    return {
      field: 'keyValueHeads',
      value: undefined,
      from: 'missing',
      how: `neither ${KEYS.keyValueHeads[0]} nor ${KEYS.heads[0]} in the file`,
    }
  return { field: 'keyValueHeads', value: heads, from: 'reckoned', how: `no ${KEYS.keyValueHeads[0]}: as many as heads, ${heads}` }
}

function headSize(shape: ShapeReader): ShapeFact {
  const [width, heads] = [shape.value('width'), shape.value('heads')]
  if (width === undefined || heads === undefined)
    return {
      field: 'headSize',
      value: undefined,
      from: 'missing',
      how: `no ${KEYS.headSize[0]} in the file, and no width and heads to divide`,
    }
  return { field: 'headSize', value: Math.round(width / heads), from: 'reckoned', how: `width ${width} / ${heads} heads` }
}

/** V·H (twice if not tied) + L·(2·H·h·d + 2·H·g·d + 3·H·I): gated feed-forward, which has three matrices; norms left out. */
function parameters(shape: ShapeReader, experts: boolean, g: number | undefined, d: number | undefined): ShapeFact {
  const [L, H, h, V] = (['layers', 'width', 'heads', 'vocabulary'] as const).map((k) => shape.value(k))
  const inner = experts ? (shape.value('expertInner') ?? shape.value('inner')) : shape.value('inner')
  if (
    L === undefined ||
    H === undefined ||
    h === undefined ||
    V === undefined ||
    inner === undefined ||
    g === undefined ||
    d === undefined
  ) {
    return {
      field: 'parameters',
      value: undefined,
      from: 'missing',
      how: 'the file has no count of parameters, and too little to reckon it',
    }
  }
  const tied = shape.flag('tie_word_embeddings') ?? false
  const copies = experts ? (shape.value('experts') ?? 1) + (shape.value('sharedExperts') ?? 0) : 1
  const value = V * H * (tied ? 1 : 2) + L * (2 * H * h * d + 2 * H * g * d) + L * copies * 3 * H * inner
  return {
    field: 'parameters',
    value,
    from: 'reckoned',
    how: `${tied ? 'one table' : 'two tables'} of ${V} × ${H}, ${L} layers of attention and ${copies === 1 ? '' : `${copies} × `}a gated feed-forward of ${inner}`,
  }
}

function active(shape: ShapeReader, all: number | undefined): ShapeFact {
  const [L, H, E, k] = (['layers', 'width', 'experts', 'expertsPerToken'] as const).map((x) => shape.value(x))
  const inner = shape.value('expertInner') ?? shape.value('inner')
  if (all === undefined || L === undefined || H === undefined || E === undefined || k === undefined || inner === undefined) {
    return {
      field: 'activeParameters',
      value: undefined,
      from: 'missing',
      how: 'the file has no count of active parameters, and too little to reckon it',
    }
  }
  return {
    field: 'activeParameters',
    value: all - L * (E - k) * 3 * H * inner,
    from: 'reckoned',
    how: `all without the ${E - k} of ${E} experts of ${L} layers that a token passes by`,
  }
}

/** A model from facts that are all there, with one 16-bit variant to begin with. */
export function modelFromShape(shape: ModelShape): DenseModel | ExpertsModel {
  const value = (field: ShapeField) => {
    const found = shape.facts.find((f) => f.field === field)?.value
    if (found === undefined) throw new Error(`${field} has to be asked for first`)
    return Math.round(found)
  }
  const common = {
    name: shape.name,
    parameters: value('parameters'),
    layers: value('layers'),
    width: value('width'),
    keyValueHeads: value('keyValueHeads'),
    headSize: value('headSize'),
    contextTokens: value('contextTokens'),
    variants: [{ name: '16-bit', weightBits: 16, cacheBits: 16, arithmeticBits: 16 }],
  }
  if (shape.kind === 'dense') return { kind: 'dense', ...common }
  return {
    kind: 'experts',
    ...common,
    activeParameters: value('activeParameters'),
    experts: value('experts'),
    expertsPerToken: value('expertsPerToken'),
  }
}
