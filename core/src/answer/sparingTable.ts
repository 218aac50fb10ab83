import { duration } from '../units/duration.ts'
import { bare, threeDigits } from '../units/number.ts'
import { price } from '../units/price.ts'
import type { DetailTable } from './detailTable.ts'
import type { SparingReport, SparingWay } from './sparing.ts'

/** Ways of sparing cold callers as a table for those who read text. */
export function sparingTable({ ways }: SparingReport, currency: string): DetailTable {
  return {
    title: 'what it costs to spare cold callers (each change by itself, on the first draw; * nothing tried has as few for less)',
    header: ['', 'with', 'cold callers a week', 'longest wait', 'a month', 'each one spared', 'promises'],
    rows: ways.map((w) => [
      w.onFrontier ? '*' : '',
      w.words,
      bare(threeDigits(w.coldAWeek)),
      w.longestSeconds > 0 ? duration(w.longestSeconds) : '–',
      price(w.perMonth, currency),
      sparedWords(w, ways[0], currency),
      w.holds ? 'kept' : 'not kept',
    ]),
  }
}

/** What each caller that a way spares costs, beside the run as it is. */
export function sparedWords(way: SparingWay, base: SparingWay, currency: string): string {
  if (way.alteration === null) return '–'
  if (way.perSpared !== null) return price(way.perSpared, currency)
  return way.coldAWeek < base.coldAWeek ? 'nothing' : 'spares none'
}
