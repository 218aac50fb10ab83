import type { Candidate } from './candidate.ts'
import { settingKey, type Setting } from './settings.ts'
import { purchaseKey, type Purchase } from '../cost/purchase.ts'

/** What identifies an option. */
export interface OptionName {
  machine: string
  provider: string
  region: string
  /** left out where the offer states none */
  zone?: string
  variant: string
  devices: number
  sequences: number
  /** how the number of replicas follows the load; null for a fixed number */
  policy: string | null
  /** how its machines are paid */
  purchase: Purchase
  /** in what it is run otherwise than the service states, of what its search tries beside; null where in nothing */
  setting: Setting | null
}

/** What identifies a candidate. */
export function optionName(candidate: Candidate): OptionName {
  const { machine, variant, devices, sequences, policy, purchase, setting } = candidate
  return {
    machine: machine.name,
    provider: machine.provider,
    region: machine.region,
    ...(machine.zone !== undefined && { zone: machine.zone }),
    variant: variant.name,
    devices,
    sequences,
    policy: policy?.name ?? null,
    purchase,
    setting,
  }
}

/** What identifies an option, of anything that has it. */
export function optionOf({
  machine,
  provider,
  region,
  zone,
  variant,
  devices,
  sequences,
  policy,
  purchase,
  setting,
}: OptionName): OptionName {
  return { machine, provider, region, ...(zone !== undefined && { zone }), variant, devices, sequences, policy, purchase, setting }
}

export function isSame(a: OptionName, b: OptionName): boolean {
  return optionNameKey(a) === optionNameKey(b)
}

/** What tells one option from another, for those who count or compare. */
export function optionNameKey({ machine, variant, devices, sequences, policy, purchase, setting }: OptionName): string {
  return JSON.stringify([machine, variant, devices, sequences, policy, purchaseKey(purchase), settingKey(setting)])
}

/** The same of an option with a number of machines. */
export function sizedKey(option: OptionName & { machines: number }): string {
  return `${optionNameKey(option)} ${option.machines}`
}
