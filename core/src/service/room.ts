import type { MemorySplit } from './memory.ts'

/**
 * Cache tokens of a replica if another share of the memory were given to the server and another reserve kept: the lever
 * with two sides (too high crashes, too low starves).
 *
 * @param memory of `devices` devices; one with a cache
 * @returns whole tokens, 0 when the weights do not leave room
 */
export function cacheTokensWith(memory: MemorySplit, devices: number, share: number, reserveBytesPerDevice: number): number {
  const room = memory.totalBytes * share - memory.weightBytes - memory.activationBytes - devices * reserveBytesPerDevice
  return memory.cacheBytesPerToken > 0 ? Math.max(0, Math.floor(room / memory.cacheBytesPerToken)) : 0
}

/** Sequences of so many tokens each that fit side by side. */
export function sequencesIn(cacheTokens: number, tokensEach: number): number {
  return Math.floor(cacheTokens / Math.max(1, tokensEach))
}
