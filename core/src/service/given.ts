import type { PerSequences, ProfileSpec } from '../plan/schema.ts'
import type { BatchProfile, ReplicaProfile, ProfileSource, TokenProfile } from './profile.ts'

/** Limits of one replica that are chosen, not costs. */
export interface ReplicaLimits {
  sequences: number
  batching: Batching
  windowSeconds: number
  /** longest prompt + answer that the model takes */
  contextTokens: number
  /** for profiles that do not state their cache */
  cacheTokens: number
}

/** How a token service batches: the fields of a profile that do not come from model or machine, and its drafts. */
export interface Batching extends Pick<TokenProfile, 'prompts' | 'maxPrefillTokens' | 'stepTokens' | 'reservation'> {
  draft?: Draft
}

/** Draft tokens: guessed ahead cheaply and checked in one step. */
export interface Draft {
  /** drafted for each sequence in each step */
  tokens: number
  /** mean tokens that a sequence gains in a step, 1…tokens + 1 */
  acceptedPerStep: number
  /** what drafting adds to each decode step */
  secondsPerStep: number
}

/** What a decode step becomes when it checks drafted tokens as well: so much more arithmetic, and the drafting beside it. */
export function withDraft(
  arithmetic: Float64Array,
  overhead: Float64Array,
  draft: Draft | undefined,
): Pick<TokenProfile, 'arithmeticSeconds' | 'overheadSeconds' | 'tokensPerStep' | 'scheduledPerSequence'> {
  if (!draft) return { arithmeticSeconds: arithmetic, overheadSeconds: overhead, tokensPerStep: 1, scheduledPerSequence: 1 }
  return {
    arithmeticSeconds: arithmetic.map((s) => s * (1 + draft.tokens)),
    overheadSeconds: overhead.map((s) => s + draft.secondsPerStep),
    tokensPerStep: draft.acceptedPerStep,
    scheduledPerSequence: 1 + draft.tokens,
  }
}

/** Typed-in or fitted coefficients with the limits of one configuration. */
export function givenProfile(spec: ProfileSpec, limits: ReplicaLimits, source: ProfileSource = 'given'): ReplicaProfile {
  if (spec.kind === 'shared') {
    const { baseSeconds, secondsPerWorkUnit, slowdown } = spec
    return { kind: 'shared', source, baseSeconds, secondsPerWorkUnit, slowdown, slots: limits.sequences }
  }
  if (spec.kind !== 'token') {
    return {
      kind: 'batch',
      source,
      ...batchTables(spec, limits.sequences),
      maxBatch: limits.sequences,
      windowSeconds: limits.windowSeconds,
    }
  }
  const cacheTokens = spec.cacheTokens ?? limits.cacheTokens
  const { draft, ...batching } = limits.batching
  return {
    kind: 'token',
    source,
    memorySeconds: table(spec.memorySeconds, limits.sequences),
    ...withDraft(table(spec.arithmeticSeconds, limits.sequences), table(spec.overheadSeconds, limits.sequences), draft),
    cacheSecondsPerToken: spec.cacheSecondsPerToken,
    prefillBaseSeconds: spec.prefillBaseSeconds,
    prefillMemorySeconds: spec.prefillMemorySeconds,
    prefillSecondsPerToken: spec.prefillSecondsPerToken,
    prefillExchangeSecondsPerToken: spec.prefillExchangeSecondsPerToken ?? 0,
    prefillSecondsPerTokenSquared: spec.prefillSecondsPerTokenSquared,
    maxSequences: limits.sequences,
    cacheTokens,
    ...batching,
    requestTokens: Math.min(cacheTokens, limits.contextTokens),
  }
}

/** Costs by batch size: B0 + B1·b·w for one pass over the batch, fixed + w·step[b] for one that goes on in steps. */
function batchTables(
  spec: Extract<ProfileSpec, { kind: 'batch' | 'iterative' }>,
  most: number,
): Pick<BatchProfile, 'baseSeconds' | 'secondsPerWorkUnit'> {
  if (spec.kind === 'iterative') return { baseSeconds: table(spec.fixedSeconds, most), secondsPerWorkUnit: table(spec.stepSeconds, most) }
  return { baseSeconds: table(spec.baseSeconds, most), secondsPerWorkUnit: table({ base: 0, perSequence: spec.secondsPerWorkUnit }, most) }
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

/** Coefficients that give a profile again when they are typed in: what a person begins with who changes one. */
export function specOf(profile: ReplicaProfile): ProfileSpec {
  if (profile.kind === 'shared')
    return { kind: 'shared', baseSeconds: profile.baseSeconds, secondsPerWorkUnit: profile.secondsPerWorkUnit, slowdown: profile.slowdown }
  if (profile.kind === 'batch')
    return { kind: 'iterative', fixedSeconds: untable(profile.baseSeconds), stepSeconds: untable(profile.secondsPerWorkUnit) }
  const {
    cacheSecondsPerToken,
    prefillBaseSeconds,
    prefillMemorySeconds,
    prefillSecondsPerToken,
    prefillExchangeSecondsPerToken,
    prefillSecondsPerTokenSquared,
  } = profile
  return {
    kind: 'token',
    memorySeconds: untable(profile.memorySeconds),
    arithmeticSeconds: untable(profile.arithmeticSeconds),
    overheadSeconds: untable(profile.overheadSeconds),
    cacheSecondsPerToken,
    prefillBaseSeconds,
    prefillMemorySeconds,
    prefillSecondsPerToken,
    prefillExchangeSecondsPerToken,
    prefillSecondsPerTokenSquared,
  }
}

/** The shortest way to say a table: a constant, a line, or all of its entries from n = 1. */
function untable(values: Float64Array): PerSequences {
  const entries = [...values.subarray(1)]
  const [first, second = first] = entries
  const perSequence = second - first
  const near = (a: number, b: number) => Math.abs(a - b) <= 1e-12 * Math.max(1e-9, Math.abs(b))
  if (entries.every((v) => near(v, first))) return first
  const base = Math.max(0, first - perSequence)
  return perSequence >= 0 && entries.every((v, i) => near(base + perSequence * (i + 1), v)) ? { base, perSequence } : entries
}
