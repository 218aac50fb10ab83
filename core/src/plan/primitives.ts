import * as z from 'zod'

// Pages that forbid code from text (as ours does) would see Zod's compiled checks as an attack.
z.config({ jitless: true })

export const name = z.string().trim().min(1).max(80)
export const positive = z.number().positive()
export const nonNegative = z.number().nonnegative()
export const count = z.int().positive()
/** Above 0, at most 1. */
export const share = z.number().gt(0).max(1)

/** Replicas that the plan format lets anybody state. */
export const MOST_REPLICAS = 2000
