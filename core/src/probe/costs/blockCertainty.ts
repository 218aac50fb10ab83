import { EigenvalueDecomposition, Matrix, solve } from 'ml-matrix'
import { square } from '../../arithmetic/sameBits.ts'
import { student95 } from '../../random/studentT.ts'
import type { Equation } from '../../service/measured/leastSquares.ts'

/** Requests that were served together have their errors in common: neighbours are left out together, some here, some there. */
const BLOCKS = 40
const NEIGHBOURS = 4

/** How sure coefficients are that solve equations. */
export interface Certainty {
  /**
   * 95 % intervals; undefined where there is nothing to spare, or the value is held at 0. Of what the equations leave open altogether: from
   * 0 to where nothing is left for the others
   */
  intervals: ({ low: number; high: number } | undefined)[]
  /** of each two, −1 … 1; 0 where one is held at 0 */
  correlation: number[][]
  /** which of them the equations leave open, each with those against which it could be exchanged; empty for the others */
  exchangeable: number[][]
}

/**
 * How sure the coefficients are that solve weighted equations whose errors go together where they are near each other: a jackknife over
 * blocks of neighbours (Shao and Tu, The Jackknife and Bootstrap, section 2.3), with Student's t of as many as there are to spare.
 *
 * @param equations in an order in which neighbours are those that have errors in common; no feature is below 0
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
  const open = openDirections(new Matrix(left))
  const isOpen = (a: number) => open.get(a, a) > OPEN
  const place = (c: number) => active.indexOf(c)
  return {
    intervals: values.map((v, c) => {
      const a = place(c)
      if (a < 0) return undefined
      if (isOpen(a)) return { low: 0, high: Math.max(v, mostOf(c, equations, values)) }
      const half = (student95(spare) * Math.sqrt(covariance(a, a))) / scale[a]
      return { low: Math.max(0, v - half), high: v + half }
    }),
    correlation: values.map((_, c) =>
      values.map((__, d) => {
        const [a, b] = [place(c), place(d)]
        if (c === d) return 1
        if (a < 0 || b < 0 || isOpen(a) !== isOpen(b)) return 0
        const of = isOpen(a) ? (x: number, y: number) => open.get(x, y) : covariance
        return of(a, b) / Math.sqrt(of(a, a) * of(b, b))
      }),
    ),
    exchangeable: values.map((_, c) => active.filter((d) => d !== c && place(c) >= 0 && Math.abs(open.get(place(c), place(d))) > OPEN)),
  }
}

/** Directions of less than this share of the largest are nothing but rounding. */
const ROUNDING = 1e-9
/** A coefficient that has less than this of such a direction has nothing of it. */
const OPEN = 1e-6

/** What the equations say nothing of, as the projection on it: what is moved there leaves each of them as it is. @param left symmetric */
function openDirections(left: Matrix): Matrix {
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(left, { assumeSymmetric: true })
  const largest = Math.max(...realEigenvalues)
  const open = realEigenvalues.flatMap((value, e) => (value > ROUNDING * largest ? [] : [eigenvectorMatrix.getColumn(e)]))
  const along = (a: number, b: number) => open.reduce((sum, direction) => sum + direction[a] * direction[b], 0)
  return new Matrix(left.to2DArray().map((row, a) => row.map((_, b) => along(a, b))))
}

/** The most that a coefficient can be: all of what an equation comes to, where the others are nothing. */
const mostOf = (c: number, equations: readonly Equation[], values: readonly number[]): number =>
  equations.reduce((most, { features }) => {
    const all = features.reduce((sum, f, d) => sum + f * values[d], 0)
    return features[c] > 0 ? Math.min(most, all / features[c]) : most
  }, Infinity)

/** Where nothing tells how sure they are. */
export const unsure = (values: readonly number[]): Certainty => ({
  intervals: values.map(() => undefined),
  correlation: values.map((_, a) => values.map((__, b) => (a === b ? 1 : 0))),
  exchangeable: values.map(() => []),
})
