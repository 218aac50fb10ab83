import { duration, price, type OneRequest, type PartName } from '@sandclock/core'

/** One request on a scale of time or of money: what it goes through, and what is said at its end. */
export interface Lane {
  letter: string
  bars: { part: PartName | 'billing'; from: number; until: number }[]
  /** grains on the lane: its tokens */
  grains?: readonly number[]
  words: string
}

/** From the call to the last word. */
export const clockLane = (letter: string, { parts, endSeconds }: OneRequest): Lane => ({
  letter,
  bars: parts.filter((p) => p.part !== 'kept').map((p) => ({ part: p.part, from: p.fromSeconds, until: p.fromSeconds + p.seconds })),
  words: `done after ${duration(endSeconds)}`,
})

const OWN: readonly PartName[] = ['wait', 'prompt', 'answer', 'work']

/** Its own work, from when it is its turn: beside a start-up it could not be seen. */
export function workLane(letter: string, { parts, tokens, isTokens, ttftSeconds, tpotSeconds, endSeconds }: OneRequest): Lane {
  const own = parts.filter((p) => OWN.includes(p.part))
  const from = own[0]?.fromSeconds ?? 0
  const each = tpotSeconds === null ? '' : `, then ${duration(tpotSeconds)} each`
  return {
    letter,
    bars: own.map((p) => ({ part: p.part, from: p.fromSeconds - from, until: p.fromSeconds + p.seconds - from })),
    grains: tokens.map((t) => t.seconds - from),
    words: isTokens ? `first word ${duration(ttftSeconds - from)}${each}` : duration(endSeconds - from),
  }
}

/** What each part costs by the hour, and last what billing adds; undefined where the machine is not sold so. */
export function moneyLane(letter: string, { parts, money: { byHour, byCall, byTokens, currency } }: OneRequest): Lane | undefined {
  const others = [
    ...(byCall ? [`by the call ${price(byCall.amount, currency)}`] : []),
    ...byTokens.map(({ offer, amount }) => `${offer} ${price(amount, currency)}`),
  ]
  if (!byHour) return undefined
  let at = 0
  const bars: Lane['bars'] = parts.map((p) => ({ part: p.part, from: at, until: (at += p.cost ?? 0) }))
  bars.push({ part: 'billing', from: at, until: byHour.amount })
  return { letter, bars, words: [price(byHour.amount, currency), ...others].join('; ') }
}
