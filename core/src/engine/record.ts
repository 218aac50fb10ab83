import type { Requests } from '../demand/requests.ts'
import { CAUSES } from './outcome.ts'
import { freshColumns, type Columns, type RecordColumns } from './runMemory.ts'

/** What a simulation says of every request; indices are those of the requests. */
export interface RunRecord extends RecordColumns {
  requests: Requests
  /** first arrival, seconds; NaN for a follower whose turn never came. The requests' own array when nobody follows */
  at: Float64Array
  /** further attempts that were made; absent when no class retries */
  retries?: Uint8Array
  /** attempts that were refused or given up, the last of each request included: cause · classes + class */
  lostAttempts: Int32Array
  /** how often a sequence lost its cache to others and had to compute it anew */
  evictions: number
  /** true when a watch ended the run because a target was already out of reach; later requests are then unfinished */
  stopped: boolean
  /** by class, where any states one: what the way between caller and service takes; times of the record are those at the service */
  ways?: readonly { there: number; tokenBack: number; wholeBack: number }[]
  /** when the run ended: the horizon, or earlier if stopped */
  endSeconds: number
  /** step boundaries and arrivals that were worked through */
  events: number
}

export function emptyRecord(
  requests: Requests,
  classes: number,
  retries: boolean,
  { start, firstToken, end, outcome, rejectCause, replica }: Columns = freshColumns(requests.count),
): RunRecord {
  const { count, chain } = requests
  return {
    requests,
    at: chain ? requests.at.map((t, i) => (chain.pause[i] >= 0 ? NaN : t)) : requests.at,
    start,
    firstToken,
    end,
    outcome,
    rejectCause,
    replica,
    ...(retries && { retries: new Uint8Array(count) }),
    lostAttempts: new Int32Array(CAUSES * classes),
    evictions: 0,
    stopped: false,
    endSeconds: 0,
    events: 0,
  }
}

/** Whether the request came at all: followers of one that never ended do not. */
export function came(record: RunRecord, i: number): boolean {
  return record.at[i] === record.at[i]
}
