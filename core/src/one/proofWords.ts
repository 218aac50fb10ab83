import { duration } from '../units/duration.ts'
import { bare, grouped, threeDigits } from '../units/number.ts'
import { price } from '../units/price.ts'
import type { Proof } from './stopwatch.ts'

const between = (low: number, high: number) => `${bare(threeDigits(low))} to ${bare(threeDigits(high))} requests a second`

/** What a stopwatch proves, in a sentence each, without a full stop. */
export function proofWords({ worlds, kept, capacity, replicas, next, remark }: Proof, currency: string): string[] {
  if (!capacity) return [remark]
  const copies =
    replicas &&
    (replicas.most === null
      ? `${replicas.least} or more`
      : replicas.least === replicas.most
        ? `${replicas.least}`
        : `${replicas.least} to ${replicas.most}`)
  return [
    `of ${grouped(worlds, 0)} ways in which it may be ${grouped(kept, 0)} are left, in which one replica bears ${between(capacity.low, capacity.high)} within the promises: what was read is no capacity`,
    ...(copies ? [`the busiest rate of the plan would take ${copies} of them`] : []),
    next
      ? `the next try that says most: ${next.atOnce} at once, ${duration(next.seconds)}${next.price === null ? '' : `, ${price(next.price, currency)}`}; it would leave some ${between(next.low, next.high)}`
      : 'no try with more at once would leave much less',
    ...(remark === '' ? [] : [remark]),
  ]
}
