import { percentileOf } from '../../measure/percentile.ts'

/** The middle one of values, which stay in their places; 0 of none. */
export const middle = (values: ArrayLike<number>): number => percentileOf(Float64Array.from(values), 0.5) ?? 0
