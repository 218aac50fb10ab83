import { percentileOf } from '../measure/percentile.ts'
import type { RequestLog } from '../demand/log/requestLog.ts'
import { duration } from '../units/duration.ts'
import { percent } from '../units/number.ts'

/** What really happened to the requests of a log, as far as it says: how long they took and how many went wrong. Empty if it does not. */
export function happenedWords({ happened, columns, requests }: RequestLog): string {
  if (!happened) return ''
  const seconds = Float64Array.from(requests.id, (id) => happened.seconds[id] ?? NaN).filter((s) => s >= 0)
  const [half, most] = [0.5, 0.95].map((share) => percentileOf(seconds, share))
  const wrong = requests.id.reduce((sum, id) => sum + (happened.failed[id] ?? 0), 0) / requests.count
  return [
    half !== undefined && most !== undefined && `Half of them took up to ${duration(half)}, 95 of 100 up to ${duration(most)}.`,
    columns.names.status !== undefined && `${percent(wrong)} went wrong.`,
  ]
    .filter((words) => words !== false)
    .join(' ')
}
