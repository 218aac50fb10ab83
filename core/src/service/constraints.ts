import type { Machine, Model, Service, TokenModel, Variant } from '../plan/schema.ts'
import { devicesOfLayer, layoutOf, type Split } from './rates.ts'
import { weightBytesOf } from './variant.ts'
import type { Misfit } from './misfit.ts'
import { samplesToClear, wilson } from './quality.ts'

/** Which combinations a service's search leaves out by name. */
export function isDropped(service: Service, machine: Machine, variant: Variant, devices: number): boolean {
  const { search } = service
  if (!search) return false
  if (search.machines && !search.machines.includes(machine.name)) return true
  if (search.variants && !search.variants.includes(variant.name)) return true
  return (search.without ?? []).some(
    (w) => w.machine === machine.name && (w.variant ?? variant.name) === variant.name && (w.devices ?? devices) === devices,
  )
}

/** Whether the search of a service may go to a machine: where it stands, whose it is, how far its host is trusted. */
export function whereMisfit({ search }: Service, { region, zone, provider, trust = 0 }: Machine): Misfit | undefined {
  if (!search) return undefined
  const { regions, zones, providers, leastTrust } = search
  if (regions && !regions.includes(region)) return { kind: 'region', has: region, allowed: regions }
  if (zones && !(zone !== undefined && zones.includes(zone))) return { kind: 'zone', has: zone ?? 'no stated zone', allowed: zones }
  if (providers && !providers.includes(provider)) return { kind: 'provider', has: provider, allowed: providers }
  return leastTrust !== undefined && trust < leastTrust ? { kind: 'trust', has: trust, least: leastTrust } : undefined
}

/** What a service asks of a variant whatever the machine: its licence, and a quality floor with the whole interval. */
export function variantMisfit(service: Service, variant: Variant): Misfit | undefined {
  const { licensedForProduction, qualityFloor: floor } = service.search ?? {}
  if (licensedForProduction && variant.licence?.production !== true) return { kind: 'licence', note: variant.licence?.note }
  if (floor === undefined) return undefined
  if (!variant.quality) return { kind: 'quality', floor, score: undefined, samplesNeeded: Infinity }
  const score = wilson(variant.quality.score, variant.quality.samples)
  return score.low >= floor ? undefined : { kind: 'quality', floor, score, samplesNeeded: samplesToClear(score.share, floor) }
}

/** Whether so many devices make a replica on this machine: within it in an allowed split, or over whole machines with a link. */
export function splitMisfit(machine: Machine, devices: number): Misfit | undefined {
  const { devices: inMachine, splits } = machine
  if (devices <= inMachine) {
    if (splits && !splits.includes(devices)) return { kind: 'split', devices, allowed: splits }
    return devices > 1 && machine.linkBytesPerSecond === undefined ? { kind: 'no-link', devices } : undefined
  }
  if (machine.hostLinkBytesPerSecond === undefined) return { kind: 'no-host-link', devices, inMachine }
  if (devices % inMachine !== 0) return { kind: 'groups', devices, inMachine }
  return inMachine > 1 && machine.linkBytesPerSecond === undefined ? { kind: 'no-link', devices } : undefined
}

/**
 * Whether attention divides over so many devices (docs/model.md, 3): they divide the query heads, and of the key-value
 * heads each gets as many, or each is kept by as many of them. Whole layers divide over the hosts.
 */
export function headsMisfit(model: TokenModel, machine: Machine, devices: number, split: Split): Misfit | undefined {
  const layout = layoutOf(machine, devices)
  const sharing = devicesOfLayer(layout, split)
  if (split === 'layers' && model.layers % layout.hosts !== 0) return { kind: 'layers', layers: model.layers, hosts: layout.hosts }
  const queryHeads = model.queryHeads ?? model.width / model.headSize
  if (Number.isInteger(queryHeads) && queryHeads % sharing !== 0)
    return { kind: 'heads', devices: sharing, heads: queryHeads, which: 'query' }
  const g = model.keyValueHeads
  // A compressed cache has no heads of its own to divide: every device keeps all of it.
  if (model.cacheBytesPerToken !== undefined || Math.max(g, sharing) % Math.min(g, sharing) === 0) return undefined
  return { kind: 'heads', devices: sharing, heads: g, which: 'key-value' }
}

/** What an easy mode of renting does not let through, whatever the devices. */
export function packageMisfit(machine: Machine, model: Model, variant: Variant): Misfit | undefined {
  const limitBytes = machine.ceilings?.packageBytes
  const fileBytes = weightBytesOf(model, variant)
  return limitBytes !== undefined && fileBytes > limitBytes ? { kind: 'package', fileBytes, limitBytes } : undefined
}

/** Whether one replica finds on a host what it takes beside devices. */
export function hostMisfit({ host }: Service, { hostCores, hostMemoryBytes }: Machine): Misfit | undefined {
  if (!host) return undefined
  if ((host.cores !== undefined && hostCores === undefined) || (host.memoryBytes !== undefined && hostMemoryBytes === undefined))
    return { kind: 'no-host' }
  if (host.cores !== undefined && hostCores !== undefined && host.cores > hostCores)
    return { kind: 'host-cores', needed: host.cores, hostCores }
  if (host.memoryBytes !== undefined && hostMemoryBytes !== undefined && host.memoryBytes > hostMemoryBytes)
    return { kind: 'host-memory', neededBytes: host.memoryBytes, hostBytes: hostMemoryBytes }
  return undefined
}

/**
 * Whether the disk of a machine holds the image and the weights that are kept on it: in the image, or fetched once. Weights
 * that every start fetches anew go to memory. Nothing is known where the service has no stages or the offer no disk.
 */
export function diskMisfit({ start, nodes }: Service, machine: Machine, model: Model, variant: Variant): Misfit | undefined {
  const diskBytes = nodes?.diskBytes ?? machine.diskBytes
  if (!start || diskBytes === undefined) return undefined
  const weightBytes = start.weights.from === 'store' ? 0 : weightBytesOf(model, variant)
  return start.imageBytes + weightBytes > diskBytes ? { kind: 'disk', imageBytes: start.imageBytes, weightBytes, diskBytes } : undefined
}
