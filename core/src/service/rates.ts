import type { Assumptions, Machine, Service, Variant } from '../plan/schema.ts'
import { efficiencies } from './variant.ts'

/** How the model of a replica over several hosts is divided between them: every layer by heads, or whole layers. */
export type Split = NonNullable<Service['split']>

/** What all devices of a replica reach together, and what they lose in talking to each other. */
export interface Rates {
  bytesPerSecond: number
  operationsPerSecond: number
  launchSeconds: number
  /** devices of a replica on each of its hosts, and the hosts */
  perHost: number
  hosts: number
  split: Split
  /** seconds of one hop between devices of a host, and bytes a second of one device's link; 0 and Infinity where nothing is known */
  hopSeconds: number
  linkBytesPerSecond: number
  /** the same between hosts, of one host */
  hostHopSeconds: number
  hostLinkBytesPerSecond: number
}

/** Bytes of one activation that devices exchange. */
export const ACTIVATION_BYTES = 2

/** @param arithmeticPerSecond of one device, at the bits that reckon */
export function ratesOf(
  machine: Machine,
  devices: number,
  variant: Variant,
  arithmeticPerSecond: number,
  assumptions: Assumptions,
  split: Split = 'heads',
): Rates {
  const share = efficiencies(variant, assumptions)
  return {
    bytesPerSecond: devices * machine.bandwidthBytesPerSecond * share.memory,
    operationsPerSecond: devices * arithmeticPerSecond * share.arithmetic,
    launchSeconds: assumptions.launchSeconds,
    ...layoutOf(machine, devices),
    split,
    hopSeconds: machine.hopSeconds ?? 0,
    linkBytesPerSecond: machine.linkBytesPerSecond ?? Infinity,
    hostHopSeconds: machine.hostHopSeconds ?? 0,
    hostLinkBytesPerSecond: machine.hostLinkBytesPerSecond ?? Infinity,
  }
}

/** Devices of a replica on each of its hosts, and how many hosts those are. */
export function layoutOf(machine: Pick<Machine, 'devices'>, devices: number): { perHost: number; hosts: number } {
  return devices <= machine.devices ? { perHost: devices, hosts: 1 } : { perHost: machine.devices, hosts: devices / machine.devices }
}

/** Devices among which every layer is divided: all of them, or those of one host where hosts hold whole layers. */
export function devicesOfLayer({ perHost, hosts }: { perHost: number; hosts: number }, split: Split): number {
  return split === 'layers' ? perHost : perHost * hosts
}

/**
 * Seconds in which the devices that share a layer add up x bytes (docs/model.md, 3): inside a host
 * and then between hosts 2⌈log₂ n⌉ hops and 2(n − 1)/n of the bytes over the link. 0 for one device.
 */
export function exchangeSeconds(bytes: number, rates: Rates): number {
  const hosts = rates.split === 'layers' ? 1 : rates.hosts
  return (
    addUp(rates.perHost, bytes, rates.hopSeconds, rates.linkBytesPerSecond) +
    addUp(hosts, bytes, rates.hostHopSeconds, rates.hostLinkBytesPerSecond)
  )
}

function addUp(members: number, bytes: number, hopSeconds: number, bytesPerSecond: number): number {
  return members === 1 ? 0 : 2 * levels(members) * hopSeconds + ((2 * (members - 1)) / members) * (bytes / bytesPerSecond)
}

/** ⌈log₂ n⌉: levels of a tree over n members. */
function levels(members: number): number {
  let n = 0
  for (let reached = 1; reached < members; reached *= 2) n++
  return n
}

/** Seconds in which so many bytes pass all borders between hosts that hold whole layers; 0 where none do. */
export function bordersSeconds(bytes: number, { split, hosts, hostHopSeconds, hostLinkBytesPerSecond }: Rates): number {
  return split === 'layers' ? (hosts - 1) * (hostHopSeconds + bytes / hostLinkBytesPerSecond) : 0
}

/**
 * Seconds of exchange in a step that takes so many tokens through every layer: two exchanges a layer, and the borders.
 *
 * @param tokens of one group, where hosts take turns
 */
export function communicationSeconds(layers: number, width: number, rates: Rates, tokens: number): number {
  const bytes = tokens * width * ACTIVATION_BYTES
  return 2 * layers * exchangeSeconds(bytes, rates) + bordersSeconds(bytes, rates)
}

/** Sequences of n that a host has in work at a time: all, or the n-th part where hosts that hold whole layers take turns. */
export function inWork(n: number, { split, hosts }: Rates): number {
  return split === 'layers' && hosts > 1 ? Math.max(1, n / hosts) : n
}

/** How many of the replica's devices work on one layer at a time, as a share of all: 1, or that of one host. */
export function workingShare({ split, hosts }: Pick<Rates, 'split' | 'hosts'>): number {
  return split === 'layers' ? 1 / hosts : 1
}
