import { square } from '../../arithmetic/sameBits.ts'
import type { Measurement, MeasurementRow } from '../../plan/schema.ts'
import {
  aloneSeconds,
  batchSeconds,
  decodeStepSeconds,
  prefillStepSeconds,
  slowness,
  type ReplicaProfile,
  type TokenProfile,
} from '../profile.ts'

/** A measurement whose rows all have one setting: it says how fast that is, and nothing of what grows with which size. */
export type OneSetting = Pick<
  MeasurementRow,
  'concurrency' | 'input' | 'output' | 'work' | 'ttftSeconds' | 'tpotSeconds' | 'latencySeconds'
>

/** The one setting that was measured, with the means of its figures; undefined when there are several. */
export function oneSettingOf({ rows }: Pick<Measurement, 'rows'>): OneSetting | undefined {
  const [first] = rows
  const keys = ['concurrency', 'input', 'output', 'work'] as const
  if (rows.some((r) => keys.some((key) => r[key] !== first[key]))) return undefined
  const mean = (key: 'ttftSeconds' | 'tpotSeconds' | 'latencySeconds') => {
    const there = rows.filter((r) => r[key] !== undefined)
    const weight = there.reduce((sum, r) => sum + (r.count ?? 1), 0)
    return there.length === 0 ? {} : { [key]: there.reduce((sum, r) => sum + (r[key] ?? 0) * (r.count ?? 1), 0) / weight }
  }
  return {
    ...Object.fromEntries(keys.flatMap((key) => (first[key] === undefined ? [] : [[key, first[key]]]))),
    ...mean('ttftSeconds'),
    ...mean('tpotSeconds'),
    ...mean('latencySeconds'),
  } as OneSetting // the concurrency is always there
}

/** By how much measured figures exceed derived ones: of prompts and of decode steps; of fixed work both are one. */
export interface Factors {
  prompts: number
  steps: number
}

/**
 * What a measurement of one setting says of derived step costs: by which factor prompts and decode steps take longer. A
 * figure that is missing leaves its part as it is derived; a latency alone gives one factor for both.
 *
 * @param derived with room for the measured number side by side
 */
export function factorsOf(derived: ReplicaProfile, measured: OneSetting): Factors {
  const { concurrency: n, input = 1, output = 1, work = 0, ttftSeconds, tpotSeconds, latencySeconds } = measured
  if (derived.kind !== 'token') {
    const whole = derived.kind === 'batch' ? batchSeconds(derived, n, work) : aloneSeconds(derived, work, 1) * slowness(derived, n)
    const factor = latencySeconds === undefined ? 1 : latencySeconds / whole
    return { prompts: factor, steps: factor }
  }
  const prompt = prefillStepSeconds(derived, input, square(input))
  const step = decodeStepSeconds(derived, n, n * (input + output / 2)) / derived.tokensPerStep
  if (ttftSeconds === undefined && tpotSeconds === undefined && latencySeconds !== undefined) {
    const factor = latencySeconds / (n * prompt + (output - 1) * step)
    return { prompts: factor, steps: factor }
  }
  const prompts = ttftSeconds === undefined ? 1 : ttftSeconds / prompt
  // Each token of a closed loop bears its part of the prompts of the others.
  const others = output > 1 ? ((n - 1) / (output - 1)) * prompts * prompt : 0
  const own = tpotSeconds === undefined ? undefined : tpotSeconds > others ? tpotSeconds - others : tpotSeconds
  return { prompts, steps: own === undefined ? 1 : own / step }
}

/** Derived step costs, longer by the factors. */
export function scaled(profile: ReplicaProfile, { prompts, steps }: Factors): ReplicaProfile {
  const by = (table: Float64Array, factor: number) => table.map((s) => s * factor)
  if (profile.kind === 'batch')
    return {
      ...profile,
      source: 'measured',
      baseSeconds: by(profile.baseSeconds, steps),
      secondsPerWorkUnit: by(profile.secondsPerWorkUnit, steps),
    }
  if (profile.kind === 'shared')
    return {
      ...profile,
      source: 'measured',
      baseSeconds: profile.baseSeconds * steps,
      secondsPerWorkUnit: profile.secondsPerWorkUnit * steps,
    }
  return { ...scaledTokens(profile, prompts, (table) => by(table, steps)), cacheSecondsPerToken: profile.cacheSecondsPerToken * steps }
}

function scaledTokens(profile: TokenProfile, prompts: number, longer: (table: Float64Array) => Float64Array): TokenProfile {
  const { mixedMemorySeconds } = profile
  return {
    ...profile,
    source: 'measured',
    memorySeconds: longer(profile.memorySeconds),
    arithmeticSeconds: longer(profile.arithmeticSeconds),
    overheadSeconds: longer(profile.overheadSeconds),
    ...(mixedMemorySeconds && { mixedMemorySeconds: longer(mixedMemorySeconds) }),
    prefillBaseSeconds: profile.prefillBaseSeconds * prompts,
    prefillMemorySeconds: profile.prefillMemorySeconds * prompts,
    prefillSecondsPerToken: profile.prefillSecondsPerToken * prompts,
    prefillExchangeSecondsPerToken: profile.prefillExchangeSecondsPerToken * prompts,
    prefillSecondsPerTokenSquared: profile.prefillSecondsPerTokenSquared * prompts,
  }
}
