import type { Assumptions, Machine, Model, Plan, Service, Variant } from '../plan/schema.ts'
import { deriveProfile } from './derive.ts'
import { givenProfile, type ReplicaLimits } from './given.ts'
import { memorySplit, type MemorySplit } from './memory.ts'
import type { Profile } from './profile.ts'
import { denseVariant } from './variant.ts'

/** Why a model can not run on a machine at all. */
export type Misfit =
  | { kind: 'devices'; needed: number; inMachine: number }
  | { kind: 'no-link'; devices: number }
  | { kind: 'arithmetic'; bits: number; offered: string[] }
  | { kind: 'memory'; neededBytes: number; weightBytes: number; usableBytes: number; totalBytes: number; devicesNeeded: number }
  | { kind: 'no-profile' }

export type Fit =
  | { fits: true; memory?: MemorySplit; profile: (limits: { sequences: number }) => Profile }
  | { fits: false; misfit: Misfit; memory?: MemorySplit }

const DEFAULT_PREFILL_TOKENS = 8192
const DEFAULT_STEP_TOKENS = 2048

/** Whether one replica of a service fits on `devices` devices of a machine, and its step costs if it does. */
export function fit(plan: Plan, service: Service, model: Model, variant: Variant, machine: Machine, devices: number): Fit {
  if (devices > machine.devices) return { fits: false, misfit: { kind: 'devices', needed: devices, inMachine: machine.devices } }
  if (model.kind === 'given') return fitGiven(service, model, variant, machine, devices)
  if (devices > 1 && machine.linkBytesPerSecond === undefined) return { fits: false, misfit: { kind: 'no-link', devices } }
  const dense = denseVariant(variant)
  const memory = memorySplit(model, dense, machine, devices, plan.assumptions)
  if (memory.cacheTokens < 2) return { fits: false, memory, misfit: tooSmall(memory, machine, plan.assumptions) }
  const arithmeticPerSecond = machine.arithmeticPerSecond[String(dense.arithmeticBits)]
  if (arithmeticPerSecond === undefined) {
    return { fits: false, memory, misfit: { kind: 'arithmetic', bits: dense.arithmeticBits, offered: Object.keys(machine.arithmeticPerSecond) } }
  }
  const from = { model, variant: dense, machine, devices, arithmeticPerSecond, assumptions: plan.assumptions }
  return {
    fits: true,
    memory,
    profile: ({ sequences }) => deriveProfile(from, { ...serviceLimits(service, model), sequences, cacheTokens: memory.cacheTokens }),
  }
}

function fitGiven(service: Service, model: Model, variant: Variant, machine: Machine, devices: number): Fit {
  const entry = variant.profiles?.find(
    (p) => (p.machine === undefined || p.machine === machine.name) && (p.devices ?? 1) === devices,
  )
  if (!entry) return { fits: false, misfit: { kind: 'no-profile' } }
  return {
    fits: true,
    profile: ({ sequences }) => givenProfile(entry.profile, { ...serviceLimits(service, model), sequences, cacheTokens: Number.MAX_SAFE_INTEGER }),
  }
}

/** The limits that a service states, with their defaults. */
export function serviceLimits(service: Service, model: Model | undefined): Omit<ReplicaLimits, 'sequences' | 'cacheTokens'> {
  return {
    batching: {
      prompts: service.limits?.prompts ?? 'whole',
      maxPrefillTokens: service.limits?.maxPrefillTokens ?? DEFAULT_PREFILL_TOKENS,
      stepTokens: service.limits?.stepTokens ?? DEFAULT_STEP_TOKENS,
      reservation: service.limits?.reservation ?? 'whole',
      ...(service.limits?.draft && { draft: service.limits.draft }),
    },
    windowSeconds: service.limits?.windowSeconds ?? 0,
    contextTokens: model?.contextTokens ?? Number.MAX_SAFE_INTEGER,
  }
}

function tooSmall(memory: MemorySplit, machine: Machine, assumptions: Assumptions): Misfit {
  const fixedBytes = memory.weightBytes + memory.activationBytes
  const usablePerDevice = machine.memoryBytesPerDevice * assumptions.memoryShare - assumptions.reserveBytesPerDevice
  return {
    kind: 'memory',
    neededBytes: fixedBytes + memory.reserveBytes,
    weightBytes: memory.weightBytes,
    usableBytes: memory.totalBytes * assumptions.memoryShare,
    totalBytes: memory.totalBytes,
    devicesNeeded: usablePerDevice > 0 ? Math.floor(fixedBytes / usablePerDevice) + 1 : Infinity,
  }
}
