import * as ort from 'onnxruntime-web'
import { network, type Constant, type Port, type Step } from './networkFormat.ts'

/** A small network that makes tokens for real, with weights that were never trained. */
export const SHAPE = { layers: 4, width: 256, heads: 8, vocabulary: 1024, contextTokens: 4096 }
const { width: WIDTH, heads: HEADS } = SHAPE
const HEAD = WIDTH / HEADS

// The one who is measured has one core; the other is for who asks.
ort.env.wasm.numThreads = 1

/** What a sequence has read and written so far: keys and values of each layer, a row a token. */
export interface Cache {
  tokens: number
  layers: { keys: Float32Array; values: Float32Array }[]
}

/** Parts of the network, each of which the runtime computes by itself: between them stands what sequences keep, as long as each is. */
interface Parts {
  embed: ort.InferenceSession
  layers: { project: ort.InferenceSession; mix: ort.InferenceSession }[]
  attend: ort.InferenceSession
  choose: ort.InferenceSession
}

/** A decoder of the usual kind: attention over all that went before, then two wide layers. */
export class Network {
  private readonly parts: Parts

  private constructor(parts: Parts) {
    this.parts = parts
  }

  static async made(seed: number): Promise<Network> {
    const random = weightsOf(seed)
    const session = (bytes: Uint8Array) => ort.InferenceSession.create(bytes, { executionProviders: ['wasm'] })
    const embedding = random('embedding', SHAPE.vocabulary, WIDTH)
    const parts: Parts = {
      embed: await session(network([{ op: 'Gather', from: ['embedding', 'tokens'], to: 'x' }], [tokens], [rows('x')], [embedding])),
      layers: [],
      attend: await session(attending()),
      choose: await session(choosing(embedding)),
    }
    for (let l = 0; l < SHAPE.layers; l++) {
      const [project, mix] = [projecting(['q', 'k', 'v'].map((name) => random(name, WIDTH, WIDTH))), mixing(random)]
      parts.layers.push({ project: await session(project), mix: await session(mix) })
    }
    return new Network(parts)
  }

  /** Reads a whole prompt. @returns its cache, and the first token of the answer */
  async prefill(prompt: readonly number[]): Promise<{ cache: Cache; token: number }> {
    const { parts } = this
    const cache: Cache = { tokens: prompt.length, layers: [] }
    const mask = causal(prompt.length)
    let x = await this.embed(prompt)
    for (const { project, mix } of parts.layers) {
      const { q, k, v } = await project.run({ x })
      const { out } = await parts.attend.run({ q: byHeads(q), k: byHeads(k), v: byHeads(v), mask })
      cache.layers.push({ keys: floats(k).slice(), values: floats(v).slice() })
      x = (await mix.run({ x, attended: out })).y
    }
    const last = floats(x).slice((prompt.length - 1) * WIDTH)
    return { cache, token: (await this.choose(last, 1))[0] }
  }

  /** One more token of each sequence: weights are read once for all of them, their caches each by itself. */
  async decode(sequences: readonly { cache: Cache; token: number }[]): Promise<number[]> {
    const { parts } = this
    const n = sequences.length
    let x = await this.embed(sequences.map((s) => s.token))
    for (const [l, { project, mix }] of parts.layers.entries()) {
      const { q, k, v } = await project.run({ x })
      const attended = new Float32Array(n * WIDTH)
      for (const [i, { cache }] of sequences.entries()) {
        const own = (of: ort.Tensor) => floats(of).subarray(i * WIDTH, (i + 1) * WIDTH)
        const kept = cache.layers[l]
        kept.keys = longer(kept.keys, cache.tokens, own(k))
        kept.values = longer(kept.values, cache.tokens, own(v))
        const seen = (cache.tokens + 1) * WIDTH
        const { out } = await parts.attend.run({
          q: heads(own(q)),
          k: heads(kept.keys.subarray(0, seen)),
          v: heads(kept.values.subarray(0, seen)),
          mask: NOTHING_HIDDEN,
        })
        attended.set(floats(out), i * WIDTH)
      }
      x = (await mix.run({ x, attended: new ort.Tensor('float32', attended, [n, WIDTH]) })).y
    }
    for (const { cache } of sequences) cache.tokens++
    return this.choose(floats(x), n)
  }

  private async embed(of: readonly number[]): Promise<ort.Tensor> {
    return (await this.parts.embed.run({ tokens: new ort.Tensor('int64', BigInt64Array.from(of, BigInt), [of.length]) })).x
  }

  private async choose(x: Float32Array, n: number): Promise<number[]> {
    const { token } = await this.parts.choose.run({ x: new ort.Tensor('float32', x, [n, WIDTH]) })
    return Array.from(token.data as BigInt64Array, Number)
  }
}

const floats = (of: ort.Tensor) => of.data as Float32Array
const heads = (values: Float32Array) => new ort.Tensor('float32', values, [values.length / WIDTH, HEADS, HEAD])
const byHeads = (of: ort.Tensor) => heads(floats(of))

/** Rows with one more after so many; there is room for as many again when it is full. */
function longer(kept: Float32Array, tokens: number, row: Float32Array): Float32Array {
  let room = kept
  if (kept.length < (tokens + 1) * WIDTH) {
    room = new Float32Array(2 * (tokens + 1) * WIDTH)
    room.set(kept)
  }
  room.set(row, tokens * WIDTH)
  return room
}

