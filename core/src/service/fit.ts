import { DEFAULT_PREFILL_TOKENS, DEFAULT_STEP_TOKENS } from './stepDefaults.ts'
import type { CpuModel, Machine, Model, Plan, Service, TokenModel, Variant } from '../plan/schema.ts'
import { diskMisfit, headsMisfit, hostMisfit, packageMisfit, splitMisfit, variantMisfit, whereMisfit } from './constraints.ts'
import { cpuBytes, cpuRoom } from './host.ts'
import { deriveBatches, deriveOnCores, deriveTokens } from './derive.ts'
import { givenProfile, type ReplicaLimits } from './given.ts'
import { calibrate, costKind, scalingOf } from './measured/calibrate.ts'
import { factorsOf, scaled } from './measured/oneSetting.ts'
import { largestMemoryBytes, memorySplit, needsOf, type MemorySplit } from './memory.ts'
import type { Misfit, SlotBound } from './misfit.ts'
import type { ProfileSource, ReplicaProfile } from './profile.ts'
import { devicesOfLayer, layoutOf, ratesOf } from './rates.ts'
import { fitSold } from './soldFit.ts'
import type { Fit } from './fitted.ts'
import { bitsOf } from './variant.ts'

export type { Misfit } from './misfit.ts'
export type { Fit } from './fitted.ts'

/** Everything that says what one replica is. */
export interface Placement {
  plan: Plan
  service: Service
  model: Model
  variant: Variant
  machine: Machine
  devices: number
}

/**
 * Whether one replica of a service fits on `devices` devices of a machine, and its step costs if it does: coefficients
 * that are given come first, then those fitted to a measurement, then derived ones.
 *
 * @param basis only this source is looked for, to lay it beside another
 */
export function fit(
  plan: Plan,
  service: Service,
  model: Model,
  variant: Variant,
  machine: Machine,
  devices: number,
  basis?: ProfileSource,
): Fit {
  if (machine.sold) {
    const misfit = whereMisfit(service, machine) ?? variantMisfit(service, variant)
    return misfit ? { fits: false, misfit } : fitSold(service, model, variant, devices, machine.sold)
  }
  const at: Placement = { plan, service, model, variant, machine, devices }
  // A CPU model has nothing to do with devices, nor with how they split.
  const devicesMisfit =
    model.kind === 'cpu'
      ? undefined
      : (splitMisfit(machine, devices) ?? (isToken(model) ? headsMisfit(model, machine, devices, service.split ?? 'heads') : undefined))
  const misfit =
    whereMisfit(service, machine) ??
    variantMisfit(service, variant) ??
    packageMisfit(machine, model, variant) ??
    devicesMisfit ??
    hostMisfit(service, machine) ??
    diskMisfit(service, machine, model, variant)
  if (misfit) return { fits: false, misfit }
  if (machine.ceilings?.accelerator === false && model.kind !== 'cpu' && model.kind !== 'given')
    return { fits: false, misfit: { kind: 'no-accelerator' } }
  return model.kind === 'cpu' ? fitOnCores(at, model, basis) : fitOnDevices(at, model, basis)
}

const isToken = (model: Model): model is TokenModel => model.kind === 'dense' || model.kind === 'experts'

