import { stepDraws } from '../service/measured/drawnSteps.ts'
import { specOfSteps, type TokenSpec } from '../service/measured/stepCoefficients.ts'
import type { Found, Machine, Measurement, PerSequences, Plan, ProfileSpec, Service, Sold, Variant } from '../plan/schema.ts'
import type { RandomStream } from '../random/stream.ts'

/** By how much step costs are otherwise: factors, above 1 where they take longer. */
export interface CostsBy {
  machine: (machine: Machine) => { bandwidth: number; arithmetic: number }
  /** of the launch of a step, where costs are derived */
  launch: number
  /** of what is typed in, or was fitted, for a variant on a machine; everywhere if no machine is named */
  place: (variant: string, machine: string | undefined) => number
  /** of what a service states as its own */
  own: (service: string) => number
  /** of what is sold by tokens */
  sold: (name: string) => number
  /** draws what was found behind measured requests by its own intervals, in place of a factor */
  random?: (variant: string, machine: string | undefined) => RandomStream
}

/** A plan whose step costs are otherwise, wherever they come from. */
export function withCosts(plan: Plan, by: CostsBy): Plan {
  return {
    ...plan,
    assumptions: { ...plan.assumptions, launchSeconds: plan.assumptions.launchSeconds * by.launch },
    machines: plan.machines.map((m) => slower(m, by.machine(m))),
    // Only figures of their entries change.
    models: plan.models.map((m) => ({ ...m, variants: m.variants.map((v) => dearer(v, by)) })) as Plan['models'],
    services: plan.services.map((s) =>
      s.configuration?.profile
        ? { ...s, configuration: { ...s.configuration, profile: timesAsDear(s.configuration.profile, by.own(s.name)) } }
        : s,
    ),
    ...(plan.soldByTokens && { soldByTokens: plan.soldByTokens.map((s) => soldSlower(s, by.sold(s.name))) }),
  }
}

function slower(machine: Machine, { bandwidth, arithmetic }: { bandwidth: number; arithmetic: number }): Machine {
  return {
    ...machine,
    bandwidthBytesPerSecond: machine.bandwidthBytesPerSecond / bandwidth,
    arithmeticPerSecond: Object.fromEntries(Object.entries(machine.arithmeticPerSecond).map(([bits, rate]) => [bits, rate / arithmetic])),
    // Plain models reckon on cores.
    ...(arithmetic !== 1 && { coreSpeed: (machine.coreSpeed ?? 1) / arithmetic }),
  }
}

function dearer(variant: Variant, { place, random }: CostsBy): Variant {
  const { name } = variant
  return {
    ...variant,
    ...(variant.profiles && {
      profiles: variant.profiles.map((p) => ({
        ...p,
        profile: (random && drawn(p.profile, p.measured, random(name, p.machine))) ?? timesAsDear(p.profile, place(name, p.machine)),
      })),
    }),
    ...(variant.measurements && { measurements: variant.measurements.map((m) => timesAsLong(m, place(name, m.machine))) }),
  }
}

function soldSlower(sold: Sold, factor: number): Sold {
  const times = (t: Sold['firstToken']) => ({
    seconds: t.seconds * factor,
    ...(t.p95Seconds !== undefined && { p95Seconds: t.p95Seconds * factor }),
  })
  return {
    ...sold,
    firstToken: times(sold.firstToken),
    eachToken: times(sold.eachToken),
    ...(sold.secondsPerInputToken !== undefined && { secondsPerInputToken: sold.secondsPerInputToken * factor }),
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

/** A machine that takes so many times as long until it is there. */
export const longerOrder = (machine: Machine, { machine: factor }: StartFactors): Machine =>
  machine.provisioningSeconds === undefined ? machine : { ...machine, provisioningSeconds: machine.provisioningSeconds * factor }

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
