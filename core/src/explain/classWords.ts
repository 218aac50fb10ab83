import { ARRIVALS, withRate } from '../plan/arrivalKinds.ts'
import type { Bursts, ClosedLoop, RequestClass } from '../plan/schema.ts'
import { duration } from '../units/duration.ts'
import { grouped, percent, threeDigits } from '../units/number.ts'

/** How a closed loop sends, in words that follow the name of its class. */
export function closedLoopWords(loop: ClosedLoop): string {
  const pause =
    loop.thinkSeconds === 0
      ? 'without a pause'
      : `with ${duration(loop.thinkSeconds)} of thought between them${loop.thinking === 'exponential' ? ' on average' : ''}`
  const ramp = loop.rampSeconds ? `, joining over ${duration(loop.rampSeconds)}` : ''
  return `comes from ${grouped(loop.clients, 0)} clients${ramp}, each sending ${grouped(loop.requestsPerClient, 0)} requests one after the other, ${pause}`
}

/** What else a plan says of a class, a sentence each: what its figures in the main sentence do not show. */
export function classRemarks(c: RequestClass): string[] {
  const { arrivals, turns, retries, rateLimit } = c
  const generated = withRate(arrivals)
  return [
    ARRIVALS[arrivals.kind].remark,
    generated?.growthPerMonth !== undefined &&
      generated.growthPerMonth !== 0 &&
      `The rate ${generated.growthPerMonth > 0 ? 'grows' : 'shrinks'} by ${percent(Math.abs(generated.growthPerMonth))} a month.`,
    generated?.events?.length &&
      `${grouped(generated.events.length, 0)} calendar ${generated.events.length === 1 ? 'event changes' : 'events change'} it.`,
    generated?.bursts && burstWords(generated.bursts),
    turns &&
      `Requests come in conversations, the next ${duration(turns.pauseSeconds)} after an answer${turns.historyTokens ? `; prompts carry up to ${grouped(turns.historyTokens, 0)} tokens of what was said before` : ''}.`,
    c.items &&
      (c.items.kind === 'fixed' ? `Each request has ${grouped(c.items.value, 0)} items.` : 'Requests have different numbers of items.'),
    c.lengthCorrelation &&
      `Long prompts have ${c.lengthCorrelation > 0 ? 'long' : 'short'} answers (correlation ${threeDigits(c.lengthCorrelation)}).`,
    c.cachedShare && `${percent(c.cachedShare)} of each prompt is in the cache already.`,
    c.priority &&
      `Its priority is ${c.priority}: ${c.priority > 0 ? 'it goes before those of priority 0' : 'those of priority 0 go before it'}.`,
    rateLimit &&
      `At most ${threeDigits(rateLimit.perSecond)} ${rateLimit.unit} a second ${rateLimit.callers ? `of each of ${grouped(rateLimit.callers.count, 0)} callers ` : ''}are let in, ${threeDigits(rateLimit.burst)} at once.`,
    retries &&
      `Who is refused or gives up tries again up to ${grouped(retries.most, 0)} times, first after ${duration(retries.firstPauseSeconds)}.`,
  ].filter((words): words is string => typeof words === 'string' && words !== '')
}

export function burstWords(bursts: Bursts): string {
  if (bursts.kind === 'gamma') return `Gaps vary ${threeDigits(bursts.variation)} times as much as by pure chance.`
  return `It comes in bursts of ${duration(bursts.burstSeconds)} on average at ${threeDigits(bursts.factor)} times the rate, with ${duration(bursts.quietSeconds)} between them.`
}