function fitOnDevices(at: Placement, model: Exclude<Model, CpuModel>, basis: ProfileSource | undefined): Fit {
  const { plan, service, variant, machine, devices } = at
  const hasCache = isToken(model)
  const bits = model.kind === 'given' ? undefined : bitsOf(variant, hasCache)
  const split = service.split ?? 'heads'
  const memory = memorySplit(needsOf(model, bits, devicesOfLayer(layoutOf(machine, devices), split)), machine, devices, plan.assumptions)
  // What the service says it takes, as far as the model goes; a service that says nothing is not held to it.
  const context = service.limits?.contextTokens === undefined ? undefined : serviceLimits(service, model).contextTokens
  const sold = largestMemoryBytes(machine)
  const leastBytes = Math.max(hasCache ? 2 * memory.cacheBytesPerToken : 0, memory.bytesPerItem)
  if (memory.cacheBytes < leastBytes) {
    const neededBytes = (memory.weightBytes + memory.activationBytes + memory.reserveBytes + leastBytes) / plan.assumptions.memoryShare
    const soldTooSmall = sold < devices * machine.memoryBytesPerDevice && neededBytes <= devices * machine.memoryBytesPerDevice
    return {
      fits: false,
      memory,
      misfit: soldTooSmall ? { kind: 'memory-step', neededBytes, largestBytes: sold } : tooSmall(at, memory, 0),
    }
  }
  if (hasCache && context !== undefined && memory.cacheTokens < context) {
    const { devicesNeeded } = tooSmall(at, memory, context * memory.cacheBytesPerToken)
    return { fits: false, memory, misfit: { kind: 'context', contextTokens: context, cacheTokens: memory.cacheTokens, devicesNeeded } }
  }
  const slots = slotsThatFit(machine, memory.bytesPerItem > 0 ? Math.floor(memory.cacheBytes / memory.bytesPerItem) : Infinity, 'memory')
  const known = memory.weightBytes > 0 ? { memory } : {}
  const limits = (sequences: number): ReplicaLimits => ({
    ...serviceLimits(service, model),
    sequences,
    cacheTokens: hasCache ? memory.cacheTokens : Number.MAX_SAFE_INTEGER,
  })
  const arithmetic = bits && machine.arithmeticPerSecond[String(bits.arithmeticBits)]
  const rates = arithmetic === undefined ? undefined : ratesOf(machine, devices, variant, arithmetic, plan.assumptions, split)
  const derived =
    bits && rates && model.kind !== 'given'
      ? (sequences: number) =>
          isToken(model) ? deriveTokens(model, bits, rates, limits(sequences)) : deriveBatches(model, bits, rates, limits(sequences))
      : undefined
  const costs = costsOf(at, basis, limits, derived)
  if (costs) return { fits: true, ...known, ...slots, ...costs }
  if (!bits || (basis !== undefined && basis !== 'derived')) return { fits: false, ...known, misfit: { kind: 'no-profile' } }
  return {
    fits: false,
    memory,
    misfit: { kind: 'arithmetic', bits: bits.arithmeticBits, offered: Object.keys(machine.arithmeticPerSecond) },
  }
}

type Costs = Pick<Extract<Fit, { fits: true }>, 'source' | 'profile' | 'calibration' | 'found'>

/** Step costs from the first source that there is: typed in, measured, derived. A measurement of one setting scales what is derived. */
function costsOf(
  at: Placement,
  basis: ProfileSource | undefined,
  limits: (sequences: number) => ReplicaLimits,
  derived: ((sequences: number) => ReplicaProfile) | undefined,
): Costs | undefined {
  const coefficients = coefficientsOf(at, basis)
  const calibration = coefficients && 'calibration' in coefficients ? coefficients.calibration : undefined
  if (calibration?.oneSetting && derived) {
    const factors = factorsOf(derived(calibration.oneSetting.concurrency), calibration.oneSetting)
    return {
      source: 'measured',
      calibration: scalingOf(calibration, factors),
      profile: ({ sequences }) => scaled(derived(sequences), factors),
    }
  }
  if (coefficients)
    return { ...coefficients, profile: ({ sequences }) => givenProfile(coefficients.spec, limits(sequences), coefficients.source) }
  return derived && (basis === undefined || basis === 'derived')
    ? { source: 'derived', profile: ({ sequences }) => derived(sequences) }
    : undefined
}

