import { slowness, type Profile, type TokenProfile } from '../service/profile.ts'
import type { Demand } from './demanded.ts'

/**
 * Seconds of replica time that the demand needs at the very least, however well it is packed (docs/model.md, 12).
 */
export function leastBusySeconds(demand: Demand, profile: Profile): number {
  // Any number of requests are served at once, as quickly as they are drawn.
  if (profile.kind === 'sold') return 0
  if (profile.kind === 'shared') {
    const own = profile.baseSeconds * demand.requests + profile.secondsPerWorkUnit * demand.work
    return own * leastShare(profile.slots, (n) => slowness(profile, n))
  }
  if (profile.kind === 'batch') {
    const { maxBatch, baseSeconds, secondsPerWorkUnit } = profile
    return leastShare(maxBatch, (b) => baseSeconds[b]) * demand.items + leastShare(maxBatch, (b) => secondsPerWorkUnit[b]) * demand.work
  }
  return leastTokenSeconds(demand, profile)
}

function leastTokenSeconds(demand: Demand, profile: TokenProfile): number {
  const steps = demand.decodeTokens / profile.tokensPerStep
  const read = leastShare(profile.maxSequences, (n) => profile.memorySeconds[n] + profile.overheadSeconds[n])
  const reckon = leastShare(profile.maxSequences, (n) => profile.arithmeticSeconds[n] + profile.overheadSeconds[n])
  // With several tokens a step fewer reads are needed than a token a step would; their sum is not bounded then.
  const reads = profile.tokensPerStep === 1 ? profile.cacheSecondsPerToken * demand.cachedReads : 0
  const prompt = profile.prefillSecondsPerToken * demand.prompt
  const exchange = profile.prefillExchangeSecondsPerToken * demand.prompt
  const squares = profile.prefillSecondsPerTokenSquared * demand.promptSquared
  // Beside decoding a prompt's arithmetic may hide behind the reading of memory; in a step of its own it can not.
  if (profile.prompts === 'interleaved') return squares + exchange + Math.max(read * steps + reads, reckon * steps + prompt)
  return squares + exchange + prompt + Math.max(read * steps + reads, reckon * steps)
}

/** The smallest share of a step that one of n can bear: min over n = 1…most of cost(n)/n. */
function leastShare(most: number, cost: (n: number) => number): number {
  let least = Infinity
  for (let n = 1; n <= most; n++) least = Math.min(least, cost(n) / n)
  return least
}
