import type { Assumptions, DenseModel, Machine } from '../plan/schema.ts'
import { withDraft, type ReplicaLimits } from './given.ts'
import type { TokenProfile } from './profile.ts'
import type { DenseVariant } from './variant.ts'
import { cachePerToken } from './memory.ts'

export interface Derivation {
  model: DenseModel
  variant: DenseVariant
  machine: Machine
  devices: number
  /** operations per second of one device at the variant's bits */
  arithmeticPerSecond: number
  assumptions: Assumptions
}

/**
 * Step costs of a dense model from its shape and the machine's rates (engine rules, section 8).
 *
 * M[n] = Pm = weights / (D·BW·η_m); m1 = cache per token / (D·BW·η_m); C[n] = 2·P·n / (D·F·η_c); P1 = 2·P / (D·F·η_c);
 * P2 = 2·L·H / (D·F·η_c); P0 = launch; O[n] = launch + communication(n).
 */
export function deriveProfile(from: Derivation, limits: ReplicaLimits): TokenProfile {
  const { model, variant, machine, devices, assumptions } = from
  const bytesPerSecond = devices * machine.bandwidthBytesPerSecond * assumptions.memoryEfficiency
  const operationsPerSecond = devices * from.arithmeticPerSecond * assumptions.arithmeticEfficiency
  const weightSeconds = (model.parameters * variant.bytesPerWeight) / bytesPerSecond
  const perToken = (2 * model.parameters) / operationsPerSecond
  const { draft, ...batching } = limits.batching
  const overN = (f: (n: number) => number) => Float64Array.from({ length: limits.sequences + 1 }, (_, n) => f(n))
  return {
    kind: 'token',
    source: 'derived',
    memorySeconds: overN(() => weightSeconds),
    ...withDraft(overN((n) => perToken * n), overN((n) => assumptions.launchSeconds + communicationSeconds(model, machine, devices, n)), draft),
    cacheSecondsPerToken: cachePerToken(model, variant) / bytesPerSecond,
    prefillBaseSeconds: assumptions.launchSeconds,
    prefillMemorySeconds: weightSeconds,
    prefillSecondsPerToken: perToken,
    prefillSecondsPerTokenSquared: (2 * model.layers * model.width) / operationsPerSecond,
    maxSequences: limits.sequences,
    cacheTokens: limits.cacheTokens,
    ...batching,
    requestTokens: Math.min(limits.cacheTokens, limits.contextTokens),
  }
}

/** Two exchanges a layer, each a hop and n·H two-byte values passed around a ring of D devices; 0 for one device. */
export function communicationSeconds(model: DenseModel, machine: Machine, devices: number, n: number): number {
  if (devices === 1) return 0
  const bytes = (n * model.width * 2 * 2 * (devices - 1)) / devices
  const linkSeconds = machine.linkBytesPerSecond === undefined ? Infinity : bytes / machine.linkBytesPerSecond
  return model.layers * 2 * ((machine.hopSeconds ?? 0) + linkSeconds)
}
