import { table } from '../src/service/given.ts'
import type { BatchProfile, SharedProfile, SoldProfile, TokenProfile } from '../src/service/profile.ts'
import type { ClassRules, ServiceRules } from '../src/engine/rules.ts'
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
    prefillExchangeSecondsPerToken: 0,
    prefillSecondsPerTokenSquared: 2e-10,
    maxPrefillTokens: 8192,
    maxSequences,
    cacheTokens,
    requestTokens: cacheTokens,
    prompts: 'whole',
    stepTokens: 2048,
    reservation: 'whole',
    tokensPerStep: 1,
    scheduledPerSequence: 1,
    ...parts,
  }
}

interface BatchParts extends Partial<Omit<BatchProfile, 'baseSeconds' | 'secondsPerWorkUnit'>> {
  baseSeconds?: number
  secondsPerWorkUnit?: number
}

/** A batch profile of B0 + B1·b·w, parts of it replaced. */
export function batchProfile({ baseSeconds = 0.05, secondsPerWorkUnit = 0.01, maxBatch = 4, ...parts }: BatchParts = {}): BatchProfile {
  return {
    kind: 'batch',
    source: 'given',
    maxBatch,
    windowSeconds: 0,
    baseSeconds: table(baseSeconds, maxBatch),
    secondsPerWorkUnit: table({ base: 0, perSequence: secondsPerWorkUnit }, maxBatch),
    ...parts,
  }
}

export function sharedProfile(parts: Partial<SharedProfile> = {}): SharedProfile {
  return { kind: 'shared', source: 'given', baseSeconds: 0.05, secondsPerWorkUnit: 0.01, slowdown: 0.3, slots: 4, ...parts }
}

/** Something sold by tokens whose times are drawn, parts replaced. */
export function soldProfile(parts: Partial<SoldProfile> = {}): SoldProfile {
  return {
    kind: 'sold',
    source: 'given',
    firstToken: { median: 0.3, p95: 0.9 },
    secondsPerInputToken: 1e-4,
    eachToken: { median: 0.01, p95: 0.02 },
    requestTokens: 1e6,
    slots: 100_000,
    ...parts,
  }
}

/** Rules of a class without anything particular, parts replaced. */
export function classRules(parts: Partial<ClassRules> = {}): ClassRules {
  return { priority: 0, patienceSeconds: Infinity, cachedShare: 0, ...parts }
}

type RuleParts = Partial<ServiceRules> & Pick<ServiceRules, 'profile'> & { patienceSeconds?: readonly number[] }

/** Rules of a fleet of `replicas`, ready from the start, parts replaced; patience may be given by class. */
export function rules(replicas: number, { patienceSeconds = [Infinity, Infinity], ...parts }: RuleParts): ServiceRules {
  return {
    routing: 'least-busy',
    seed: 1,
    queueLimit: Infinity,
    classes: patienceSeconds.map((p) => classRules({ patienceSeconds: p })),
    readyAtSeconds: readyTogether(replicas, 0),
    horizonSeconds: 1e6,
    ...parts,
  }
}
