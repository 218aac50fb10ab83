import * as tf from '@tensorflow/tfjs-core'

/** A small network that makes tokens for real: as many layers as a large one has dozens of, and weights that were never trained. */
export const SHAPE = { layers: 4, width: 256, heads: 8, vocabulary: 1024, contextTokens: 4096 }
const HEAD = SHAPE.width / SHAPE.heads

interface Layer {
  queries: tf.Tensor2D
  keys: tf.Tensor2D
  values: tf.Tensor2D
  out: tf.Tensor2D
  up: tf.Tensor2D
  down: tf.Tensor2D
}
/** What a sequence has read and written so far: keys and values of each layer, heads × tokens × size of a head. */
export interface Cache {
  tokens: number
  layers: { keys: tf.Tensor3D; values: tf.Tensor3D }[]
}

/** A decoder of the usual kind (attention over all that went before, then two wide layers), with random weights. */
export class Network {
  private readonly embedding: tf.Tensor2D
  private readonly layers: Layer[]

  constructor(seed: number) {
    let state = seed
    const weights = (rows: number, columns: number): tf.Tensor2D => {
      const values = new Float32Array(rows * columns)
      for (let i = 0; i < values.length; i++) {
        state = (Math.imul(state, 1664525) + 1013904223) >>> 0
        values[i] = (state / 2 ** 31 - 1) * Math.sqrt(3 / rows)
      }
      return tf.tensor2d(values, [rows, columns])
    }
    const { width, vocabulary, layers } = SHAPE
    this.embedding = weights(vocabulary, width)
    this.layers = Array.from({ length: layers }, () => ({
      queries: weights(width, width),
      keys: weights(width, width),
      values: weights(width, width),
      out: weights(width, width),
      up: weights(width, 4 * width),
      down: weights(4 * width, width),
    }))
  }

  /** Reads a whole prompt. @returns its cache, and the first token of the answer */
  prefill(prompt: readonly number[]): { cache: Cache; token: number } {
    const cache: Cache = { tokens: prompt.length, layers: [] }
    const last = tf.tidy(() => {
      let x = tf.gather(this.embedding, tf.tensor1d([...prompt], 'int32'))
      const mask = causal(prompt.length)
      for (const layer of this.layers) {
        const h = normal(x)
        const [q, k, v] = [layer.queries, layer.keys, layer.values].map((w) => heads(tf.matMul(h, w)))
        const weights = tf.softmax(tf.add(tf.mul(tf.matMul(q, k, false, true), 1 / Math.sqrt(HEAD)), mask))
        x = mixed(x, unheaded(tf.matMul(weights, v) as tf.Tensor3D), layer)
        cache.layers.push({ keys: tf.keep(k), values: tf.keep(v) })
      }
      return likeliest(tf.slice(x, [prompt.length - 1, 0], [1, SHAPE.width]), this.embedding)
    })
    const [token] = last.dataSync()
    last.dispose()
    return { cache, token }
  }

  /** One more token of each sequence; their weights are read once for all of them, their caches each by itself. */
  decode(sequences: readonly { cache: Cache; token: number }[]): number[] {
    const next = tf.tidy(() => {
      let x = tf.gather(
        this.embedding,
        tf.tensor1d(
          sequences.map((s) => s.token),
          'int32',
        ),
      )
      this.layers.forEach((layer, l) => {
        const h = normal(x)
        const [q, k, v] = [layer.queries, layer.keys, layer.values].map((w) => tf.matMul(h, w))
        const seen = sequences.map(({ cache }, i) => {
          const own = (t: tf.Tensor) => tf.reshape(tf.slice(t, [i, 0], [1, SHAPE.width]), [SHAPE.heads, 1, HEAD]) as tf.Tensor3D
          const kept = cache.layers[l]
          const [keys, values] = [tf.concat([kept.keys, own(k)], 1), tf.concat([kept.values, own(v)], 1)]
          tf.dispose([kept.keys, kept.values])
          cache.layers[l] = { keys: tf.keep(keys), values: tf.keep(values) }
          const weights = tf.softmax(tf.mul(tf.matMul(own(q), keys, false, true), 1 / Math.sqrt(HEAD)))
          return tf.reshape(tf.matMul(weights, values), [1, SHAPE.width]) as tf.Tensor2D
        })
        x = mixed(x, seen.length > 1 ? tf.concat(seen, 0) : seen[0], layer)
      })
      return likeliest(x, this.embedding)
    })
    const tokens = [...next.dataSync()]
    next.dispose()
    for (const { cache } of sequences) cache.tokens++
    return tokens
  }
}

/** Lets go of what a sequence keeps. */
export const forget = ({ layers }: Cache): void => layers.forEach(({ keys, values }) => tf.dispose([keys, values]))

const normal = (x: tf.Tensor): tf.Tensor2D => {
  const { mean, variance } = tf.moments(x, 1, true)
  return tf.div(tf.sub(x, mean), tf.sqrt(tf.add(variance, 1e-5)))
}
const heads = (x: tf.Tensor): tf.Tensor3D => tf.transpose(tf.reshape(x, [-1, SHAPE.heads, HEAD]), [1, 0, 2]) as tf.Tensor3D
const unheaded = (x: tf.Tensor3D): tf.Tensor2D => tf.reshape(tf.transpose(x, [1, 0, 2]), [-1, SHAPE.width]) as tf.Tensor2D
const causal = (tokens: number): tf.Tensor2D =>
  tf.tensor2d(
    Float32Array.from({ length: tokens * tokens }, (_, i) => (i % tokens > Math.floor(i / tokens) ? -1e9 : 0)),
    [tokens, tokens],
  )
function mixed(x: tf.Tensor, attended: tf.Tensor2D, layer: Layer): tf.Tensor2D {
  const y = tf.add(x, tf.matMul(attended, layer.out)) as tf.Tensor2D
  return tf.add(y, tf.matMul(tf.relu(tf.matMul(normal(y), layer.up)), layer.down))
}
const likeliest = (x: tf.Tensor, embedding: tf.Tensor2D): tf.Tensor1D => tf.argMax(tf.matMul(x as tf.Tensor2D, embedding, false, true), 1)
