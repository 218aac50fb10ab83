import type { PerSequences, ProfileSpec } from '../plan/schema.ts'
import { readQuantity, showQuantity, type Reading } from '../units/quantity.ts'

/** One coefficient of a profile that is typed in: its field, its symbol, and whether it may depend on n. */
export interface CoefficientField {
  field: string
  symbol: string
  means: string
  kind: 'seconds' | 'per-sequences' | 'share' | 'tokens'
}

const TOKEN: CoefficientField[] = [
  { field: 'memorySeconds', symbol: 'M[n]', means: 'reading the weights, with n side by side', kind: 'per-sequences' },
  { field: 'cacheSecondsPerToken', symbol: 'm1', means: 'reading one cached token', kind: 'seconds' },
  { field: 'arithmeticSeconds', symbol: 'C[n]', means: 'arithmetic, with n side by side', kind: 'per-sequences' },
  { field: 'overheadSeconds', symbol: 'O[n]', means: 'launch and communication, with n side by side', kind: 'per-sequences' },
  { field: 'prefillBaseSeconds', symbol: 'P0', means: 'a prefill step, whatever its prompts', kind: 'seconds' },
  { field: 'prefillMemorySeconds', symbol: 'Pm', means: 'one read of the weights in a prefill step', kind: 'seconds' },
  { field: 'prefillSecondsPerToken', symbol: 'P1', means: 'each prompt token', kind: 'seconds' },
  { field: 'prefillExchangeSecondsPerToken', symbol: 'Px', means: 'exchange between devices, for each prompt token', kind: 'seconds' },
  { field: 'prefillSecondsPerTokenSquared', symbol: 'P2', means: 'each squared prompt token', kind: 'seconds' },
]

/** The coefficients of each kind of profile, in the order of its formula. */
export const COEFFICIENT_FIELDS: Record<ProfileSpec['kind'], readonly CoefficientField[]> = {
  token: TOKEN,
  batch: [
    { field: 'baseSeconds', symbol: 'B0', means: 'a batch, whatever is in it', kind: 'seconds' },
    { field: 'secondsPerWorkUnit', symbol: 'B1', means: 'each work unit of each item', kind: 'seconds' },
  ],
  iterative: [
    { field: 'fixedSeconds', symbol: 'B0[n]', means: 'a batch of n, beside its steps', kind: 'per-sequences' },
    { field: 'stepSeconds', symbol: 'B1[n]', means: 'one step (or work unit) of a batch of n', kind: 'per-sequences' },
  ],
  shared: [
    { field: 'baseSeconds', symbol: 'D0', means: 'a request alone, whatever its work', kind: 'seconds' },
    { field: 'secondsPerWorkUnit', symbol: 'D1', means: 'each work unit alone', kind: 'seconds' },
    { field: 'slowdown', symbol: 's', means: 'share by which each further request slows the others', kind: 'share' },
  ],
}

/** A coefficient as it is typed: "46 ms", "0.3 ms + 50 µs × n", or a list that begins at n = 1. */
export function showCoefficient(value: PerSequences, kind: CoefficientField['kind']): string {
  const show = (v: number) => (kind === 'share' || kind === 'tokens' ? showQuantity(v, 'number') : smallSeconds(v))
  if (typeof value === 'number') return show(value)
  if (Array.isArray(value)) return value.map(show).join(', ')
  return value.base === 0 ? `${show(value.perSequence)} × n` : `${show(value.base)} + ${show(value.perSequence)} × n`
}

/** Below a nanosecond a power of ten says more than a row of zeros. */
const smallSeconds = (v: number) => (v !== 0 && v < 1e-7 ? `${Number(v.toPrecision(6)).toExponential()} s` : showQuantity(v, 'duration'))

/** Reads what {@link showCoefficient} shows; bare numbers are seconds. */
export function readCoefficient(text: string, kind: CoefficientField['kind']): { value: PerSequences } | { complaint: string } {
  const single = (part: string): Reading => {
    const reading = readQuantity(part, kind === 'share' || kind === 'tokens' ? 'number' : 'duration')
    if ('value' in reading && reading.value < 0) return { complaint: 'Not below 0.' }
    return reading
  }
  const words = text.trim()
  if (kind !== 'per-sequences') return single(words)
  const line = /^(?:(.+?)\s*\+\s*)?([^+]+?)\s*[×x*·]\s*n$/i.exec(words)
  if (line) {
    const [base, perSequence] = [line[1] === undefined ? { value: 0 } : single(line[1]), single(line[2])]
    if ('complaint' in base) return base
    return 'complaint' in perSequence ? perSequence : { value: { base: base.value, perSequence: perSequence.value } }
  }
  const parts = words.split(/[,;]\s+/).map(single)
  const bad = parts.find((p) => 'complaint' in p)
  if (bad) return { complaint: 'Type a duration (46 ms), a line (0.3 ms + 50 µs × n) or a list from n = 1 (1 ms, 2 ms).' }
  const values = parts.flatMap((p) => ('value' in p ? [p.value] : []))
  return { value: values.length === 1 ? values[0] : values }
}
