import type { WeightsFrom } from '../plan/ways.ts'
import type { Cause, WishCause } from './cause.ts'

/** What stands between the wish for a replica and its first request. Seconds and bytes. */
export interface StartRules {
  /** until a new node is ready; the median where it spreads */
  nodeSeconds: number
  /** standard deviation of the logarithm of that; 0 for a fixed time */
  nodeSpread: number
  /** chance that an attempt to get a node succeeds, in (0, 1]; another is made so long after one that did not */
  availability: number
  retrySeconds: number
  /** until a stopped node, which kept its disk, is there again */
  resumeSeconds: number
  imageBytes: number
  /** of one machine, and of all together (Infinity when they do not slow each other) */
  imageBytesPerSecond: number
  imageTotalBytesPerSecond: number
  weightBytes: number
  /** object store or shared volume: fetched at each start; in the image: part of it; node: fetched once, kept there */
  weightsFrom: WeightsFrom
  /** of one reader, and of all together (Infinity when they do not slow each other) */
  weightBytesPerSecond: number
  weightTotalBytesPerSecond: number
  /**
   * of one machine: what is read on it at once divides it; Infinity where it slows nobody. One read alone is bounded by it in the rates
   * above
   */
  networkBytesPerSecond: number
  loadBytesPerSecond: number
  warmupSeconds: number
  /** what the first start on a machine does beside that, and leaves there */
  keptWarmupSeconds: number
  /** until a copy whose model was unloaded serves again; its load, and what is not kept of its warm-up, if left out */
  backSeconds?: number
  /** a start-up that is not ready so long after its node was is given up and begun anew; Infinity for never */
  timeoutSeconds: number
}

/** The machines beneath. */
export interface NodeRules {
  /** replicas that a node has room for */
  replicasPerNode: number
  mostNodes: number
  /** a node without replicas is given back after so long, or stopped */
  idleSeconds: number
  stops: boolean
  /** a node without replicas still has the copy that ran on it, its model unloaded */
  unloads?: boolean
  /** so many nodes are bought so that they are not taken away: whichever is ordered while fewer are there; Infinity for all */
  safeNodes: number
  /** what a replica may take at the most to finish what it has, once it drains */
  graceSeconds: number
}

/** What is taken away, and when. */
export interface LossRules {
  /** mean time until a ready replica is lost, and until a node is; Infinity for never */
  replicaMeanSeconds: number
  nodeMeanSeconds: number
  /** nodes are told so long before */
  noticeSeconds: number
  /** the same of those that are not safe: taken away by whoever sold them, beside being lost */
  spotMeanSeconds: number
  spotNoticeSeconds: number
  drills: readonly { seconds: number; what: 'replica' | 'node'; number: number }[]
}

/** What a fleet has at the start: see docs/model.md, 9. */
export type Begin = 'running' | 'nothing' | 'stopped' | 'unloaded'

/** Stages of a start-up in their order, with their names. */
export const STAGES = ['none', 'waiting for room', 'machine', 'image', 'weights', 'load', 'warm-up', 'ready', 'draining'] as const
export const Stage = { none: 0, unplaced: 1, machine: 2, image: 3, weights: 4, load: 5, warmup: 6, ready: 7, draining: 8 } as const
export type StageCode = (typeof Stage)[keyof typeof Stage]

/** One transition of a replica or a node. */
export interface LifeEvent {
  seconds: number
  /** −1 when it is about a node only */
  replica: number
  node: number
  stage: StageCode
  cause: Cause
}

/** Everything that happened to a fleet. */
export interface LifeRecord {
  events: LifeEvent[]
  /** paid time of each node, in order of number: until is the end of the run for those that are still there */
  nodes: { from: number; until: number; spot: boolean }[]
  /** disks of stopped nodes, the same way */
  stopped: { from: number; until: number }[]
  /**
   * what starts fetched, images and weights, and when they began to; the starts with which a fleet begins are not counted, they come once
   */
  fetched: { seconds: number; bytes: number }[]
  /** what was wanted, from each time on */
  wanted: { seconds: number; replicas: number; cause: WishCause }[]
  /** what the scaler's first metric read, per ready replica, at each reading */
  readings: { seconds: number[]; values: number[] }
}

/** Bytes of an image, with the weights where they are part of it. */
export function imageBytes(rules: StartRules): number {
  return rules.imageBytes + (rules.weightsFrom === 'image' ? rules.weightBytes : 0)
}

/**
 * Whether weights are fetched by a start on a machine: not where they are in the image, nor where an earlier start left them to be kept.
 */
export function fetchesWeights({ weightsFrom }: StartRules, leftThere: boolean): boolean {
  return weightsFrom === 'store' || (weightsFrom === 'node' && !leftThere)
}

/** Seconds until a copy that runs, whose model was unloaded, serves again. */
export function backSeconds(rules: StartRules): { load: number; warmup: number } {
  if (rules.backSeconds !== undefined) return { load: rules.backSeconds, warmup: 0 }
  return { load: rules.weightBytes / rules.loadBytesPerSecond, warmup: warmupSecondsOf(rules, true) }
}

/** Seconds of a warm-up: what is kept of it is not done again where somebody has warmed up before. */
export function warmupSecondsOf({ warmupSeconds, keptWarmupSeconds }: StartRules, isWarm: boolean): number {
  return warmupSeconds + (isWarm ? 0 : keptWarmupSeconds)
}

/** Seconds of every stage of a start-up by itself, on a node that has nothing (`fresh`) or what an earlier start left there. */
export function stageSeconds(
  rules: StartRules,
  fresh: boolean,
  readers = 1,
): { machine: number; image: number; weights: number; load: number; warmup: number } {
  const fetched = fetchesWeights(rules, !fresh) ? rules.weightBytes : 0
  return {
    machine: fresh ? rules.nodeSeconds : 0,
    image: fresh ? imageBytes(rules) / Math.min(rules.imageBytesPerSecond, rules.imageTotalBytesPerSecond / readers) : 0,
    weights: fetched / Math.min(rules.weightBytesPerSecond, rules.weightTotalBytesPerSecond / readers),
    load: rules.weightBytes / rules.loadBytesPerSecond,
    warmup: warmupSecondsOf(rules, !fresh),
  }
}

/** Whether a start-up is given up each time, also with the image that the first one left on its machine. */
export function neverReady(rules: StartRules): boolean {
  const { weights, load, warmup } = stageSeconds(rules, true)
  return weights + load + warmup > rules.timeoutSeconds
}

/**
 * Seconds from when a machine is there until a start-up on it is ready, by itself and with nothing left there: what a time-out has to
 * exceed.
 */
export function neededTimeout(rules: StartRules): number {
  const { image, weights, load, warmup } = stageSeconds(rules, true)
  return image + weights + load + warmup
}
