import { EigenvalueDecomposition, Matrix } from 'ml-matrix'
import { normalQuantile } from '../../random/normalQuantile.ts'
import type { RandomStream } from '../../random/stream.ts'
import { Z95 } from '../quality.ts'

/** Step costs, in the order of their coefficients, and how sure they are. */
export interface SureSteps {
  values: readonly number[]
  intervals: readonly ({ low: number; high: number } | undefined)[]
  correlation: readonly (readonly number[])[]
}

/**
 * Step costs as they may as well be: drawn around the fitted ones with their intervals and their correlation, as of a normal
 * distribution, none below 0. What has no interval stays.
 *
 * @returns a function that gives another draw each time; undefined where nothing tells how sure they are
 */
export function stepDraws({ values, intervals, correlation }: SureSteps, random: RandomStream): (() => number[]) | undefined {
  if (intervals.every((i) => !i)) return undefined
  // The lower end may have been cut off at 0.
  const spread = values.map((v, c) => ((intervals[c]?.high ?? v) - v) / Z95)
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(new Matrix(correlation.map((row) => [...row])), {
    assumeSymmetric: true,
  })
  const roots = realEigenvalues.map((d) => Math.sqrt(Math.max(0, d)))
  return () => {
    const free = roots.map((root) => root * normalQuantile(random.open()))
    return values.map((v, c) => {
      const moved = free.reduce((sum, f, e) => sum + eigenvectorMatrix.get(c, e) * f, 0)
      return Math.max(0, v + spread[c] * moved)
    })
  }
}
