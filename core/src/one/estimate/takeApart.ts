import { ln } from '../../arithmetic/sameBits.ts'

/** One thing that a figure is made of. */
export interface Term {
  /** with its article, as it stands after "leaves out" */
  name: string
  value: number
}

/** How a whole figure may have gone wrong: in other units, of another time or number. */
export interface Slip {
  /** what it does, as it stands after "it": "counts in GiB" */
  words: string
  /** what the figure is then, over what it should be */
  factor: number
  /** the one term that it is of; all of them if left out */
  of?: string
}

/** How often an estimate may hold a term, and what that is called. */
export const TIMES = { none: 0, half: 0.5, once: 1, twice: 2 } as const
export type Times = keyof typeof TIMES

/** One way in which an estimate may have come about. */
export interface Reading {
  times: Times[]
  slip: Slip | null
  /** what the estimate would be exactly, so made */
  value: number
}

/** An own estimate beside what it is made of. */
export interface TakenApart {
  estimate: number
  whole: number
  terms: readonly Term[]
  /** null where nothing that was thought of comes near */
  reading: Reading | null
}

/** Estimates are rounded: so near is the same. */
export const NEAR = 0.02
/** So far from the estimate weighs as much as a term left out. */
const DISTANCE = 0.04
/** A term of less than this share of the whole is the easier forgotten the smaller it is; one of more than the other never is. */
const SMALL_SHARE = 0.05
export const MAIN_SHARE = 0.6
const MAIN_WEIGHT = 12
const WRONG_TIMES_WEIGHT = 2
const SLIP_WEIGHT = 1.4
/** What departs more explains nothing. */
const MOST_WEIGHT = 3.2

/**
 * Finds the likeliest way in which an estimate came about: terms left out, halved or doubled, all of it (or one term) in other units; of
 * those within 2 % the one that departs least. Who leaves out one thing leaves out others as well: each further one weighs less. At most
 * twelve terms; those of nothing are passed over.
 *
 * @param terms what the figure really is made of; they add up to it
 */
export function takeApart(estimate: number, terms: readonly Term[], slips: readonly Slip[]): TakenApart {
  const there = terms.filter((t) => t.value > 0)
  const whole = there.reduce((sum, t) => sum + t.value, 0)
  const forgotten = there.map((t) => (t.value > MAIN_SHARE * whole ? MAIN_WEIGHT : Math.min(1, t.value / whole / SMALL_SHARE)))
  let best: { reading: Reading; weight: number } | undefined
  const consider = (times: Times[]) => {
    const left = times.reduce((sum, how, i) => sum + (how === 'none' ? forgotten[i] : 0), 0)
    const wrong = times.filter((how) => how === 'half' || how === 'twice').length
    for (const slip of [null, ...slips]) {
      const value = there.reduce(
        (sum, t, i) => sum + TIMES[times[i]] * t.value * (slip && (slip.of ?? t.name) === t.name ? slip.factor : 1),
        0,
      )
      if (!(value > 0)) continue
      const off = Math.abs(ln(estimate / value))
      const weight = Math.sqrt(left) + wrong * WRONG_TIMES_WEIGHT + (slip ? SLIP_WEIGHT : 0) + off / DISTANCE
      if (off <= NEAR && weight <= MOST_WEIGHT && (best === undefined || weight < best.weight))
        best = { reading: { times: [...times], slip, value }, weight }
    }
  }
  const walk = (times: Times[]) => {
    if (times.length === there.length) return consider(times)
    for (const how of Object.keys(TIMES) as Times[]) {
      times.push(how)
      walk(times)
      times.pop()
    }
  }
  if (estimate > 0 && there.length > 0) walk([])
  return { estimate, whole, terms: there, reading: best?.reading ?? null }
}
