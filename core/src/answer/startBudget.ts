import { costPerHour, type Candidate } from '../candidate/candidate.ts'
import { startRulesOf } from '../scaling/ofPlan.ts'
import { backSeconds, imageBytes, stageSeconds, type StartRules } from '../life/startRules.ts'
import { Reads } from '../life/reads.ts'
import type { Service } from '../plan/schema.ts'
import { waysOf, WEIGHTS_FROM } from '../plan/ways.ts'

/**
 * Where a start begins: from nothing, on a machine that was stopped and kept its disk, on one that is there and empty, or
 * where an earlier start left its image and weights, or in a copy that runs and whose model was unloaded.
 */
export const STARTS = {
  nothing: 'nothing',
  stopped: 'a stopped machine',
  empty: 'a machine that is there',
  before: 'where one was before',
  unloaded: 'an unloaded copy',
} as const
export type StartFrom = keyof typeof STARTS
/** The last is told where a service unloads its model; it is the same wherever weights come from. */
const ALWAYS: readonly StartFrom[] = ['nothing', 'stopped', 'empty', 'before']
export const STAGE_ORDER = ['machine', 'image', 'weights', 'load', 'warmup'] as const
export type StageName = (typeof STAGE_ORDER)[number]

/** One start-up laid out in time. */
export interface StartLine {
  weightsFrom: StartRules['weightsFrom']
  from: StartFrom
  /** starts at once; the line is that of the last one to be ready */
  copies: number
  stages: { stage: StageName; fromSeconds: number; seconds: number }[]
  readySeconds: number
  /** the stage that takes longest */
  dominant: StageName
  /** when it would be given up; null when it is in time, or never */
  timedOutAt: number | null
  /** bytes that all copies fetch from the source */
  fetchedBytes: number
  /** money for the machines of all copies until they are ready */
  paid: number
}

/**
 * The start-up budget of a configuration: for every way of keeping weights and every place to begin, the stages of so
 * many simultaneous starts. Weights are read from the source that they share; every copy has a machine of its own.
 */
export function startBudget(service: Service, candidate: Candidate, copies: number): StartLine[] {
  const rules = startRulesOf(service, candidate.model, candidate.variant, candidate.machine)
  const ways = waysOf(WEIGHTS_FROM)
  const perHour = costPerHour(candidate, 1) / candidate.group.replicas
  const unloads = service.nodes?.whenIdle === 'unload' || rules.backSeconds !== undefined
  return ways.flatMap((weightsFrom) =>
    [...ALWAYS, ...(unloads && weightsFrom === rules.weightsFrom ? (['unloaded'] as const) : [])].map((from) =>
      startLine({ ...rules, weightsFrom }, from, copies, perHour),
    ),
  )
}

export function startLine(rules: StartRules, from: StartFrom, copies: number, perHour: number): StartLine {
  const before = from === 'before' || from === 'stopped'
  const own = from === 'unloaded' ? { machine: 0, image: 0, weights: 0, ...backSeconds(rules) } : stageSeconds(rules, !before)
  const fetches = own.weights > 0
  const weights = fetches ? lastOf(rules.weightBytes, rules.weightBytesPerSecond, rules.weightTotalBytesPerSecond, copies) : 0
  const image = own.image > 0 ? lastOf(imageBytes(rules), rules.imageBytesPerSecond, rules.imageTotalBytesPerSecond, copies) : 0
  const lengths: Record<StageName, number> = {
    machine: from === 'nothing' ? rules.nodeSeconds : from === 'stopped' ? rules.resumeSeconds : 0,
    image,
    weights,
    load: own.load,
    warmup: own.warmup,
  }
  let at = 0
  const stages = STAGE_ORDER.map((stage) => {
    const out = { stage, fromSeconds: at, seconds: lengths[stage] }
    at += lengths[stage]
    return out
  })
  const dominant = stages.reduce((a, b) => (b.seconds > a.seconds ? b : a)).stage
  const counted = at - lengths.machine
  return {
    weightsFrom: rules.weightsFrom,
    from,
    copies,
    stages,
    readySeconds: at,
    dominant,
    timedOutAt: counted > rules.timeoutSeconds ? lengths.machine + rules.timeoutSeconds : null,
    fetchedBytes: copies * ((fetches ? rules.weightBytes : 0) + (own.image > 0 ? imageBytes(rules) : 0)),
    paid: (copies * perHour * at) / 3600,
  }
}

/** Seconds until the last of so many equal readers has its bytes. */
function lastOf(bytes: number, each: number, total: number, readers: number): number {
  const source = { eachBytesPerSecond: each, totalBytesPerSecond: total }
  const reads = new Reads({ image: source, weights: source }, Infinity)
  for (let i = 0; i < readers; i++) reads.join('weights', i, i, bytes, 0)
  let last = 0
  for (let i = 0; i < readers; i++) {
    last = reads.nextEnd()
    reads.takeDone(last)
  }
  return last
}
