/**
 * A value of each, added up in their order.
 *
 * @returns 0 of none; NaN as soon as one is
 * @example sum([{ a: 1 }, { a: 2 }], (x) => x.a) // 3
 */
export const sum = <X>(list: readonly X[], value: (x: X) => number): number => list.reduce((total, x) => total + value(x), 0)
