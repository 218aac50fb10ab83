import type { Assumptions, Machine, Model, TokenModel } from '../plan/schema.ts'
import type { Bits } from './variant.ts'

/** How the memory of one replica divides, in bytes over all of its devices. */
export interface MemorySplit {
  totalBytes: number
  /** what the server may not touch: total·(1 − share) */
  withheldBytes: number
  weightBytes: number
  reserveBytes: number
  activationBytes: number
  /** left for the cache, or for items of a batch; negative when the weights do not fit */
  cacheBytes: number
  /** 0 for models without a cache */
  cacheBytesPerToken: number
  /** whole tokens; 0 when nothing is left or there is no cache */
  cacheTokens: number
  /** working memory of each item in service; 0 for models with a cache */
  bytesPerItem: number
}

/** What a model asks of memory, in bytes. */
export interface Needs {
  weightBytes: number
  activationBytes: number
  cacheBytesPerToken: number
  bytesPerItem: number
}

/**
 * What a model with known bits asks of memory. Of models whose coefficients are given only the weights are known.
 *
 * @param devicesOfLayer devices among which every layer is divided: see `cachePerToken`
 */
export function needsOf(model: Exclude<Model, { kind: 'cpu' }>, bits: Bits | undefined, devicesOfLayer = 1): Needs {
  if (model.kind === 'given') return { weightBytes: model.weightBytes ?? 0, activationBytes: 0, cacheBytesPerToken: 0, bytesPerItem: 0 }
  const weightBytes = model.parameters * (bits?.bytesPerWeight ?? 0)
  const activationBytes = model.activationBytes ?? 0
  if (model.kind === 'work' || model.kind === 'iterative')
    return { weightBytes, activationBytes, cacheBytesPerToken: 0, bytesPerItem: model.activationBytesPerItem ?? 0 }
  return {
    weightBytes,
    activationBytes,
    cacheBytesPerToken: cachePerToken(model, bits?.bytesPerCacheElement ?? 0, devicesOfLayer),
    bytesPerItem: 0,
  }
}

/**
 * Memory of a replica over `devices` devices (docs/model.md, 3):
 * cacheTokens = (D·memory·share − weights − D·reserve − activations) / cache per token.
 */
export function memorySplit(needs: Needs, machine: Machine, devices: number, assumptions: Assumptions): MemorySplit {
  const totalBytes = Math.min(devices * machine.memoryBytesPerDevice, largestMemoryBytes(machine))
  const reserveBytes = devices * assumptions.reserveBytesPerDevice
  const cacheBytes = totalBytes * assumptions.memoryShare - needs.weightBytes - reserveBytes - needs.activationBytes
  return {
    ...needs,
    totalBytes,
    reserveBytes,
    cacheBytes,
    withheldBytes: totalBytes * (1 - assumptions.memoryShare),
    cacheTokens: needs.cacheBytesPerToken > 0 ? Math.max(0, Math.floor(cacheBytes / needs.cacheBytesPerToken)) : 0,
  }
}

/** The largest memory that an offer sells a replica, where it is sold in steps; Infinity elsewhere. */
export function largestMemoryBytes({ ceilings }: Pick<Machine, 'ceilings'>): number {
  return Math.max(...(ceilings?.memoryStepsBytes ?? [Infinity]))
}

/** The smallest step of memory that is enough; as much as is needed where memory is not sold in steps. */
export function memoryStepBytes({ ceilings }: Pick<Machine, 'ceilings'>, neededBytes: number): number {
  const steps = [...(ceilings?.memoryStepsBytes ?? [])].sort((a, b) => a - b)
  return steps.find((s) => s >= neededBytes) ?? steps.at(-1) ?? neededBytes
}

/**
 * Bytes that one token keeps in the caches of all devices: keys and values of every layer, 2·L·g·d·b. More devices than
 * key-value heads keep each head several times: 2·L·d·b·max(g, D). What a model states (compressed caches) every device keeps.
 *
 * @param devicesOfLayer D: devices among which every layer is divided
 */
export function cachePerToken(model: TokenModel, bytesPerElement: number, devicesOfLayer: number): number {
  if (model.cacheBytesPerToken !== undefined) return model.cacheBytesPerToken * devicesOfLayer
  return 2 * model.layers * model.headSize * bytesPerElement * Math.max(model.keyValueHeads, devicesOfLayer)
}