const FAR_BELOW = -1e9
const NOTHING_HIDDEN = new ort.Tensor('float32', new Float32Array(1), [1, 1])
const causal = (n: number) =>
  new ort.Tensor(
    'float32',
    Float32Array.from({ length: n * n }, (_, i) => (i % n > Math.floor(i / n) ? FAR_BELOW : 0)),
    [n, n],
  )

function weightsOf(seed: number): (name: string, inner: number, outer: number) => Constant {
  let state = seed
  return (name, inner, outer) => {
    const values = new Float32Array(inner * outer)
    for (let i = 0; i < values.length; i++) {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0
      values[i] = (state / 2 ** 31 - 1) * Math.sqrt(3 / inner)
    }
    return { name, dims: [inner, outer], values }
  }
}

const tokens: Port = { name: 'tokens', type: 'int64', dims: ['n'] }
const rows = (name: string): Port => ({ name, type: 'float', dims: ['n', WIDTH] })
const constant = (name: string, value: number): Constant => ({ name, dims: [], values: Float32Array.of(value) })
const indices = (name: string, values: readonly number[]): Constant => ({
  name,
  dims: [values.length],
  values: BigInt64Array.from(values, BigInt),
})

/** Steps that bring each row to a mean of 0 and a spread of 1. */
const normal = (from: string, to: string): Step[] => [
  { op: 'ReduceMean', from: [from], to: `${to} mean`, with: { axes: [1], keepdims: 1 } },
  { op: 'Sub', from: [from, `${to} mean`], to: `${to} apart` },
  { op: 'Mul', from: [`${to} apart`, `${to} apart`], to: `${to} squares` },
  { op: 'ReduceMean', from: [`${to} squares`], to: `${to} variance`, with: { axes: [1], keepdims: 1 } },
  { op: 'Add', from: [`${to} variance`, 'little'], to: `${to} above` },
  { op: 'Sqrt', from: [`${to} above`], to: `${to} spread` },
  { op: 'Div', from: [`${to} apart`, `${to} spread`], to },
]
const LITTLE = constant('little', 1e-5)

function projecting(weights: readonly Constant[]): Uint8Array {
  const named = weights.map((w) => ({ ...w, name: `weights of ${w.name}` }))
  const steps = weights.map(({ name }): Step => ({ op: 'MatMul', from: ['h', `weights of ${name}`], to: name }))
  return network(
    [...normal('x', 'h'), ...steps],
    [rows('x')],
    weights.map(({ name }) => rows(name)),
    [...named, LITTLE],
  )
}

/** Attention of some rows over as many as are kept, head by head. */
function attending(): Uint8Array {
  const port = (name: string, tokensOf: string): Port => ({ name, type: 'float', dims: [tokensOf, HEADS, HEAD] })
  const steps: Step[] = [
    { op: 'Transpose', from: ['q'], to: 'queries', with: { perm: [1, 0, 2] } },
    { op: 'Transpose', from: ['k'], to: 'keys', with: { perm: [1, 2, 0] } },
    { op: 'Transpose', from: ['v'], to: 'values', with: { perm: [1, 0, 2] } },
    { op: 'MatMul', from: ['queries', 'keys'], to: 'products' },
    { op: 'Mul', from: ['products', 'scale'], to: 'scaled' },
    { op: 'Add', from: ['scaled', 'mask'], to: 'seen' },
    { op: 'Softmax', from: ['seen'], to: 'shares', with: { axis: 2 } },
    { op: 'MatMul', from: ['shares', 'values'], to: 'gathered' },
    { op: 'Transpose', from: ['gathered'], to: 'in order', with: { perm: [1, 0, 2] } },
    { op: 'Reshape', from: ['in order', 'as rows'], to: 'out' },
  ]
  const mask: Port = { name: 'mask', type: 'float', dims: ['m', 'p'] }
  return network(
    steps,
    [port('q', 'n'), port('k', 'kept'), port('v', 'kept'), mask],
    [rows('out')],
    [constant('scale', 1 / Math.sqrt(HEAD)), indices('as rows', [-1, WIDTH])],
  )
}

function mixing(random: ReturnType<typeof weightsOf>): Uint8Array {
  const steps: Step[] = [
    { op: 'MatMul', from: ['attended', 'out'], to: 'brought' },
    { op: 'Add', from: ['x', 'brought'], to: 'after' },
    ...normal('after', 'h'),
    { op: 'MatMul', from: ['h', 'up'], to: 'wide' },
    { op: 'Relu', from: ['wide'], to: 'kept' },
    { op: 'MatMul', from: ['kept', 'down'], to: 'narrow' },
    { op: 'Add', from: ['after', 'narrow'], to: 'y' },
  ]
  const weights = [random('out', WIDTH, WIDTH), random('up', WIDTH, 4 * WIDTH), random('down', 4 * WIDTH, WIDTH)]
  return network(steps, [rows('x'), rows('attended')], [rows('y')], [...weights, LITTLE])
}

function choosing(embedding: Constant): Uint8Array {
  const steps: Step[] = [
    { op: 'Transpose', from: ['embedding'], to: 'words', with: { perm: [1, 0] } },
    { op: 'MatMul', from: ['x', 'words'], to: 'likely' },
    { op: 'ArgMax', from: ['likely'], to: 'token', with: { axis: 1, keepdims: 0 } },
  ]
  return network(steps, [rows('x')], [{ name: 'token', type: 'int64', dims: ['n'] }], [embedding])
}
