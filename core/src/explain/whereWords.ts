import { AS_STATED } from '../candidate/stated.ts'
import type { Plan } from '../plan/schema.ts'
import { percent } from '../units/number.ts'
import { price } from '../units/price.ts'

/** Whose it is and where it stands; empty for step costs that are stated without a machine. @example 'Fenland, wash, zone b' */
export function whereWords({ provider, region, zone }: { provider: string; region: string; zone?: string }): string {
  return provider === AS_STATED ? '' : [provider, region, ...(zone === undefined ? [] : [`zone ${zone}`])].join(', ')
}

/** That prices of a machine have the surcharge of a managed service in them: a sentence without a full stop; empty where they have none. */
export function surchargeWords({ machines, currency }: Pick<Plan, 'machines' | 'currency'>, name: string): string {
  const { surchargeShare = 0, surchargePerHour = 0 } = machines.find((m) => m.name === name) ?? {}
  const parts = [
    ...(surchargeShare > 0 ? [percent(surchargeShare)] : []),
    ...(surchargePerHour > 0 ? [`${price(surchargePerHour, currency)} an hour`] : []),
  ]
  return parts.length === 0 ? '' : `the prices of ${name} have ${parts.join(' and ')} of surcharge in them, beside the bare machine`
}
