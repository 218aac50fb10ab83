import { ln, square } from '../../arithmetic/sameBits.ts'
import type { MeasurementRow, ProfileSpec } from '../../plan/schema.ts'
import type { Coefficient, Residual } from './calibration.ts'
import { oneSettingOf } from './oneSetting.ts'
import { fittedValue, nonNegative, type Equation, type Solution } from './leastSquares.ts'

/** A row with its sizes known. */
interface Row extends MeasurementRow {
  index: number
  input: number
  output: number
}

export interface TokenFit {
  spec: Extract<ProfileSpec, { kind: 'token' }>
  coefficients: Coefficient[]
  residuals: Residual[]
  degreesOfFreedom: number
  figures: number
  /** the smallest concurrency whose TTFT was used */
  ttftAt: number | undefined
}

/** Coefficients: P0, P1, P2 of a prefill step, then B, b, m of a decode step below the kink and a above it. */
const COUNT = 7
const [P0, P1, P2, BASE, PER_SEQUENCE, PER_CACHED, ARITHMETIC] = Array.from({ length: COUNT }, (_, i) => i)

const prefill = (p: number, times: number, into: number[]) => {
  into[P0] += times
  into[P1] += times * p
  into[P2] += times * square(p)
}

/**
 * A decode step of n sequences with n·(p + o/2) cached tokens: B + b·n + m·k while reading binds, and beyond `kink`
 * sequences, where arithmetic binds, a·n.
 */
const step = ({ concurrency: n, input, output }: Row, times: number, kink: number, into: number[]) => {
  if (n > kink) {
    into[ARITHMETIC] += times * n
    return
  }
  into[BASE] += times
  into[PER_SEQUENCE] += kink === Infinity ? times * n : 0
  into[PER_CACHED] += times * n * (input + output / 2)
}

/**
 * What each figure of a row adds up to, per request, with n requests side by side that each send the next when one ends:
 * TTFT = prefill(p); TPOT·(o − 1) = (o − 1)·step + (n − 1)·prefill(p), since every other request's prompt interrupts once
 * while this one is served; latency = both together.
 */
function equationsOf(
  row: Row,
  kink: number,
  useTtft: boolean,
  oneSetting: boolean,
): { figure: Residual['figure']; measuredSeconds: number; equation: Equation }[] {
  const { concurrency: n, input: p, output: o, ttftSeconds, tpotSeconds, latencySeconds } = row
  const make = (figure: Residual['figure'], measuredSeconds: number, fill: (features: number[]) => void) => {
    const features = new Array<number>(COUNT).fill(0)
    fill(features)
    // One setting can not tell coefficients apart: what grows with the prompt takes all of it, and a step is a step.
    if (oneSetting) for (const c of [P0, P2, PER_SEQUENCE, PER_CACHED]) features[c] = 0
    return { figure, measuredSeconds, equation: { features, value: measuredSeconds, weight: (row.count ?? 1) / square(measuredSeconds) } }
  }
  const out = []
  if (ttftSeconds !== undefined && useTtft) out.push(make('TTFT', ttftSeconds, (f) => prefill(p, 1, f)))
  if (tpotSeconds !== undefined && o > 1) {
    out.push(
      make('TPOT', tpotSeconds, (f) => {
        step(row, 1, kink, f)
        prefill(p, (n - 1) / (o - 1), f)
      }),
    )
  }
  // Latency is TTFT and TPOT together: it says something new only where one of them is missing.
  if (latencySeconds !== undefined && (ttftSeconds === undefined || tpotSeconds === undefined)) {
    out.push(
      make('latency', latencySeconds, (f) => {
        prefill(p, n, f)
        step(row, o - 1, kink, f)
      }),
    )
  }
  return out
}

