import { bare, threeDigits } from '../units/number.ts'

/** Machines of a choice in words: a number, or up to a number with what is there on average. @example '2 × Fenland twin' */
export function fleetWords(c: { machines: number; machine: string; policy: string | null; meanMachines?: number }): string {
  if (c.policy === null) return `${c.machines} × ${c.machine}`
  const mean = c.meanMachines === undefined ? '' : ` (${bare(threeDigits(c.meanMachines))} on average)`
  return `up to ${c.machines} × ${c.machine}${mean}`
}
