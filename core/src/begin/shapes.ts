import type { DenseModel, Model, Variant } from '../plan/schema.ts'

const BYTES_PER_BIT = 1 / 8
/** Scales of a group and what is not packed come on top of the weights' own bits. */
const FILES_OVER_WEIGHTS = 1.03

/** A variant of a token model by the bits of its weights; 4 bits are unpacked to 16 for reckoning, and reach less of a machine. */
function variant(bits: 16 | 8 | 4, parameters: number): Variant {
  return {
    name: `${bits}-bit`,
    weightBits: bits,
    ...(bits < 16 && { groupSize: bits === 8 ? 128 : 32, scaleBits: 16 }),
    cacheBits: 16,
    arithmeticBits: bits === 8 ? 8 : 16,
    ...(bits === 4 && { efficiency: { memory: 0.62, arithmetic: 0.4 } }),
    diskBytes: Math.round(parameters * bits * BYTES_PER_BIT * FILES_OVER_WEIGHTS),
  }
}

/** Working memory of a replica: what is assumed of a model by its size. */
export const activationBytes = (parameters: number) => Math.round(0.6e9 + parameters / 30)

/** A dense model with the three usual packings of its weights. */
export function denseOf(name: string, billions: number, layers: number, width: number, headSize: number): DenseModel {
  const parameters = billions * 1e9
  return {
    kind: 'dense',
    name,
    parameters,
    layers,
    width,
    keyValueHeads: 8,
    headSize,
    contextTokens: 32_768,
    activationBytes: activationBytes(parameters),
    variants: ([16, 8, 4] as const).map((bits) => variant(bits, parameters)),
  }
}

/** Shapes to begin with: usual ones of their size and kind, under invented names. What they are for is in the name of their kind. */
export const SHAPES = {
  '3b': { words: 'a dense model of 3 billion parameters', works: 'tokens', model: denseOf('Dunlin 3B', 3.1, 28, 3072, 96) },
  '8b': { words: 'a dense model of 8 billion parameters', works: 'tokens', model: denseOf('Plover 8B', 8, 32, 4096, 128) },
  '14b': { words: 'a dense model of 14 billion parameters', works: 'tokens', model: denseOf('Curlew 14B', 14, 40, 5120, 128) },
  '32b': { words: 'a dense model of 32 billion parameters', works: 'tokens', model: denseOf('Whimbrel 32B', 32, 64, 5120, 128) },
  '70b': { words: 'a dense model of 70 billion parameters', works: 'tokens', model: denseOf('Godwit 70B', 70, 80, 8192, 128) },
  experts: {
    words: 'a mixture of 8 experts, 38 billion parameters',
    works: 'tokens',
    model: {
      kind: 'experts',
      name: 'Avocet 8×6B',
      parameters: 38e9,
      activeParameters: 11.2e9,
      experts: 8,
      expertsPerToken: 2,
      layers: 32,
      width: 4096,
      keyValueHeads: 8,
      headSize: 128,
      contextTokens: 32_768,
      activationBytes: 1.5e9,
      variants: ([16, 8, 4] as const).map((bits) => variant(bits, 38e9)),
    },
  },
  sketch: {
    words: 'an image model of denoising steps, 2.6 billion parameters',
    works: 'steps',
    model: {
      kind: 'iterative',
      name: 'Sanderling sketch',
      parameters: 2.6e9,
      fixedOperations: 3e12,
      operationsPerStep: 1.2e12,
      activationBytes: 1e9,
      activationBytesPerItem: 1.6e9,
      variants: [{ name: '16-bit', weightBits: 16, arithmeticBits: 16, diskBytes: 5.3e9 }],
    },
  },
  sorter: {
    words: 'a small classifier on plain cores',
    works: 'units',
    model: {
      kind: 'cpu',
      name: 'Knot sorter',
      baseSeconds: 0.006,
      secondsPerUnit: 0.0008,
      coresPerRequest: 1,
      memoryBytes: 0.7e9,
      memoryBytesPerRequest: 0.05e9,
      slowdown: 0.01,
      variants: [{ name: 'as trained', diskBytes: 0.4e9 }],
    },
  },
} as const satisfies Record<string, { words: string; works: Works; model: Model }>

/** What a request's size is counted in. */
export type Works = 'tokens' | 'steps' | 'units'
export type ShapeName = keyof typeof SHAPES
