import type { Combination } from '../../plan/searchChoices.ts'
import type { Plan, Service } from '../../plan/schema.ts'
import { fit } from '../../service/fit.ts'
import type { TokenProfile } from '../../service/profile.ts'
import { STEP_COEFFICIENTS } from '../../service/measured/stepCoefficients.ts'

/** Shares of a machine's rates that measured step costs reach. */
export interface Reached {
  memory: number
  arithmetic: number
}

/**
 * Shares of bandwidth and arithmetic that step costs reach of what the catalogue says of a machine: what a step takes that reads the
 * weights once, and what a prompt token takes, at the full rates, beside what was found. Launch and exchange are the plan’s.
 *
 * @returns undefined where step costs of the place are not derived, or nothing was found for one of them; above 1 where more is reached
 *   than the catalogue says there is
 */
export function reachedShares(plan: Plan, service: Service, at: Combination, values: readonly number[]): Reached | undefined {
  const full = fullRates(plan, service, at)
  const of = (symbol: string) => values[STEP_COEFFICIENTS.findIndex((c) => c.symbol === symbol)]
  const [prompt, step] = [of('P1'), of('M')]
  if (!full || !(prompt > full.prefillExchangeSecondsPerToken) || !(step > full.overheadSeconds[1])) return undefined
  return {
    memory: full.memorySeconds[1] / (step - full.overheadSeconds[1]),
    arithmetic: full.prefillSecondsPerToken / (prompt - full.prefillExchangeSecondsPerToken),
  }
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
