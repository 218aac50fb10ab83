import { duration } from '../units/duration.ts'
import { percent, threeDigits } from '../units/number.ts'
import type { LoadStep, LoadTest } from './loadTest.ts'

/** A further caller that adds less than this share of what one alone has adds nothing. */
const BENDS_BELOW = 0.25
const WAITS_ABOVE = 0.1
/** Where so much less is answered than comes, waits grow as long as it lasts. */
const KEEPS_UP = 0.97
/** Latency has bent where 95 of 100 take so many times as long as where hardly anybody comes. */
const LATENCY_BENDS = 2

/** The first step at which it has bent; undefined where none has. */
export function bendOf({ steps, pressing }: LoadTest): LoadStep | undefined {
  const alone = steps[0]
  if (pressing === 'a second') return steps.find((s) => !keepsUp(s)) ?? steps.find((s) => s.latency.p95 > LATENCY_BENDS * alone.latency.p95)
  return steps.find((s, i) => {
    const before = steps[i - 1]
    if (!before) return false
    const each = (s.requestsPerSecond - before.requestsPerSecond) / (s.clients! - before.clients!)
    return each < (BENDS_BELOW * alone.requestsPerSecond) / alone.clients!
  })
}

const keepsUp = (s: LoadStep) => s.requestsPerSecond >= KEEPS_UP * s.offeredPerSecond!

/** Where more pressure adds little, and why: a sentence without a full stop. */
export function bendWords(test: LoadTest): string {
  const { steps, pressing } = test
  if (steps.length < 2) return `one ${pressing === 'at once' ? 'number of callers' : 'rate'} shows nothing of where it bends: give several`
  return pressing === 'at once' ? callersWords(test) : ratesWords(test)
}

function callersWords(test: LoadTest): string {
  const { steps, places } = test
  const bend = bendOf(test)
  if (!bend) return `up to ${steps[steps.length - 1].clients} at once each further caller adds: it does not bend here`
  const before = steps[steps.indexOf(bend) - 1]
  const more = bend.requestsPerSecond / before.requestsPerSecond - 1
  const why =
    bend.waitShare > WAITS_ABOVE
      ? bend.clients! > places
        ? `there are ${places} places, so that callers wait ${percent(bend.waitShare)} of their time`
        : `the cache has no room for all of them, so that callers wait ${percent(bend.waitShare)} of their time`
      : `all are served at once, and each takes ${threeDigits(bend.latency.mean / before.latency.mean)} times as long`
  return `from ${before.clients} to ${bend.clients} at once it bends: ${more >= 0 ? percent(more) : 'no'} more requests a second, ${duration(bend.latency.p95)} for 95 of 100 where it was ${duration(before.latency.p95)}; ${why}`
}

function ratesWords(test: LoadTest): string {
  const { steps } = test
  const rate = (s: LoadStep) => `${threeDigits(s.offeredPerSecond)}\u00a0/s`
  const last = steps[steps.length - 1]
  const lost = steps.find((s) => !keepsUp(s))
  if (!lost) {
    const bend = bendOf(test)
    const said = bend
      ? `from ${rate(bend)} on 95 of 100 take more than ${LATENCY_BENDS} times as long as at ${rate(steps[0])}`
      : 'it does not bend here'
    return `up to ${rate(last)} as many are answered as come; ${said}`
  }
  const before = steps[steps.indexOf(lost) - 1]
  const kept = before ? `up to ${rate(before)} as many are answered as come (95 of 100 within ${duration(before.latency.p95)}); ` : ''
  const why =
    lost.waitShare > WAITS_ABOVE
      ? `callers wait ${percent(lost.waitShare)} of their time for a place`
      : 'all are served at once, each ever more slowly'
  return `${kept}of ${rate(lost)} only ${rate({ ...lost, offeredPerSecond: lost.requestsPerSecond })} are, and latency grows as long as that lasts: ${why}`
}
