import type { Found } from '../plan/schema.ts'
import type { Calibration, Range, Warning } from '../service/measured/calibration.ts'
import type { Factors } from '../service/measured/oneSetting.ts'
import type { ProfileSource } from '../service/profile.ts'
import { duration } from '../units/duration.ts'
import { grouped, percent, threeDigits } from '../units/number.ts'

/** What to know of a measurement before it is relied on, worst first. */
export function calibrationWords(calibration: Calibration): string[] {
  const { medianError, worstError, range, warnings } = calibration
  return [
    ...warnings.map(warningWords),
    calibration.coefficients.length === 0
      ? `measured with ${rangeWords(range)}`
      : `its fit is off by ${percent(medianError)} in the median, ${percent(worstError)} at worst; measured with ${rangeWords(range)}`,
  ]
}

export function warningWords(warning: Warning): string {
  switch (warning.kind) {
    case 'one-call':
      return 'measured one call at a time: that is no capacity'
    case 'concurrency-unstated':
      return 'the table does not say how many requests were side by side; 1 was assumed'
    case 'cold':
      return 'start-up is within its figures'
    case 'few-samples':
      return `${warning.rows === 1 ? '1 row has' : `${warning.rows} rows have`} as few as ${warning.fewest} ${warning.fewest === 1 ? 'request' : 'requests'} behind it`
    case 'one-size':
      return `only ${warning.what === 'prompt' ? `prompts of ${threeDigits(warning.size)} tokens` : `work of ${threeDigits(warning.size)} units`} were measured: what grows with size can not be told from what does not`
    case 'one-setting':
      return oneSettingWords(warning.factors)
    case 'no-spare':
      return `${warning.figures} figures for ${warning.coefficients} coefficients: nothing is left to judge the fit by`
    case 'crowded-ttft':
      return `first tokens were measured with ${warning.concurrency} side by side at the least: others’ prompts are within`
    case 'poor-fit':
      return `one figure is off by ${percent(warning.worst)}: the form of the costs does not suit it`
  }
}

function oneSettingWords(factors: Factors | null): string {
  const apart = 'only one setting was measured, which does not tell what grows with prompt, answer or number side by side'
  if (!factors) return `${apart}, and nothing is derived that it could be laid on: other sizes are guessed`
  const times = (factor: number) => `${threeDigits(factor)} times as long as derived`
  return factors.prompts === factors.steps
    ? `${apart}: everything is taken ${times(factors.steps)}, in its proportions`
    : `${apart}: prompts are taken ${times(factors.prompts)}, steps ${times(factors.steps)}, in their proportions`
}

function rangeWords(range: Range): string {
  const span = ([low, high]: [number, number], unit: string) =>
    low === high ? `${grouped(low, 0)} ${unit}` : `${grouped(low, 0)} to ${grouped(high, 0)} ${unit}`
  return [
    span(range.concurrency, 'side by side'),
    ...(range.input ? [`prompts of ${span(range.input, 'tokens')}`] : []),
    ...(range.output ? [`answers of ${span(range.output, 'tokens')}`] : []),
    ...(range.work ? [`work of ${span(range.work, 'units')}`] : []),
  ].join(', ')
}

/** How far a use of a measured profile goes beyond what was measured; empty when it does not. */
export function beyondWords(range: Range, used: { sequences: number; input?: number; output?: number; work?: number }): string[] {
  const beyond = (what: string, value: number | undefined, measured: [number, number] | undefined, unit: string): string[] =>
    value === undefined || !measured || value <= measured[1]
      ? []
      : [
          `${what} of up to ${threeDigits(value)} ${unit} are relied on, ${threeDigits(measured[1])} were measured: ${threeDigits(value / measured[1])} times as far`,
        ]
  return [
    ...(used.sequences > range.concurrency[1]
      ? [
          `${used.sequences} side by side are relied on, ${range.concurrency[1]} were measured: ${threeDigits(used.sequences / range.concurrency[1])} times as far`,
        ]
      : []),
    ...beyond('prompts', used.input, range.input, 'tokens'),
    ...beyond('answers', used.output, range.output, 'tokens'),
    ...beyond('work', used.work, range.work, 'units'),
  ]
}

/** A coefficient as it is read: "9.1e-5 s" as 91.0 µs. */
export const coefficientWords = (seconds: number) =>
  Math.abs(seconds) > 0 && Math.abs(seconds) < 1e-6 ? `${seconds.toExponential(2)}\u00a0s` : duration(seconds)

/** What a configuration relies on: one sentence for its source, and one for each way in which it goes beyond a measurement. */
export function relianceWords(
  source: ProfileSource,
  by: Calibration | Found | undefined,
  used: Parameters<typeof beyondWords>[1],
): string[] {
  if (source === 'given') return ['its step costs were typed in']
  if (source === 'derived') return ['its step costs are derived from the shape of the model and the rates of the machine']
  if (by && 'by' in by) return [foundWords(by), ...beyondWords(foundRange(by), used)]
  return [
    by?.warnings.some((w) => w.kind === 'one-setting' && w.factors)
      ? 'its step costs are derived, and scaled by a measurement'
      : 'its step costs are fitted to a measurement',
    ...(by ? [...beyondWords(by.range, used), ...by.warnings.map(warningWords)] : []),
  ]
}

/** @example foundWords({ by: 'us', … }) // 'its step costs were found behind measured requests (us)' */
export const foundWords = ({ by, within }: Found) =>
  `its step costs were found behind measured requests (${by})${within === undefined ? '' : `, and predicted others to within ${percent(within)}`}`
const foundRange = ({ concurrency, input, output }: Found): Range => ({
  concurrency: [1, concurrency],
  input: [1, input],
  output: [1, output],
})
