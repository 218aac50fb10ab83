/** The first place of ascending values that is not below one; their number when all are. @example firstNotBelow([1, 3, 3, 5], 3) // 1 */
export function firstNotBelow(ascending: ArrayLike<number>, value: number, count = ascending.length): number {
  let low = 0
  let high = count
  while (low < high) {
    const middle = (low + high) >> 1
    if (ascending[middle] < value) low = middle + 1
    else high = middle
  }
  return low
}

/** The first place of ascending values that is above one; their number when none is. @example firstAbove([1, 3, 3, 5], 3) // 3 */
export function firstAbove(ascending: ArrayLike<number>, value: number): number {
  let i = firstNotBelow(ascending, value)
  while (ascending[i] === value) i++
  return i
}
