import { ln } from '../arithmetic/sameBits.ts'
import type { ClosedLoop, Turns } from '../plan/schema.ts'
import type { RandomStream } from '../random/stream.ts'
import type { Chains } from './classLoad.ts'
import { drawSizes } from './sizes.ts'

/**
 * Clients that send one request after the other.
 *
 * @param loadFactor multiplies the number of clients
 */
export function closedLoop(loop: ClosedLoop, loadFactor: number, random: RandomStream): Chains {
  const clients = Math.max(1, Math.round(loop.clients * loadFactor))
  const each = loop.requestsPerClient
  const ramp = loop.rampSeconds ?? 0
  return {
    from: Int32Array.from({ length: clients + 1 }, (_, j) => j * each),
    start: Float64Array.from({ length: clients }, (_, j) => (loop.startSeconds ?? 0) + (ramp * j) / clients),
    pause: pauses(clients * each, loop.thinkSeconds, loop.thinking ?? 'fixed', random),
  }
}

/** Conversations that begin at the given times. */
export function conversations(turns: Turns, start: Float64Array, randomCount: RandomStream, randomPause: RandomStream): Chains {
  const counts = turns.count.kind === 'log' ? new Int32Array(start.length).fill(1) : drawSizes(turns.count, start.length, randomCount)
  const from = new Int32Array(start.length + 1)
  for (let j = 0; j < start.length; j++) from[j + 1] = from[j] + counts[j]
  return { from, start, pause: pauses(from[start.length], turns.pauseSeconds, turns.pausing ?? 'exponential', randomPause) }
}

function pauses(count: number, seconds: number, kind: 'fixed' | 'exponential', random: RandomStream): Float64Array {
  const out = new Float64Array(count).fill(seconds)
  if (kind === 'exponential') for (let i = 0; i < count; i++) out[i] = -seconds * ln(random.open())
  return out
}

/**
 * Adds to every prompt the prompts and answers before it in its conversation, no more than fit into `most` tokens: what
 * is older is forgotten first, a prompt itself never.
 */
export function withHistories(chains: Chains, input: Int32Array, output: Int32Array, most: number): Int32Array {
  const out = input.slice()
  for (let j = 0; j < chains.start.length; j++) {
    let history = 0
    for (let i = chains.from[j]; i < chains.from[j + 1]; i++) {
      out[i] = Math.max(input[i], Math.min(most, history + input[i]))
      history += input[i] + output[i]
    }
  }
  return out
}
