import type { Combination } from '../../plan/searchChoices.ts'
import type { Plan, Service } from '../../plan/schema.ts'
import { fit } from '../../service/fit.ts'
import type { TokenProfile } from '../../service/profile.ts'
import { STEP_COEFFICIENTS } from '../../service/measured/stepCoefficients.ts'
import { USUAL_DOUBT } from '../../world/worldOf.ts'
import type { FittedSteps } from './fitSteps.ts'

/** Shares of a machine's rates that measured step costs reach. */
export interface Reached {
  memory: number
  arithmetic: number
  /**
   * By how much costs that rest on them may be off elsewhere, in 95 of 100: what is usual for derived costs, since other kernels run there,
   * and by how much the shares themselves are not known.
   */
  doubt: number
}

/**
 * Shares of bandwidth and arithmetic that step costs reach of what the catalogue says of a machine: what a step takes that reads the
 * weights once, and what a prompt token takes, at the full rates, beside what was found. Launch and exchange are the plan’s.
 *
 * @param fitted values and intervals in the order of STEP_COEFFICIENTS
 * @returns undefined where step costs of the place are not derived, or nothing was found for one of them; above 1 where more is reached
 *   than the catalogue says there is
 */
export function reachedShares(plan: Plan, service: Service, at: Combination, fitted: Found): Reached | undefined {
  const full = fullRates(plan, service, at)
  if (!full) return undefined
  const step = beyond(fitted, 'M', full.overheadSeconds[1])
  const prompt = beyond(fitted, 'P1', full.prefillExchangeSecondsPerToken)
  if (!(step.seconds > 0) || !(prompt.seconds > 0)) return undefined
  const unknown = Math.max(step.off, prompt.off)
  return {
    memory: full.memorySeconds[1] / step.seconds,
    arithmetic: full.prefillSecondsPerToken / prompt.seconds,
    doubt: Math.min(1, Math.sqrt(USUAL_DOUBT.derived * USUAL_DOUBT.derived + unknown * unknown)),
  }
}

type Found = Pick<FittedSteps, 'values' | 'intervals'>

/** What was found for a coefficient beyond a part of it that is known, and by which share that may be off, in 95 of 100. */
function beyond({ values, intervals }: Found, symbol: string, known: number): { seconds: number; off: number } {
  const place = STEP_COEFFICIENTS.findIndex((c) => c.symbol === symbol)
  const seconds = values[place] - known
  const interval = intervals[place]
  return { seconds, off: interval ? (interval.high - interval.low) / 2 / seconds : 1 }
}

/** What is derived for a machine that reaches all of its rates. */
function fullRates(plan: Plan, service: Service, at: Combination): TokenProfile | undefined {
  const model = plan.models.find((m) => m.name === service.model)
  const variant = model?.variants.find((v) => v.name === at.variant)
  const machine = plan.machines.find((m) => m.name === at.machine)
  if (!model || !variant || !machine) return undefined
  const ideal = { ...plan, assumptions: { ...plan.assumptions, memoryEfficiency: 1, arithmeticEfficiency: 1 } }
  const { efficiency: _, ...bare } = variant
  const fitting = fit(ideal, service, model, bare, machine, at.devices, 'derived')
  const profile = fitting.fits ? fitting.profile({ sequences: 1 }) : undefined
  return profile?.kind === 'token' ? profile : undefined
}
