import type { Measurement, Plan } from '@sandclock/core'

/** A load test that an edit took out of a plan. */
export interface LostMeasurement {
  model: string
  variant: string
  measurement: Measurement
}

/** Measurements of the first plan that the second has nowhere, nor another in their place. */
export function lostMeasurements(before: Plan, after: Plan): LostMeasurement[] {
  if (before.models === after.models) return []
  const left = new Set(all(after).map((m) => JSON.stringify(m.measurement.rows)))
  return all(before).filter((m) => !left.has(JSON.stringify(m.measurement.rows)))
}

const all = (plan: Plan): LostMeasurement[] =>
  plan.models.flatMap((m) =>
    m.variants.flatMap((v) => (v.measurements ?? []).map((measurement) => ({ model: m.name, variant: v.name, measurement }))),
  )
