import type { Variant } from '../plan/schema.ts'

type DenseField = 'bytesPerWeight' | 'bytesPerCacheElement' | 'arithmeticBits'

/** A variant of a dense model: the fields that the plan's checks have found to be there. */
export type DenseVariant = Omit<Variant, DenseField> & Record<DenseField, number>

/** @throws Error when a field is missing, which `crossChecks` has ruled out for plans that were read */
export function denseVariant(variant: Variant): DenseVariant {
  const { bytesPerWeight, bytesPerCacheElement, arithmeticBits } = variant
  if (bytesPerWeight === undefined || bytesPerCacheElement === undefined || arithmeticBits === undefined) {
    throw new Error(`variant "${variant.name}" lacks a field of a dense model`)
  }
  return { ...variant, bytesPerWeight, bytesPerCacheElement, arithmeticBits }
}
