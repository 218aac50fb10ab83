import type { CpuModel, Machine, OperationsModel, TokenModel } from '../plan/schema.ts'
import { activeParameters, parametersTouched } from './experts.ts'
import { withDraft, type ReplicaLimits } from './given.ts'
import { cachePerToken } from './memory.ts'
import type { BatchProfile, SharedProfile, TokenProfile } from './profile.ts'
import { communicationSeconds, devicesOfLayer, inWork, workingShare, type Rates } from './rates.ts'
import type { Bits } from './variant.ts'

const overN = (most: number, f: (n: number) => number) => Float64Array.from({ length: most + 1 }, (_, n) => f(n))

/**
 * Step costs of a token model from its shape and the machine's rates (docs/model.md, 3).
 *
 * M[n] = touched(n)·w / (D·BW·η_m); m1 = cache per token / (D·BW·η_m); C[n] = 2·A·n / (D·F·η_c); P1 = 2·A / (D·F·η_c);
 * P2 = 2·L·H / (D·F·η_c); Pm = weights / (D·BW·η_m); P0 = launch + exchange(0); Px = exchange of a token beyond that;
 * O[n] = launch + exchange(n). A prompt of many tokens hits every expert, so that a prefill step reads all weights. Where
 * hosts hold whole layers, one host works on a layer at a time, on one of as many groups as there are hosts.
 */
export function deriveTokens(model: TokenModel, bits: Bits, rates: Rates, limits: ReplicaLimits): TokenProfile {
  const { launchSeconds } = rates
  const most = limits.sequences
  const bytesPerSecond = rates.bytesPerSecond * workingShare(rates)
  const operationsPerSecond = rates.operationsPerSecond * workingShare(rates)
  const perToken = (2 * activeParameters(model)) / operationsPerSecond
  const { draft, ...batching } = limits.batching
  const exchange = (tokens: number) => communicationSeconds(model.layers, model.width, rates, tokens)
  const read = (p: number) => (p * bits.bytesPerWeight) / bytesPerSecond
  // Beside decoding, prompt tokens hit experts as well: up to a whole budget of them.
  const mixed =
    model.kind === 'experts' && batching.prompts === 'interleaved'
      ? { mixedMemorySeconds: parametersTouched(model, most + batching.stepTokens).map(read) }
      : {}
  return {
    kind: 'token',
    source: 'derived',
    memorySeconds: parametersTouched(model, most).map(read),
    ...mixed,
    ...withDraft(
      overN(most, (n) => perToken * inWork(n, rates)),
      overN(most, (n) => launchSeconds + exchange(inWork(n, rates))),
      draft,
    ),
    cacheSecondsPerToken: cachePerToken(model, bits.bytesPerCacheElement, devicesOfLayer(rates, rates.split)) / rates.bytesPerSecond,
    prefillBaseSeconds: launchSeconds + exchange(0),
    prefillMemorySeconds: read(model.parameters),
    prefillExchangeSecondsPerToken: exchange(1) - exchange(0),
    prefillSecondsPerToken: perToken,
    prefillSecondsPerTokenSquared: (2 * model.layers * model.width) / operationsPerSecond,
    maxSequences: most,
    cacheTokens: limits.cacheTokens,
    ...batching,
    requestTokens: Math.min(limits.cacheTokens, limits.contextTokens),
  }
}

/**
 * Costs of whole batches of a model that is stated by its operations. A batch of b items costs
 * launch + max(one read of the weights, b·fixed/F) and, for each work unit, b·operations/F; an iterative model reads its
 * weights in every step: launch + max(read, b·step/F). F is the rate of all devices, efficiency included. That a pass
 * over a batch may hide its reading behind the arithmetic of its units as well is not credited.
 */
export function deriveBatches(model: OperationsModel, bits: Bits, rates: Rates, limits: ReplicaLimits): BatchProfile {
  const { operationsPerSecond, launchSeconds } = rates
  const read = (model.parameters * bits.bytesPerWeight) / rates.bytesPerSecond
  const reckon = (operations: number, b: number) => (b * operations) / operationsPerSecond
  const each =
    model.kind === 'work'
      ? (b: number) => reckon(model.operationsPerUnit, b)
      : (b: number) => launchSeconds + Math.max(read, reckon(model.operationsPerStep, b))
  return {
    kind: 'batch',
    source: 'derived',
    baseSeconds: overN(limits.sequences, (b) => launchSeconds + Math.max(read, reckon(model.fixedOperations, b))),
    secondsPerWorkUnit: overN(limits.sequences, each),
    maxBatch: limits.sequences,
    windowSeconds: limits.windowSeconds,
  }
}

/** A plain CPU model: its seconds on cores of speed 1, on cores of the machine's speed. */
export function deriveOnCores(model: CpuModel, machine: Machine, limits: ReplicaLimits): SharedProfile {
  const speed = machine.coreSpeed ?? 1
  return {
    kind: 'shared',
    source: 'derived',
    slots: limits.sequences,
    slowdown: model.slowdown ?? 0,
    baseSeconds: model.baseSeconds / speed,
    secondsPerWorkUnit: model.secondsPerUnit / speed,
  }
}
