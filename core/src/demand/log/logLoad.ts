import type { RequestClass, Size } from '../../plan/schema.ts'
import type { ClassLoad } from '../classLoad.ts'
import type { RequestLog } from './requestLog.ts'

type Draw = (size: Size | undefined, count: number, purpose: string) => Int32Array

/**
 * What a class takes from a log whose `classIndex` is already that of the plan (see `matchLog`).
 *
 * A log longer than the horizon is cut at its end. With a load factor above 1 it is replayed that much faster and
 * begins again when it is through, so that the whole horizon sees the larger rate; with 1 it is never repeated.
 */
export function logLoad(
  log: RequestLog,
  classIndex: number,
  horizonSeconds: number,
  loadFactor: number,
  draw: Draw,
  requestClass: RequestClass,
): ClassLoad {
  const { requests } = log
  const lapSeconds = Math.max(horizonSeconds, requests.count === 0 ? 0 : requests.at[requests.count - 1])
  const at: number[] = []
  const place: number[] = []
  const laps = loadFactor > 1 ? Math.ceil(loadFactor) : 1
  for (let lap = 0; lap < laps; lap++) {
    for (let i = 0; i < requests.count; i++) {
      const t = (requests.at[i] + lap * lapSeconds) / loadFactor
      if (t >= horizonSeconds) break
      if (requests.classIndex[i] !== classIndex) continue
      at.push(t)
      place.push(i)
    }
  }
  const work = requestClass.work
  return {
    at: Float64Array.from(at),
    input: column(requests.input, place, work ?? requestClass.input, draw, work ? 'work' : 'input'),
    output: work
      ? items(requests.output, place, requestClass.items, draw)
      : column(requests.output, place, requestClass.output, draw, 'output'),
    id: Int32Array.from(place, (p) => requests.id[p]),
  }
}

function column(values: Int32Array, place: readonly number[], size: Size | undefined, draw: Draw, purpose: string): Int32Array {
  if (size !== undefined && size.kind !== 'log') return draw(size, place.length, purpose)
  return Int32Array.from(place, (p) => values[p])
}

/** Items of fixed work: one each, unless the plan says otherwise. */
function items(values: Int32Array, place: readonly number[], size: Size | undefined, draw: Draw): Int32Array {
  return size === undefined ? new Int32Array(place.length) : column(values, place, size, draw, 'items')
}
