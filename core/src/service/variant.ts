import type { Assumptions, Model, Variant } from '../plan/schema.ts'

/** A variant whose bits are known: what `crossChecks` makes sure of for models that are derived. */
export interface Bits {
  /** all in: the weight, and its part of the group's scale and zero point */
  bytesPerWeight: number
  bytesPerCacheElement: number
  arithmeticBits: number
}

/**
 * Bytes of one stored weight: what the variant states, or (bits + (scale + zero point) / group) / 8.
 *
 * @example bytesPerWeight({ weightBits: 4, groupSize: 32, scaleBits: 16 }) // 0.5625
 */
export function bytesPerWeight(
  variant: Pick<Variant, 'bytesPerWeight' | 'weightBits' | 'groupSize' | 'scaleBits' | 'zeroPointBits'>,
): number | undefined {
  const { weightBits, groupSize, scaleBits = 0, zeroPointBits = 0 } = variant
  if (variant.bytesPerWeight !== undefined || weightBits === undefined) return variant.bytesPerWeight
  return (weightBits + (groupSize === undefined ? 0 : (scaleBits + zeroPointBits) / groupSize)) / 8
}

/** Bytes of one cached element; undefined when the variant says nothing of it. */
export function bytesPerCacheElement(variant: Pick<Variant, 'bytesPerCacheElement' | 'cacheBits'>): number | undefined {
  return variant.bytesPerCacheElement ?? (variant.cacheBits === undefined ? undefined : variant.cacheBits / 8)
}

/** @throws Error when a field is missing, which `crossChecks` has ruled out for plans that were read */
export function bitsOf(variant: Variant, needsCache: boolean): Bits {
  const weight = bytesPerWeight(variant)
  const cache = bytesPerCacheElement(variant) ?? (needsCache ? undefined : 0)
  if (weight === undefined || cache === undefined || variant.arithmeticBits === undefined) {
    throw new Error(`variant "${variant.name}" lacks a field that its model needs`)
  }
  return { bytesPerWeight: weight, bytesPerCacheElement: cache, arithmeticBits: variant.arithmeticBits }
}

/** Shares of a machine's rates that a variant reaches: those of its format, or the plan's. */
export function efficiencies(variant: Variant, assumptions: Assumptions): { memory: number; arithmetic: number } {
  return {
    memory: variant.efficiency?.memory ?? assumptions.memoryEfficiency,
    arithmetic: variant.efficiency?.arithmetic ?? assumptions.arithmeticEfficiency,
  }
}

/** Bytes of a variant's files, which a start reads and loads: as stated, or its weights as they are reckoned. */
export function weightBytesOf(model: Model, variant: Variant): number {
  if (variant.diskBytes !== undefined) return variant.diskBytes
  if (model.kind === 'given') return model.weightBytes ?? 0
  return model.kind === 'cpu' ? model.memoryBytes : model.parameters * (bytesPerWeight(variant) ?? 0)
}
