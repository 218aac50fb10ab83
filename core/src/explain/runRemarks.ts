import type { RunSummary } from '../measure/runSummary.ts'
import type { ClassSummary } from '../measure/summary.ts'
import type { SoldProfile, TokenProfile } from '../service/profile.ts'
import { grouped, percent } from '../units/number.ts'

/** Below so many requests a 99th percentile is one of the largest two, and says little. */
const FEW = 200
/** So many times what the fleet holds, arriving within a second, is a wall and not a wave. */
const WALL = 20

/** What decides how long a request may be; of what has no tokens nothing does. */
type TakenTokens = Pick<TokenProfile | SoldProfile, 'kind' | 'requestTokens'>

/**
 * What one should know before one believes the figures of a run, a sentence each: classes without data, too few to speak
 * of percentiles, requests that can not be served at all, more load than the service can bear, everything at once.
 *
 * @param anyReady whether any replica was ever ready: where none was, more of them would not help
 */
export function runRemarks(run: RunSummary, taken: TakenTokens | null, anyReady = true): string[] {
  return [...run.classes.flatMap((c) => classRemark(c, taken, anyReady)), ...(anyReady ? [...overload(run), ...wall(run)] : [])]
}

function classRemark({ className, counts }: ClassSummary, taken: TakenTokens | null, anyReady: boolean): string[] {
  const out: string[] = []
  const { arrivals, finished, tooLarge } = counts
  if (arrivals === 0)
    return [`No request of ${className} arrives in the counted time: there is nothing to measure, and what it is promised counts as kept.`]
  if (arrivals === 1) out.push(`One request of ${className} counts: every percentile is that one.`)
  else if (arrivals < FEW)
    out.push(`Only ${grouped(arrivals, 0)} requests of ${className} count: its highest percentiles are single requests.`)
  if (tooLarge > 0) {
    const isSold = taken?.kind === 'sold'
    const holds = isSold ? 'the offer takes' : 'a replica can hold'
    const room = taken === null ? holds : `${holds} (${grouped(taken.requestTokens, 0)} tokens, prompt and answer together)`
    const remedy = isSold ? 'shorten them' : 'shorten them, or give the replica more cache'
    out.push(
      `${grouped(tooLarge, 0)} of ${className} ${tooLarge === 1 ? 'is' : 'are'} larger than ${room} and refused on arrival: ${remedy}.`,
    )
  }
  if (finished === 0 && arrivals > tooLarge)
    out.push(
      `No request of ${className} finishes: ${anyReady ? 'add replicas, or wait less long for those that start' : 'no replica is ever ready'}.`,
    )
  return out
}

/** Replicas that are busier than this and lose more than this share can not bear their load. */
const BUSY = 0.98
const LOST = 0.05

function overload({ overall, slots, replicas }: RunSummary): string[] {
  const { unfinished, arrivals, rejected, abandoned, tooLarge } = overall.counts
  const lost = (rejected - tooLarge + abandoned) / Math.max(1, arrivals)
  if (replicas.busyShare > BUSY && lost > LOST) {
    return [
      `The replicas are busy ${percent(replicas.busyShare)} of their time and ${percent(lost)} of the requests are turned away or give up: more comes in than they can serve. Add replicas, or let fewer in.`,
    ]
  }
  if (unfinished <= 2 * slots || unfinished < 0.01 * arrivals) return []
  return [
    `At the end ${grouped(unfinished, 0)} requests are still there, ${grouped(unfinished - slots, 0)} more than the replicas hold: more comes in than they can serve, and a longer horizon would only make the wait longer.`,
  ]
}

function wall({ busiestSecond, slots }: RunSummary): string[] {
  if (busiestSecond <= WALL * slots) return []
  return [
    `${grouped(busiestSecond, 0)} requests arrive within one second, where the replicas hold ${grouped(slots, 0)} side by side: most of them wait or are turned away whatever the routing.`,
  ]
}
