import { Matrix, solve } from 'ml-matrix'
import { square } from '../../arithmetic/sameBits.ts'
import { student95 } from '../../random/studentT.ts'
import type { Equation } from '../../service/measured/leastSquares.ts'

/** Requests that were served together have their errors in common: neighbours are left out together, some here, some there. */
const BLOCKS = 40
const NEIGHBOURS = 4

/** How sure coefficients are that solve equations. */
export interface Certainty {
  /** 95 % intervals; undefined where there is nothing to spare, or the value is held at 0 */
  intervals: ({ low: number; high: number } | undefined)[]
  /** of each two, −1 … 1; 0 where one is held at 0 */
  correlation: number[][]
}

/**
 * How sure the coefficients are that solve weighted equations whose errors go together where they are near each other: a jackknife over
 * blocks of neighbours (Shao and Tu, The Jackknife and Bootstrap, section 2.3), with Student's t of as many as there are to spare.
 *
 * @param equations in an order in which neighbours are those that have errors in common
 */
export function blockCertainty(equations: readonly Equation[], values: readonly number[]): Certainty {
  const active = values.flatMap((v, c) => (v > 0 && equations.some((e) => e.features[c] !== 0) ? [c] : []))
  const blocks = Math.min(BLOCKS, Math.floor(equations.length / NEIGHBOURS))
  const spare = blocks - active.length
  if (active.length === 0 || spare < 2) return unsure(values)
  // Columns of like size: seconds a cached token beside seconds a step would drown in rounding.
  const scale = active.map((c) => Math.sqrt(equations.reduce((sum, e) => sum + e.weight * square(e.features[c]), 0)))
  const sums = Array.from({ length: blocks }, () => ({
    left: Matrix.zeros(active.length, active.length),
    right: Matrix.zeros(active.length, 1),
  }))
  equations.forEach(({ features, value, weight }, i) => {
    const { left, right } = sums[Math.floor(i / NEIGHBOURS) % blocks]
    const row = active.map((c, a) => features[c] / scale[a])
    row.forEach((x, a) => {
      row.forEach((y, b) => left.set(a, b, left.get(a, b) + weight * x * y))
      right.set(a, 0, right.get(a, 0) + weight * x * value)
    })
  })
  const all = (of: 'left' | 'right') =>
    sums.reduce((sum, s) => sum.add(s[of]), Matrix.zeros(active.length, of === 'left' ? active.length : 1))
  const [left, right] = [all('left'), all('right')]
  const without = sums.map((s) => solve(Matrix.sub(left, s.left), Matrix.sub(right, s.right), true).getColumn(0))
  const mean = active.map((_, a) => without.reduce((sum, w) => sum + w[a], 0) / blocks)
  const covariance = (a: number, b: number) =>
    (without.reduce((sum, w) => sum + (w[a] - mean[a]) * (w[b] - mean[b]), 0) * (blocks - 1)) / blocks
  const place = (c: number) => active.indexOf(c)
  return {
    intervals: values.map((v, c) => {
      const a = place(c)
      if (a < 0) return undefined
      const half = (student95(spare) * Math.sqrt(covariance(a, a))) / scale[a]
      return { low: Math.max(0, v - half), high: v + half }
    }),
    correlation: values.map((_, c) =>
      values.map((__, d) => {
        const [a, b] = [place(c), place(d)]
        if (c === d) return 1
        return a < 0 || b < 0 ? 0 : covariance(a, b) / Math.sqrt(covariance(a, a) * covariance(b, b))
      }),
    ),
  }
}

/** Where nothing tells how sure they are. */
export const unsure = (values: readonly number[]): Certainty => ({
  intervals: values.map(() => undefined),
  correlation: values.map((_, a) => values.map((__, b) => (a === b ? 1 : 0))),
})
