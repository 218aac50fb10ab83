import { stepDraws } from '../service/measured/drawnSteps.ts'
import { specOfSteps, type TokenSpec } from '../service/measured/stepCoefficients.ts'
import type { Found, Machine, Measurement, PerSequences, ProfileSpec, Service, Variant } from '../plan/schema.ts'
import type { RandomStream } from '../random/stream.ts'

/** A machine whose rates are so many times as slow. */
export function slower(machine: Machine, { bandwidth, arithmetic }: { bandwidth: number; arithmetic: number }): Machine {
  return {
    ...machine,
    bandwidthBytesPerSecond: machine.bandwidthBytesPerSecond / bandwidth,
    arithmeticPerSecond: Object.fromEntries(Object.entries(machine.arithmeticPerSecond).map(([bits, rate]) => [bits, rate / arithmetic])),
  }
}

/**
 * A variant whose stated, found and measured step costs are otherwise: by a factor.
 *
 * @param random draws what was found by its own intervals instead
 */
export function dearer(
  variant: Variant,
  factor: (machine: string | undefined) => number,
  random?: (machine: string | undefined) => RandomStream,
): Variant {
  return {
    ...variant,
    ...(variant.profiles && {
      profiles: variant.profiles.map((p) => ({
        ...p,
        profile: (random && drawn(p.profile, p.measured, random(p.machine))) ?? timesAsDear(p.profile, factor(p.machine)),
      })),
    }),
    ...(variant.measurements && { measurements: variant.measurements.map((m) => timesAsLong(m, factor(m.machine))) }),
  }
}

/** Step costs that were found, as they may as well be by their intervals; undefined where those are not there. */
function drawn(profile: ProfileSpec, found: Found | undefined, random: RandomStream): ProfileSpec | undefined {
  const { certainty } = found ?? {}
  if (!certainty || profile.kind !== 'token') return undefined
  const { memorySeconds, overheadSeconds, prefillBaseSeconds, prefillSecondsPerToken, cacheSecondsPerToken } = profile
  if (typeof memorySeconds !== 'number' || typeof overheadSeconds !== 'object' || Array.isArray(overheadSeconds)) return undefined
  const values = [
    prefillBaseSeconds,
    prefillSecondsPerToken,
    memorySeconds,
    overheadSeconds.perSequence,
    cacheSecondsPerToken,
    certainty.way,
  ]
  const draw = stepDraws({ values, ...certainty }, random)
  return draw && { ...(profile satisfies TokenSpec), ...specOfSteps(draw()) }
}

/** Every second of a profile so many times as long; what it holds stays. */
export function timesAsDear(profile: ProfileSpec, factor: number): ProfileSpec {
  const times = (costs: PerSequences): PerSequences =>
    typeof costs === 'number'
      ? costs * factor
      : Array.isArray(costs)
        ? costs.map((c) => c * factor)
        : { base: costs.base * factor, perSequence: costs.perSequence * factor }
  const entries = Object.entries(profile).map(([field, value]) => [
    field,
    /seconds/i.test(field) ? times(value as PerSequences) : (value as unknown),
  ])
  return Object.fromEntries(entries) as ProfileSpec // its seconds alone are others
}

function timesAsLong(measurement: Measurement, factor: number): Measurement {
  const longer = (seconds: number | undefined) => (seconds === undefined ? undefined : seconds * factor)
  const rows = measurement.rows.map((r) => ({
    ...r,
    ...(r.ttftSeconds !== undefined && { ttftSeconds: longer(r.ttftSeconds) }),
    ...(r.tpotSeconds !== undefined && { tpotSeconds: longer(r.tpotSeconds) }),
    ...(r.latencySeconds !== undefined && { latencySeconds: longer(r.latencySeconds) }),
  }))
  return { ...measurement, rows }
}

/** Stages of a start-up that are unsure, each by itself. */
export const START_STAGES = ['machine', 'image', 'weights', 'load', 'warm-up'] as const
export type StartFactors = Record<(typeof START_STAGES)[number], number>

/** A service whose start-up takes so many times as long, stage by stage. */
export function longerStart(service: Service, by: StartFactors): Service {
  const { start, startupSeconds } = service
  if (!start) return startupSeconds === undefined ? service : { ...service, startupSeconds: startupSeconds * by['warm-up'] }
  const times = (field: 'machineSeconds' | 'machineP95Seconds' | 'resumeSeconds' | 'keptWarmupSeconds' | 'backSeconds', factor: number) =>
    start[field] === undefined ? {} : { [field]: start[field] * factor }
  return {
    ...service,
    start: {
      ...start,
      ...times('machineSeconds', by.machine),
      ...times('machineP95Seconds', by.machine),
      ...times('resumeSeconds', by.machine),
      imageBytesPerSecond: start.imageBytesPerSecond / by.image,
      weights: { ...start.weights, bytesPerSecond: start.weights.bytesPerSecond / by.weights },
      loadBytesPerSecond: start.loadBytesPerSecond / by.load,
      warmupSeconds: start.warmupSeconds * by['warm-up'],
      ...times('keptWarmupSeconds', by['warm-up']),
      ...times('backSeconds', by.load),
    },
  }
}
