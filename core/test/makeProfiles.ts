import { table } from '../src/service/given.ts'
import type { BatchProfile, TokenProfile } from '../src/service/profile.ts'
import type { ServiceRules } from '../src/engine/rules.ts'
import { readyTogether } from '../src/engine/rules.ts'

/** A token profile with plausible costs, parts of it replaced. */
export function tokenProfile(parts: Partial<TokenProfile> = {}): TokenProfile {
  const maxSequences = parts.maxSequences ?? 8
  const cacheTokens = parts.cacheTokens ?? 20_000
  return {
    kind: 'token',
    source: 'given',
    memorySeconds: table(0.012, maxSequences),
    arithmeticSeconds: table({ base: 0, perSequence: 4e-4 }, maxSequences),
    overheadSeconds: table({ base: 0.002, perSequence: 5e-5 }, maxSequences),
    cacheSecondsPerToken: 1.2e-7,
    prefillBaseSeconds: 0.006,
    prefillMemorySeconds: 0.012,
    prefillSecondsPerToken: 9e-5,
    prefillSecondsPerTokenSquared: 2e-10,
    maxPrefillTokens: 8192,
    maxSequences,
    cacheTokens,
    requestTokens: cacheTokens,
    ...parts,
  }
}

export function batchProfile(parts: Partial<BatchProfile> = {}): BatchProfile {
  return { kind: 'batch', source: 'given', baseSeconds: 0.05, secondsPerWorkUnit: 0.01, maxBatch: 4, windowSeconds: 0, ...parts }
}

/** Rules of a fleet of `replicas`, ready from the start, parts replaced. */
export function rules(replicas: number, parts: Partial<ServiceRules> & Pick<ServiceRules, 'profile'>): ServiceRules {
  return {
    routing: 'least-busy',
    queueLimit: Infinity,
    patienceSeconds: [Infinity, Infinity],
    readyAtSeconds: readyTogether(replicas, 0),
    horizonSeconds: 1e6,
    ...parts,
  }
}
