import type { Assumptions, Machine, Model, Variant } from '../plan/schema.ts'
import type { Split } from '../service/rates.ts'
import { showQuantity } from '../units/quantity.ts'

/** One figure with its derivation: what it is, by which formula, from which figures, and who stated them. */
export interface DerivationLine {
  symbol: string
  meaning: string
  formula: string
  /** the formula with its figures */
  figures: string
  value: string
  /** who stated the inputs */
  from: string
}

/** What is derived, and from what. */
export interface Derived {
  model: Model
  variant: Variant
  machine: Machine
  devices: number
  assumptions: Assumptions
  split?: Split | undefined
}

export const line = (symbol: string, meaning: string, formula: string, figures: string, value: string, from: string): DerivationLine => ({
  symbol,
  meaning,
  formula,
  figures,
  value,
  from,
})
export const big = (n: number) => showQuantity(Number(n.toPrecision(3)), 'big')
