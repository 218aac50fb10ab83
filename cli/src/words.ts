/** How many replicas, in words. @example copies(1) // '1 replica' */
export const copies = (n: number): string => (n === 1 ? '1 replica' : `${n} replicas`)