function fitOnCores(at: Placement, model: CpuModel, basis: ProfileSource | undefined): Fit {
  const { service, machine } = at
  const room = cpuRoom(service, machine)
  if (!room) return { fits: false, misfit: { kind: 'no-host' } }
  const largestBytes = Math.min(room.memoryBytes, largestMemoryBytes(machine))
  const neededBytes = cpuBytes(model, 1)
  if (neededBytes > largestBytes) {
    const misfit =
      largestBytes < room.memoryBytes
        ? ({ kind: 'memory-step', neededBytes, largestBytes } as const)
        : ({ kind: 'host-memory', neededBytes, hostBytes: room.memoryBytes } as const)
    return { fits: false, misfit }
  }
  if (model.coresPerRequest > room.cores) return { fits: false, misfit: { kind: 'sequences', asked: 1, most: 0, boundBy: 'cores' } }
  const byMemory = model.memoryBytesPerRequest > 0 ? Math.floor((largestBytes - model.memoryBytes) / model.memoryBytesPerRequest) : Infinity
  const byCores = Math.floor(room.cores / model.coresPerRequest + 1e-9)
  const slots = byMemory < byCores ? slotsThatFit(machine, byMemory, 'memory') : slotsThatFit(machine, byCores, 'cores')
  const limits = (sequences: number): ReplicaLimits => ({ ...serviceLimits(service, model), sequences, cacheTokens: 0 })
  const costs = costsOf(at, basis, limits, (sequences) => deriveOnCores(model, machine, limits(sequences)))
  return costs ? { fits: true, ...slots, ...costs } : { fits: false, misfit: { kind: 'no-profile' } }
}

function slotsThatFit(machine: Machine, most: number, boundBy: SlotBound): { mostSequences: number; boundBy: SlotBound } {
  const ceiling = machine.ceilings?.concurrency ?? Infinity
  return ceiling <= most ? { mostSequences: ceiling, boundBy: 'concurrency ceiling' } : { mostSequences: most, boundBy }
}

/** Coefficients that were typed in for this placement, or fitted to what was measured of it. */
function coefficientsOf({ model, variant, machine, devices }: Placement, basis: ProfileSource | undefined) {
  const given = variant.profiles?.find((p) => (p.machine === undefined || p.machine === machine.name) && (p.devices ?? 1) === devices)
  const source = given?.measured === undefined ? ('given' as const) : ('measured' as const)
  if (given && (basis === undefined || basis === source))
    return { source, spec: given.profile, ...(given.measured && { found: given.measured }) }
  const measurement = variant.measurements?.find((m) => m.machine === machine.name && (m.devices ?? 1) === devices)
  const calibration = measurement && basis !== 'given' && basis !== 'derived' ? calibrate(measurement, costKind(model)) : undefined
  return calibration && { source: 'measured' as const, spec: calibration.spec, calibration }
}

/** The limits that a service states, with their defaults. */
export function serviceLimits(service: Service, model: Model | undefined): Omit<ReplicaLimits, 'sequences' | 'cacheTokens'> {
  const byModel = model && 'contextTokens' in model ? model.contextTokens : undefined
  return {
    batching: {
      prompts: service.limits?.prompts ?? 'whole',
      maxPrefillTokens: service.limits?.maxPrefillTokens ?? DEFAULT_PREFILL_TOKENS,
      stepTokens: service.limits?.stepTokens ?? DEFAULT_STEP_TOKENS,
      reservation: service.limits?.reservation ?? 'whole',
      ...(service.limits?.draft && { draft: service.limits.draft }),
    },
    windowSeconds: service.limits?.windowSeconds ?? 0,
    contextTokens: Math.min(byModel ?? Number.MAX_SAFE_INTEGER, service.limits?.contextTokens ?? Number.MAX_SAFE_INTEGER),
  }
}

/** @param roomBytes that the cache must have beside the weights; 0 for any at all */
function tooSmall({ plan, machine }: Placement, memory: MemorySplit, roomBytes: number): Extract<Misfit, { kind: 'memory' }> {
  const fixedBytes = memory.weightBytes + memory.activationBytes + roomBytes
  const usablePerDevice = machine.memoryBytesPerDevice * plan.assumptions.memoryShare - plan.assumptions.reserveBytesPerDevice
  return {
    kind: 'memory',
    neededBytes: fixedBytes + memory.reserveBytes,
    weightBytes: memory.weightBytes,
    usableBytes: memory.totalBytes * plan.assumptions.memoryShare,
    totalBytes: memory.totalBytes,
    devicesNeeded: usablePerDevice > 0 ? Math.floor(fixedBytes / usablePerDevice) + 1 : Infinity,
  }
}
