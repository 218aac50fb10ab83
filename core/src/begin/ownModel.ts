import type { Model, ProfileSpec, TokenModel } from '../plan/schema.ts'
import type { Works } from './shapes.ts'

/** How fast a server was seen to be: by itself, and with as many requests side by side as it may have. */
export interface Speed {
  /** name of the machine on which it was seen, one device of it */
  machine: string
  /** what one request alone gets a second: answer tokens, steps or work units */
  alone: number
  /** what each of `sideBySide` gets a second; at most `alone`, and at least its share of that */
  together: number
  /** requests side by side, or in a batch, 1… */
  sideBySide: number
  /** prompt tokens a second; for tokens */
  reads: number
  /** bytes of the weights, which start-ups fetch */
  weightBytes: number
}

/** A model of one's own in place of an invented shape: of a published shape file, of its size alone, or as fast as was said. */
export type OwnModel = { from: 'file' | 'size'; model: TokenModel } | { from: 'speed'; speed: Speed }

/** What a speed begins with, by what requests are counted in; round figures to be typed over. */
export const SPEEDS: Record<Works, Omit<Speed, 'machine'>> = {
  tokens: { alone: 40, together: 20, sideBySide: 16, reads: 3000, weightBytes: 16e9 },
  steps: { alone: 8, together: 3, sideBySide: 4, reads: 1, weightBytes: 5e9 },
  units: { alone: 1000, together: 800, sideBySide: 4, reads: 1, weightBytes: 0.5e9 },
}

/** Names that a plan gives to what is known by its speed alone. */
export const SPEED_NAMES = { model: 'the model', variant: 'as it was tried' } as const

const digits = (value: number) => Number(value.toPrecision(6))

/**
 * Seconds of a step with n requests side by side, as a line through the two that were seen: `1 / alone` at n = 1 and `1 / together` at
 * n = `sideBySide`.
 *
 * @example stepLine({ alone: 40, together: 20, sideBySide: 6 }) // { base: 0.02, perSequence: 0.005 }: 25 ms alone, 50 ms with six
 */
export function stepLine({ alone, together, sideBySide }: Pick<Speed, 'alone' | 'together' | 'sideBySide'>): {
  base: number
  perSequence: number
} {
  const perSequence = sideBySide > 1 ? (1 / together - 1 / alone) / (sideBySide - 1) : 0
  // By turns it begins at nothing, and rounding may not put it below.
  return { base: Math.max(0, digits(1 / alone - perSequence)), perSequence: digits(perSequence) }
}

/** Why a speed can not be, as a sentence; undefined for one that can. */
export function speedComplaint({ alone, together, sideBySide }: Speed): string | undefined {
  if (sideBySide === 1 && together !== alone) return 'one side by side is alone: both speeds must be the same'
  if (together > alone) return 'side by side none can be faster than alone'
  // A line through both would begin below nothing.
  if (together < alone / sideBySide)
    return `side by side each must have at least its share of the speed alone: ${digits(alone / sideBySide)}`
  return undefined
}

/** Step costs that give the speeds that were seen (docs/model.md, 3). */
function profileOf(speed: Speed, works: Works): ProfileSpec {
  if (works === 'steps') return { kind: 'iterative', fixedSeconds: 0, stepSeconds: stepLine(speed) }
  if (works === 'units') {
    const slower = speed.sideBySide > 1 ? (speed.alone / speed.together - 1) / (speed.sideBySide - 1) : 0
    return { kind: 'shared', baseSeconds: 0, secondsPerWorkUnit: digits(1 / speed.alone), slowdown: digits(slower) }
  }
  return {
    kind: 'token',
    memorySeconds: stepLine(speed),
    cacheSecondsPerToken: 0,
    arithmeticSeconds: 0,
    overheadSeconds: 0,
    prefillBaseSeconds: 0,
    prefillMemorySeconds: 0,
    prefillSecondsPerToken: digits(1 / speed.reads),
    prefillSecondsPerTokenSquared: 0,
  }
}

/** The model of a plan that knows a speed and nothing else of it. */
export function modelOfSpeed(speed: Speed, works: Works): Model {
  return {
    kind: 'given',
    name: SPEED_NAMES.model,
    weightBytes: speed.weightBytes,
    variants: [{ name: SPEED_NAMES.variant, profiles: [{ machine: speed.machine, profile: profileOf(speed, works) }] }],
  }
}
