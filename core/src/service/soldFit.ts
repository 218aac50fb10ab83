import type { Model, Service } from '../plan/schema.ts'
import { sideBySideOf, type Sold } from '../plan/soldSchema.ts'
import type { Fit } from './fit.ts'
import type { DrawnSeconds } from './profile.ts'

/** Something sold by tokens fits wherever it takes requests that are long enough; how it answers is as it states. */
export function fitSold({ limits }: Service, model: Model, sold: Sold): Fit {
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
