import { duration } from '../units/duration.ts'
import { percent, threeDigits } from '../units/number.ts'
import type { LoadTest } from './atOnce.ts'

/** A further caller that adds less than this share of what one alone has adds nothing. */
const BENDS_BELOW = 0.25
const WAITS_ABOVE = 0.1

/** Where more callers at once add little, and why: a sentence without a full stop. */
export function bendWords({ steps, places }: LoadTest): string {
  const alone = steps[0]
  if (steps.length < 2) return 'one number of callers shows nothing of where it bends: give several'
  const bend = steps.find((s, i) => {
    const before = steps[i - 1]
    if (!before) return false
    const each = (s.requestsPerSecond - before.requestsPerSecond) / (s.clients - before.clients)
    return each < (BENDS_BELOW * alone.requestsPerSecond) / alone.clients
  })
  if (!bend) return `up to ${steps[steps.length - 1].clients} at once each further caller adds: it does not bend here`
  const before = steps[steps.indexOf(bend) - 1]
  const more = bend.requestsPerSecond / before.requestsPerSecond - 1
  const why =
    bend.waitShare > WAITS_ABOVE
      ? bend.clients > places
        ? `there are ${places} places, so that callers wait ${percent(bend.waitShare)} of their time`
        : `the cache has no room for all of them, so that callers wait ${percent(bend.waitShare)} of their time`
      : `all are served at once, and each takes ${threeDigits(bend.latency.mean / before.latency.mean)} times as long`
  return `from ${before.clients} to ${bend.clients} at once it bends: ${more >= 0 ? percent(more) : 'no'} more requests a second, ${duration(bend.latency.p95)} for 95 of 100 where it was ${duration(before.latency.p95)}; ${why}`
}
