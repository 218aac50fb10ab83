import type { PerSequences, ProfileSpec } from '../plan/schema.ts'
import type { Profile } from './profile.ts'

/** Limits of one replica that are chosen, not costs. */
export interface ReplicaLimits {
  sequences: number
  maxPrefillTokens: number
  windowSeconds: number
  /** longest prompt + answer that the model takes */
  contextTokens: number
  /** for profiles that do not state their cache */
  cacheTokens: number
}

/** A typed-in profile with the limits of one configuration. */
export function givenProfile(spec: ProfileSpec, limits: ReplicaLimits): Profile {
  if (spec.kind === 'batch') {
    return {
      kind: 'batch',
      source: 'given',
      baseSeconds: spec.baseSeconds,
      secondsPerWorkUnit: spec.secondsPerWorkUnit,
      maxBatch: limits.sequences,
      windowSeconds: limits.windowSeconds,
    }
  }
  const cacheTokens = spec.cacheTokens ?? limits.cacheTokens
  return {
    kind: 'token',
    source: 'given',
    memorySeconds: table(spec.memorySeconds, limits.sequences),
    arithmeticSeconds: table(spec.arithmeticSeconds, limits.sequences),
    overheadSeconds: table(spec.overheadSeconds, limits.sequences),
    cacheSecondsPerToken: spec.cacheSecondsPerToken,
    prefillBaseSeconds: spec.prefillBaseSeconds,
    prefillMemorySeconds: spec.prefillMemorySeconds,
    prefillSecondsPerToken: spec.prefillSecondsPerToken,
    prefillSecondsPerTokenSquared: spec.prefillSecondsPerTokenSquared,
    maxSequences: limits.sequences,
    cacheTokens,
    maxPrefillTokens: limits.maxPrefillTokens,
    requestTokens: Math.min(cacheTokens, limits.contextTokens),
  }
}

/**
 * Table over n = 0…sequences from a constant, base + perSequence·n, or a list whose first entry is n = 1 (its last
 * entry goes on for larger n).
 */
export function table(spec: PerSequences, sequences: number): Float64Array {
  return Float64Array.from({ length: sequences + 1 }, (_, n) => {
    if (typeof spec === 'number') return spec
    if (Array.isArray(spec)) return spec[Math.min(Math.max(n, 1), spec.length) - 1]
    return spec.base + spec.perSequence * n
  })
}
