import type { Requests } from '../demand/requests.ts'
import { Outcome, OUTCOME_NAMES } from '../engine/outcome.ts'
import { came, type RunRecord } from '../engine/record.ts'
import type { Plan } from '../plan/schema.ts'
import { waySeconds, type WaySeconds } from '../plan/way.ts'

export const PER_REQUEST_HEADER = 'id,class,arrival,start,first_token,end,outcome,replica'
/** When the caller called, had the first token, and had the whole answer. */
const AT_CALLER = 'called,first_token_there,answer_there'
const DECIMALS = 9
const LINES_AT_ONCE = 10_000

/**
 * The runs of all services as CSV, a line a request in order of arrival, in pieces of many lines. Times are seconds
 * after the start of the horizon with nine decimals, empty where a request has none; `end` of a lost request is when
 * it was refused or left. Replicas are numbered from 0 within their service.
 *
 * Where a class states a way, three columns more say when its caller called, had the first token, and had the whole answer.
 * Followers whose turn never came are left out.
 *
 * @param all every request of the plan
 * @param records the run of each service that was simulated, by name; requests of others are left out
 */
export function* perRequestCsv(plan: Plan, all: Requests, records: ReadonlyMap<string, RunRecord>): Generator<string> {
  const names = plan.classes.map((c) => quoted(c.name))
  const byClass = plan.classes.map((c) => records.get(c.service))
  const place = new Map<RunRecord, number>()
  const ways = plan.classes.some((c) => c.way) ? plan.classes.map(waySeconds) : undefined
  let lines = [ways ? `${PER_REQUEST_HEADER},${AT_CALLER}` : PER_REQUEST_HEADER]
  for (let i = 0; i < all.count; i++) {
    const classIndex = all.classIndex[i]
    const record = byClass[classIndex]
    if (!record) continue
    const j = place.get(record) ?? 0
    place.set(record, j + 1)
    if (!came(record, j)) continue
    lines.push(line(record, j, all.id[i], names[classIndex]) + (ways ? atCaller(record, j, ways[classIndex]) : ''))
    if (lines.length >= LINES_AT_ONCE) {
      yield `${lines.join('\n')}\n`
      lines = []
    }
  }
  if (lines.length > 0) yield `${lines.join('\n')}\n`
}

function line(record: RunRecord, j: number, id: number, className: string): string {
  const replica = record.replica[j] < 0 ? '' : record.replica[j]
  const times = [record.at[j], record.start[j], record.firstToken[j], record.end[j]].map(seconds).join(',')
  return `${id},${className},${times},${OUTCOME_NAMES[record.outcome[j]]},${replica}`
}

function atCaller(record: RunRecord, j: number, { there, tokenBack, wholeBack }: WaySeconds): string {
  const hasEnded = record.outcome[j] === Outcome.finished
  const times = [record.at[j] - there, record.firstToken[j] + tokenBack, hasEnded ? record.end[j] + wholeBack : NaN]
  return `,${times.map(seconds).join(',')}`
}

const seconds = (t: number) => (Number.isNaN(t) ? '' : t.toFixed(DECIMALS))
const quoted = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)
