import type { Assumptions, Machine, Variant } from '../plan/schema.ts'
import { efficiencies } from './variant.ts'

/** What all devices of a replica reach together, and what they lose in talking to each other. */
export interface Rates {
  bytesPerSecond: number
  operationsPerSecond: number
  launchSeconds: number
  devices: number
  /** seconds of one exchange beside what is sent; 0 for one device */
  hopSeconds: number
  /** of the slowest link between them; Infinity for one device */
  linkBytesPerSecond: number
}

/** @param arithmeticPerSecond of one device, at the bits that reckon */
export function ratesOf(machine: Machine, devices: number, variant: Variant, arithmeticPerSecond: number, assumptions: Assumptions): Rates {
  const share = efficiencies(variant, assumptions)
  return {
    devices,
    bytesPerSecond: devices * machine.bandwidthBytesPerSecond * share.memory,
    operationsPerSecond: devices * arithmeticPerSecond * share.arithmetic,
    launchSeconds: assumptions.launchSeconds,
    ...link(machine, devices),
  }
}

/** The link that binds: between devices of one machine, or the slower one when the replica lies over several machines. */
function link(machine: Machine, devices: number): Pick<Rates, 'hopSeconds' | 'linkBytesPerSecond'> {
  if (devices === 1) return { hopSeconds: 0, linkBytesPerSecond: Infinity }
  const inside = { hop: machine.hopSeconds ?? 0, rate: machine.linkBytesPerSecond ?? Infinity }
  if (devices <= machine.devices) return { hopSeconds: inside.hop, linkBytesPerSecond: inside.rate }
  const between = { hop: machine.hostHopSeconds ?? 0, rate: machine.hostLinkBytesPerSecond ?? Infinity }
  if (machine.devices === 1) return { hopSeconds: between.hop, linkBytesPerSecond: between.rate }
  return { hopSeconds: Math.max(inside.hop, between.hop), linkBytesPerSecond: Math.min(inside.rate, between.rate) }
}

/** Two exchanges a layer, each a hop and n·H two-byte values passed around a ring of D devices; 0 for one device. */
export function communicationSeconds(layers: number, width: number, rates: Rates, n: number): number {
  const { devices, hopSeconds, linkBytesPerSecond } = rates
  if (devices === 1) return 0
  const bytes = (n * width * 2 * 2 * (devices - 1)) / devices
  return layers * 2 * (hopSeconds + bytes / linkBytesPerSecond)
}
