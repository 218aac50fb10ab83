import { square } from '../../arithmetic/sameBits.ts'
import { fittedValue, nonNegative, type Equation } from '../../service/measured/leastSquares.ts'
import { sum } from '../../units/sum.ts'
import type { ProbedRequest } from '../probed.ts'
import { figuresOf, replayed, scaleOf } from './figures.ts'
import { middle } from './middle.ts'
import type { Served } from './replay.ts'
import { STEP_COEFFICIENTS } from '../../service/measured/stepCoefficients.ts'

const MOST_ROUNDS = 30
/** Relative size of a change that a derivative is taken over: larger than what one step more or less in a wait makes. */
const CHANGE = 0.02
const NOTICED = 0.01
const SETTLED = 1e-5
/** Residuals above so many times the middle one weigh less, in proportion. */
const FAR = 3

/**
 * Step costs whose replay of the same requests comes nearest to what each of them took: Gauss–Newton over
 * non-negative coefficients, since all step times are linear in them while who waits for whom stays the same (Nocedal and
 * Wright, Numerical Optimization, 2nd ed., section 10.3), with weights after Huber.
 */
export function fromReplays(used: readonly ProbedRequest[], served: Served): number[] {
  const measured = figuresOf(used)
  let values = beginning(used)
  let now = replayed(used, values, served)
  let found = equations(measured, now, slopesAt(used, values, now, served), values)
  let error = errorOf(measured, now)
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const solved = nonNegative(found).estimates.map((e) => e.value)
    const next = better(values, solved, (tried) => errorOf(measured, replayed(used, tried, served)), error)
    if (!next) break
    const moved = Math.max(...next.values.map((v, i) => Math.abs(v - values[i]) / Math.max(values[i], STEP_COEFFICIENTS[i].small)))
    values = next.values
    error = next.error
    now = replayed(used, values, served)
    found = equations(measured, now, slopesAt(used, values, now, served), values)
    if (moved < SETTLED) break
  }
  return values
}

/** Where the search begins: who was alone, or nearly, tells most of it. */
function beginning(used: readonly ProbedRequest[]): number[] {
  const least = Math.min(...used.map((r) => r.atOnce))
  const alone = used.filter((r) => r.atOnce === least)
  const perToken = middle(Float64Array.from(alone.map((r) => (r.end - r.firstToken) / (r.output - 1))))
  const { estimates } = nonNegative(
    alone.map((r) => ({ features: [1, r.input], value: r.firstToken - r.sent, weight: 1 / square(scaleOf(r.firstToken - r.sent)) })),
  )
  return [estimates[0].value, estimates[1].value, perToken * 0.9, perToken * 0.02, perToken * 1e-6, 0]
}

/** Of each coefficient, what makes a step longer by a hundredth: less than that drowns in who is a step earlier or later. */
function noticed(used: readonly ProbedRequest[], [p0, p1, m, o, m1]: readonly number[]): number[] {
  const mean = (of: (r: ProbedRequest) => number) => sum(used, of) / used.length
  const [input, n] = [mean((r) => r.input), mean((r) => r.atOnce)]
  const cached = n * mean((r) => r.input + r.output / 2)
  const [prompt, step] = [p0 + p1 * input, m + o * n + m1 * cached].map((s) => Math.max(1e-6, s) * NOTICED)
  return [prompt, prompt / input, step, step / n, step / cached, prompt]
}

/** How each figure moves with each coefficient, a second of figure for a second of coefficient. */
function slopesAt(used: readonly ProbedRequest[], values: readonly number[], now: Float64Array, served: Served): Float64Array[] {
  const least = noticed(used, values)
  return values.map((value, c) => {
    const change = Math.max(value * CHANGE, least[c])
    const moved = replayed(
      used,
      values.map((v, i) => (i === c ? v + change : v)),
      served,
    )
    return moved.map((m, i) => (m - now[i]) / change)
  })
}

function equations(measured: Float64Array, now: Float64Array, slopes: Float64Array[], values: readonly number[]): Equation[] {
  const weights = weightsOf(measured, now)
  return Array.from(measured, (m, i) => {
    const features = slopes.map((s) => s[i])
    return { features, value: m - now[i] + fittedValue({ features }, values), weight: weights[i] }
  })
}

/** Relative errors weigh alike; those far beyond the middle one less. */
function weightsOf(measured: Float64Array, now: Float64Array): Float64Array {
  const relative = measured.map((m, i) => Math.abs(now[i] - m) / scaleOf(m))
  const far = FAR * Math.max(middle(relative), 1e-9)
  return measured.map((m, i) => Math.min(1, far / Math.max(relative[i], 1e-12)) / square(scaleOf(m)))
}

/** The mean relative error, of which a few that are far off do not make all. */
function errorOf(measured: Float64Array, now: Float64Array): number {
  return measured.reduce((sum, m, i) => sum + Math.abs(now[i] - m) / scaleOf(m), 0) / measured.length
}

/** The whole step, or half of it, or half of that …; undefined where none is better. */
function better(
  from: readonly number[],
  to: readonly number[],
  errorAt: (values: number[]) => number,
  error: number,
): { values: number[]; error: number } | undefined {
  for (let share = 1; share > 0.02; share /= 2) {
    const values = from.map((v, i) => v + share * (to[i] - v))
    const found = errorAt(values)
    if (found < error) return { values, error: found }
  }
  return undefined
}
