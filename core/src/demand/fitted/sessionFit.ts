import type { Size } from '../../plan/schema.ts'
import { fitSizes } from './sizeFit.ts'

/** Who is silent for longer begins anew. */
export const SILENCE_SECONDS = 1800

/** Conversations of a log that says who asked. */
export interface SessionFit {
  count: number
  /** requests of one */
  turns: Exclude<Size, { kind: 'log' }>
  meanTurns: number
  /** from an answer to the next request on average; from request to request where the log does not say how long answers took */
  pauseSeconds: number
  /** places of the requests that begin one */
  starts: Int32Array
}

/**
 * Requests of one caller, one after the other until a silence of half an hour, are a conversation.
 *
 * @param at ascending; @param caller of each; @param tookSeconds how long each was served, NaN or 0 where that is not known
 */
export function fitSessions(at: Float64Array, caller: Int32Array, tookSeconds: (i: number) => number): SessionFit {
  const last = new Map<number, { i: number; session: number }>()
  const starts: number[] = []
  const turns: number[] = []
  let pauses = 0
  let between = 0
  for (let i = 0; i < at.length; i++) {
    const before = last.get(caller[i])
    const took = before ? tookSeconds(before.i) : 0
    const pause = before ? Math.max(0, at[i] - at[before.i] - (took > 0 ? took : 0)) : Infinity
    const isNew = pause > SILENCE_SECONDS
    if (isNew) {
      starts.push(i)
      turns.push(0)
    } else {
      pauses += pause
      between++
    }
    const session = isNew || !before ? turns.length - 1 : before.session
    turns[session]++
    last.set(caller[i], { i, session })
  }
  return {
    count: starts.length,
    turns: fitSizes(Int32Array.from(turns)).size,
    meanTurns: at.length / starts.length,
    pauseSeconds: between > 0 ? pauses / between : 0,
    starts: Int32Array.from(starts),
  }
}