/** Fits the step costs of a token model; undefined when no row has prompt, answer and a time. */
export function fitTokens(all: readonly MeasurementRow[]): TokenFit | undefined {
  const rows = all.flatMap((r, index): Row[] =>
    r.input !== undefined && r.output !== undefined ? [{ ...r, index, input: r.input, output: r.output }] : [],
  )
  const timed = rows.filter((r) => r.ttftSeconds !== undefined)
  const ttftAt = timed.length > 0 ? Math.min(...timed.map((r) => r.concurrency)) : undefined
  const oneSetting = oneSettingOf({ rows: [...all] }) !== undefined
  const using = (kink: number) =>
    rows.flatMap((row) => equationsOf(row, kink, row.concurrency === ttftAt, oneSetting).map((e) => ({ ...e, row })))
  if (using(Infinity).length === 0) return undefined
  const kinks = [...new Set(rows.map((r) => r.concurrency))].sort((a, b) => a - b).slice(0, -1)
  const forms = [Infinity, ...kinks].map((kink) => ({
    kink,
    figures: using(kink),
    solution: nonNegative(using(kink).map((e) => e.equation)),
  }))
  const best = forms
    .filter(({ kink, solution }) => kink === Infinity || consistent(rows, kink, solution))
    .reduce((a, b) => (score(b.solution, b.figures.length) < score(a.solution, a.figures.length) - 2 ? b : a))
  const values = best.solution.estimates.map((e) => e.value)
  return {
    spec: specOf(values, best.kink),
    coefficients: named(best.solution, best.kink),
    figures: best.figures.length,
    ttftAt,
    degreesOfFreedom: best.solution.degreesOfFreedom,
    residuals: best.figures.map(({ row, figure, measuredSeconds, equation }) => ({
      row: row.index,
      figure,
      measuredSeconds,
      fittedSeconds: fittedValue(equation, values),
    })),
  }
}

/** Bayes' information criterion: a kink has to earn its coefficient. An exact fit is held to a millionth. */
function score(solution: Solution, figures: number): number {
  const used = solution.estimates.filter((e) => e.value > 0).length
  return figures * ln(Math.max(solution.squaredError / figures, 1e-12)) + used * ln(figures)
}

/** Whether the branch that each row was given is the larger of the two. */
function consistent(rows: readonly Row[], kink: number, { estimates }: Solution): boolean {
  return rows.every(({ concurrency: n, input, output }) => {
    const reading = estimates[BASE].value + estimates[PER_CACHED].value * n * (input + output / 2)
    return n > kink === estimates[ARITHMETIC].value * n > reading
  })
}

function specOf(v: readonly number[], kink: number): TokenFit['spec'] {
  return {
    kind: 'token',
    memorySeconds: v[BASE],
    cacheSecondsPerToken: v[PER_CACHED],
    arithmeticSeconds: kink === Infinity ? 0 : { base: 0, perSequence: v[ARITHMETIC] },
    overheadSeconds: kink === Infinity ? { base: 0, perSequence: v[PER_SEQUENCE] } : 0,
    prefillBaseSeconds: v[P0],
    prefillMemorySeconds: 0,
    prefillSecondsPerToken: v[P1],
    prefillSecondsPerTokenSquared: v[P2],
  }
}

function named({ estimates }: Solution, kink: number): Coefficient[] {
  const all: [number, string, string][] = [
    [P0, 'P0', 'seconds of a prefill step, whatever its prompt'],
    [P1, 'P1', 'seconds for each prompt token'],
    [P2, 'P2', 'seconds for each squared prompt token'],
    [BASE, 'M', 'seconds of a decode step, whatever its sequences'],
    [PER_CACHED, 'm1', 'seconds for each cached token'],
    kink === Infinity
      ? [PER_SEQUENCE, 'O', 'seconds for each sequence']
      : [ARITHMETIC, 'C', `seconds for each sequence once more than ${kink} are side by side`],
  ]
  return all.map(([place, symbol, meaning]) => ({ symbol, meaning, ...estimates[place] }))
}
