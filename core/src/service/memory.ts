import type { Assumptions, DenseModel, Machine } from '../plan/schema.ts'
import type { DenseVariant } from './variant.ts'

/** How the memory of one replica divides, in bytes over all of its devices. */
export interface MemorySplit {
  totalBytes: number
  /** what the server may not touch: total·(1 − share) */
  withheldBytes: number
  weightBytes: number
  reserveBytes: number
  activationBytes: number
  /** left for the cache; negative when the weights do not fit */
  cacheBytes: number
  cacheBytesPerToken: number
  /** whole tokens; 0 when nothing is left */
  cacheTokens: number
}

/**
 * Memory of a replica over `devices` devices (engine rules, section 8):
 * cacheTokens = (D·memory·share − weights − D·reserve − activations) / (2·L·g·d·b).
 */
export function memorySplit(model: DenseModel, variant: DenseVariant, machine: Machine, devices: number, assumptions: Assumptions): MemorySplit {
  const totalBytes = devices * machine.memoryBytesPerDevice
  const weightBytes = model.parameters * variant.bytesPerWeight
  const reserveBytes = devices * assumptions.reserveBytesPerDevice
  const activationBytes = model.activationBytes ?? 0
  const withheldBytes = totalBytes * (1 - assumptions.memoryShare)
  const cacheBytes = totalBytes * assumptions.memoryShare - weightBytes - reserveBytes - activationBytes
  const cacheBytesPerToken = cachePerToken(model, variant)
  return {
    totalBytes, withheldBytes, weightBytes, reserveBytes, activationBytes, cacheBytes, cacheBytesPerToken,
    cacheTokens: Math.max(0, Math.floor(cacheBytes / cacheBytesPerToken)),
  }
}

/** Bytes that one token keeps in the cache: keys and values of every layer, 2·L·g·d·b. */
export function cachePerToken(model: DenseModel, variant: DenseVariant): number {
  return 2 * model.layers * model.keyValueHeads * model.headSize * variant.bytesPerCacheElement
}
