import { profileOf } from '../../candidate/candidate.ts'
import { specOfSteps, STEP_COEFFICIENTS } from '../../service/measured/stepCoefficients.ts'
import { duration } from '../../units/duration.ts'
import { grouped } from '../../units/number.ts'
import { price } from '../../units/price.ts'
import type { Price } from '../price.ts'
import { priceOfTime } from '../priceOfTime.ts'
import { secondsOfEach } from '../secondsOfEach.ts'
import type { Asking } from '../shape.ts'
import type { FittedSteps } from './fitSteps.ts'
import { readied } from './replay.ts'

/**
 * The measurement that tells all step costs apart: alone and a few at once, short prompts with long answers beside long prompts with short
 * ones. Were both short or both long, those at once would come into step with each other, and how many there are and how much they hold in
 * the cache would be the same figure.
 */
export const FURTHER = {
  clients: [1, 4],
  sizes: [
    { input: 200, output: 90 },
    { input: 8000, output: 40 },
  ],
} as const
/** Requests of each caller, and where such was measured already: four times as many halve what is not sure. */
const [EACH, EACH_AGAIN] = [8, 32]
/** Prompts so many times as long are of two sizes. */
const APART = 8
/** What is said of a time is said as one figure where the least and the most are so near. */
const NEAR = 1.5

/**
 * The one further measurement that would tell what a fit could not: how to ask for it, how many requests that are, about how long it takes
 * and what it costs.
 *
 * @param unsure coefficients that the fit could not tell, by their places
 * @param paid what requests cost, if known
 */
export function furtherWords(fitted: FittedSteps, unsure: readonly number[], paid?: Price): string {
  const { clients, sizes } = FURTHER
  const inputs = fitted.residuals.map((r) => r.input)
  const isAgain = fitted.mostAtOnce >= Math.max(...clients) && Math.max(...inputs) >= APART * Math.min(...inputs)
  const each = isAgain ? EACH_AGAIN : EACH
  const requests = each * clients.reduce((sum, c) => sum + c, 0)
  const [least, most] = extremes(fitted, unsure).map((values) => each * secondsOfAll(fitted, values))
  const takes = most > NEAR * least ? `${duration(least)} to ${duration(most)}` : `about ${duration((least + most) / 2)}`
  const money = paid ? `, ${spanOfPrice(paid, requests * costOfEach(paid, sizes), [least, most])}` : ''
  const asked = sizes.map((s) => `${s.input}+${s.output}`).join(',')
  return `One further measurement would tell: ${clients.join(',')} at once, ${asked} tokens in turn, ${each} requests of each caller; ${grouped(requests, 0)} requests, ${takes}${money}.`
}

/** One request of each caller after the other, for each step of callers. */
function secondsOfAll({ served }: FittedSteps, values: readonly number[]): number {
  const profile = profileOf(readied(specOfSteps(values), served).of.candidate)
  if (profile.kind !== 'token') throw new Error('step costs are of tokens')
  return FURTHER.clients.reduce((sum, c) => sum + secondsOfEach(profile, Math.ceil(c / served.replicas), FURTHER.sizes), 0)
}

/**
 * The costs that make the most of what was not told apart, least time first: all of it in what a step takes whatever is in it, or all of it
 * in what grows with its tokens. What was seen is the same either way.
 */
function extremes({ values, mostAtOnce, residuals }: FittedSteps, unsure: readonly number[]): [number[], number[]] {
  const isUnsure = (...symbols: string[]) => unsure.some((c) => symbols.includes(STEP_COEFFICIENTS[c].symbol))
  const [p0, p1, m, o, m1, way] = values
  const input = residuals.reduce((sum, r) => sum + r.input, 0) / residuals.length
  const prompt = p0 + p1 * input
  const step = m + mostAtOnce * (o + m1 * input)
  const promptIsUnsure = isUnsure('P0', 'P1', 'W')
  const stepIsUnsure = isUnsure('M', 'O', 'm1')
  const of = (ofPrompt: [number, number], ofStep: [number, number, number]) => [
    ...(promptIsUnsure ? ofPrompt : [p0, p1]),
    ...(stepIsUnsure ? ofStep : [m, o, m1]),
    way,
  ]
  return [of([prompt, 0], [step, 0, 0]), of([0, prompt / input], [0, 0, step / (mostAtOnce * input)])]
}

/** What requests cost, with the time that they take where it is paid: as one figure where the least and the most are one. */
function spanOfPrice(paid: Price, ofRequests: number, seconds: readonly [number, number]): string {
  const [least, most] = seconds.map((s) => price(ofRequests + priceOfTime(paid, s), paid.currency))
  return least === most ? least : `${least} to ${most}`
}

/** What a request costs in the mean. */
function costOfEach({ perRequest, perInputToken, perOutputToken }: Price, sizes: readonly Asking[]): number {
  const all = sizes.reduce((sum, s) => sum + perInputToken * s.input + perOutputToken * s.output, 0)
  return perRequest + all / sizes.length
}
