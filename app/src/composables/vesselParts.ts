import type { FitRow } from '@sandclock/core'

/** One layer in a vessel of memory. */
export interface VesselPart {
  name: string
  bytes: number
  /** names a texture: `part-…` in base.css, `#fill-…` in pictures */
  fill: 'weights' | 'reserve' | 'cache' | 'spare' | 'withheld'
}

/** How the memory of a replica is filled, from the bottom: what is used for sure first, what may not be touched last. */
export function vesselParts(row: FitRow): VesselPart[] {
  const m = row.memory
  if (!m) return []
  const perItem = m.bytesPerItem > 0 && row.speed?.kind === 'batch' ? row.speed.batch * m.bytesPerItem : 0
  const perSequence = row.speed?.kind === 'token' ? row.speed.sequences * row.speed.meanTokens * m.cacheBytesPerToken : perItem
  const used = Math.max(0, Math.min(m.cacheBytes, perSequence))
  const parts: VesselPart[] = [
    { name: 'weights', bytes: m.weightBytes, fill: 'weights' },
    { name: 'activations and reserve', bytes: m.activationBytes + m.reserveBytes, fill: 'reserve' },
    { name: m.bytesPerItem > 0 ? 'items in service' : 'cache in use when full', bytes: used, fill: 'cache' },
    { name: 'free', bytes: Math.max(0, m.cacheBytes - used), fill: 'spare' },
    { name: 'withheld', bytes: m.withheldBytes, fill: 'withheld' },
  ]
  return parts.filter((p) => p.bytes > 0)
}

/** Names of the layers, for the key above the picture. */
export const VESSEL_KEY: readonly [VesselPart['fill'], string][] = [
  ['weights', 'weights'],
  ['reserve', 'reserve'],
  ['cache', 'in use'],
  ['spare', 'free'],
  ['withheld', 'withheld'],
]
