import type { Model, Service, Variant } from '../plan/schema.ts'
import { sideBySideOf, type Sold } from '../plan/soldSchema.ts'
import type { Fit } from './fitted.ts'
import type { DrawnSeconds } from './profile.ts'

/** Something sold by tokens fits where it is what is asked for and takes requests that are long enough; it answers as it states. */
export function fitSold({ limits }: Service, model: Model, variant: Variant, devices: number, sold: Sold): Fit {
  const [soldAs, wanted] = [`${sold.model} in ${sold.variant}`, `${model.name} in ${variant.name}`]
  if (soldAs !== wanted) return { fits: false, misfit: { kind: 'sold-as', soldAs, asked: wanted } }
  // Nobody chooses on how many devices it runs.
  if (devices > 1) return { fits: false, misfit: { kind: 'devices', needed: devices, inMachine: 1 } }
  const byModel = 'contextTokens' in model ? (model.contextTokens ?? Infinity) : Infinity
  const takes = Math.min(sold.contextTokens ?? Infinity, byModel)
  const asked = limits?.contextTokens
  if (asked !== undefined && takes < asked) return { fits: false, misfit: { kind: 'sold-context', contextTokens: asked, takes } }
  return {
    fits: true,
    source: 'given',
    mostSequences: sideBySideOf(sold),
    boundBy: 'concurrency ceiling',
    profile: ({ sequences }) => ({
      kind: 'sold',
      source: 'given',
      firstToken: drawnOf(sold.firstToken),
      secondsPerInputToken: sold.secondsPerInputToken ?? 0,
      eachToken: drawnOf(sold.eachToken),
      requestTokens: Math.min(asked ?? Infinity, takes),
      slots: sequences,
    }),
  }
}

const drawnOf = ({ seconds, p95Seconds = seconds }: Sold['firstToken']): DrawnSeconds => ({ median: seconds, p95: p95Seconds })
