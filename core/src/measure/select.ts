/**
 * The k-th smallest of the first n values, in linear time on average; the values change their places: those before place k
 * are no larger then, those after it no smaller (Hoare, 1961, Communications of the ACM 4, algorithm 65).
 *
 * @param values without NaN, which is neither smaller nor larger than anything: the result is any of them then
 * @param n from 1 to their number
 * @param k from 0 to n − 1
 * @returns undefined of an empty list
 * @example kthSmallest(Float64Array.of(3, 1, 2), 3, 0) // 1
 */
export function kthSmallest(values: Float64Array, n: number, k: number): number {
  let left = 0
  let right = n - 1
  while (left < right) {
    const pivot = middleOf(values[left], values[(left + right) >> 1], values[right])
    let i = left
    let j = right
    while (i <= j) {
      while (values[i] < pivot) i++
      while (values[j] > pivot) j--
      if (i > j) break
      const held = values[i]
      values[i++] = values[j]
      values[j--] = held
    }
    if (k <= j) right = j
    else if (k >= i) left = i
    else return pivot
  }
  return values[left]
}

const middleOf = (a: number, b: number, c: number) => Math.max(Math.min(a, b), Math.min(Math.max(a, b), c))
