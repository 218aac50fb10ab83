import type { Requests } from '../demand/requests.ts'

/** What a simulation says of every request; indices are those of the requests. */
export interface RunRecord {
  requests: Requests
  /** seconds; NaN when it was never started */
  start: Float64Array
  /** seconds; NaN when there was none; the end for fixed work */
  firstToken: Float64Array
  /** seconds when it finished, was refused or left; NaN when it is unfinished */
  end: Float64Array
  /** codes of `Outcome` */
  outcome: Uint8Array
  /** codes of `RejectCause` */
  rejectCause: Uint8Array
  /** the replica that it was bound to; −1 for none */
  replica: Int16Array
  /** true when a watch ended the run because a target was already out of reach; later requests are then unfinished */
  stopped: boolean
  /** when the run ended: the horizon, or earlier if stopped */
  endSeconds: number
  /** step boundaries and arrivals that were worked through */
  events: number
}

export function emptyRecord(requests: Requests): RunRecord {
  const { count } = requests
  return {
    requests,
    start: new Float64Array(count).fill(NaN),
    firstToken: new Float64Array(count).fill(NaN),
    end: new Float64Array(count).fill(NaN),
    outcome: new Uint8Array(count),
    rejectCause: new Uint8Array(count),
    replica: new Int16Array(count).fill(-1),
    stopped: false,
    endSeconds: 0,
    events: 0,
  }
}
