import { firstAbove } from '../../units/ascending.ts'
import { sum } from '../../units/sum.ts'
import { square } from '../../arithmetic/sameBits.ts'
import { fittedValue, nonNegative, type Equation } from '../../service/measured/leastSquares.ts'
import type { ProbedRequest } from '../probed.ts'
import { scaleOf } from './figures.ts'
import { middle } from './middle.ts'

/**
 * Times nearer to each other than this, than a third of a middle gap, and than a third of the soonest first token, are one moment: what a
 * step gives to several comes to each by a way of its own.
 */
const MOMENT_SECONDS = 5e-3
const ROUNDS = 12
const FAR = 3

/** A step in which prompts were read: when it ended, and how many tokens they were together. */
interface PromptStep {
  /** when the first of them was sent, and when anybody had a token before */
  sent: number
  before: number
  ended: number
  input: number
}

/** Coefficients, and the equations that they solve, in order of time. */
export interface SolvedSteps {
  values: number[]
  equations: Equation[]
}

interface Streamed extends ProbedRequest {
  /** when its tokens came, the first included */
  tokens: Float64Array
}

/**
 * Step costs as one replica shows them that reads prompts in steps of their own: who was in service with whom at each token is known from
 * the record, so that each request is one equation, and each prompt step another.
 *
 * @param used finished requests in the order in which they were sent
 * @returns P0, P1, M, O, m1, W; undefined where tokens were not seen one by one, of all: who is not seen is not counted
 */
export function fromRecord(used: readonly ProbedRequest[]): SolvedSteps | undefined {
  const streamed = used.filter((r) => r.gaps.length === r.output - 1).map((r) => ({ ...r, tokens: tokenTimes(r) }))
  if (streamed.length === 0 || streamed.length < used.length) return undefined
  const soonest = streamed.reduce((least, r) => Math.min(least, r.firstToken - r.sent), Infinity)
  const moment = Math.min(MOMENT_SECONDS, Math.min(soonest, middle(streamed.flatMap((r) => r.gaps))) / 3)
  const prompts = promptSteps(streamed, moment)
  const timed = [
    ...prompts.map((p) => ({ at: p.ended, kind: 'prompt' as const, equation: promptEquation(p) })),
    ...streamed.map((r) => ({ at: r.firstToken, kind: 'decode' as const, equation: decodeEquation(r, streamed, prompts, moment) })),
  ].sort((a, b) => a.at - b.at)
  return solved(
    timed.map((t) => t.kind),
    timed.map((t) => t.equation),
  )
}

/**
 * Each kind of equation weighs by how far off the middle one of it is, and what is further off, such as a step that was taken for two, less
 * (Huber); again and again, until that is known.
 */
function solved(kinds: readonly Kind[], equations: readonly Equation[]): SolvedSteps {
  let values: number[] = []
  let weighed = [...equations]
  for (let round = 0; round < ROUNDS; round++) {
    values = nonNegative(weighed).estimates.map((e) => e.value)
    const off = equations.map((e) => Math.abs(e.value - fittedValue(e, values)))
    const usual = { prompt: usually(off, kinds, 'prompt'), decode: usually(off, kinds, 'decode') }
    weighed = equations.map((e, i) => {
      const scale = usual[kinds[i]]
      return { ...e, weight: Math.min(1, (FAR * scale) / Math.max(off[i], 1e-15)) / square(scale) }
    })
  }
  return { values, equations: weighed }
}

type Kind = 'prompt' | 'decode'
const usually = (off: readonly number[], kinds: readonly Kind[], kind: Kind) =>
  Math.max(1e-9, middle(off.filter((_, i) => kinds[i] === kind)))

function tokenTimes({ firstToken, gaps }: ProbedRequest): Float64Array {
  const times = new Float64Array(gaps.length + 1)
  times[0] = firstToken
  for (let i = 0; i < gaps.length; i++) times[i + 1] = times[i] + gaps[i]
  return times
}

/** First tokens that come in one moment are of one step, which began at the last tokens of anybody before, or when the first came. */
function promptSteps(streamed: readonly Streamed[], moment: number): PromptStep[] {
  const all = Float64Array.from(streamed.flatMap((r) => [...r.tokens])).sort()
  const inOrder = [...streamed].sort((a, b) => a.firstToken - b.firstToken)
  const steps: PromptStep[] = []
  for (let i = 0; i < inOrder.length;) {
    const from = i++
    while (i < inOrder.length && inOrder[i].firstToken - inOrder[i - 1].firstToken < moment) i++
    const together = inOrder.slice(from, i)
    steps.push({
      sent: Math.min(...together.map((r) => r.sent)),
      before: momentBefore(all, together[0].firstToken - moment, moment),
      ended: meanOf(together.map((r) => r.firstToken)),
      input: sum(together, (r) => r.input),
    })
  }
  return steps
}

/** The last moment in which tokens came that is not after another: the middle of all that came in it, as that of any other is told. */
function momentBefore(all: Float64Array, time: number, moment: number): number {
  const until = firstAbove(all, time)
  let from = until
  while (from > 0 && (from === until || all[from] - all[from - 1] < moment)) from--
  return from === until ? -Infinity : meanOf(Array.from(all.subarray(from, until)))
}

const meanOf = (values: readonly number[]) => sum(values, (v) => v) / values.length

const equation = (features: number[], value: number): Equation => ({ features, value, weight: 1 / square(scaleOf(value)) })
const promptEquation = ({ sent, before, ended, input }: PromptStep) =>
  equation([1, input, 0, 0, 0, sent > before ? 1 : 0], ended - Math.max(sent, before))

/** From its first token to its end: its steps, with whom each was shared, and the prompts that were read in between. */
function decodeEquation(r: Streamed, all: readonly Streamed[], prompts: readonly PromptStep[], moment: number): Equation {
  const steps = r.output - 1
  let [sequences, cached] = [0, 0]
  for (const other of all) {
    const from = firstAbove(r.tokens, Math.max(r.firstToken, other.firstToken) + moment)
    const until = firstAbove(r.tokens, Math.min(r.end, other.end) + moment)
    const shared = until - from
    if (shared <= 0) continue
    sequences += shared
    const had = (place: number) => firstAbove(other.tokens, r.tokens[place] - moment)
    cached += shared * (other.input + (had(from) + had(until - 1)) / 2)
  }
  const between = prompts.filter((p) => p.ended > r.firstToken + moment && p.ended < r.end - moment)
  return equation([between.length, sum(between, (p) => p.input), steps, sequences, cached, 0], r.end - r.firstToken)
}
