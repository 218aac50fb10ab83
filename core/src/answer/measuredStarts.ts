import type { Candidate } from '../candidate/candidate.ts'
import type { LoggedStart } from '../files/startLog.ts'
import { stageSeconds } from '../life/startRules.ts'
import { percentileInterval, valuesNeeded, type MeasuredPercentile } from '../measure/orderStatistics.ts'
import type { Start } from '../plan/schema.ts'
import { startRulesOf } from '../scaling/ofPlan.ts'
import { duration } from '../units/duration.ts'
import { sum } from '../units/sum.ts'
import { STAGE_ORDER, type StageName } from './startBudget.ts'

/** What starts that were timed say of one stage. Seconds. */
export interface MeasuredStage {
  stage: StageName
  starts: number
  /** half of them took no longer; with where the true one lies, where there are enough */
  median: MeasuredPercentile
  /** of 95 of 100; undefined where there are too few for it */
  p95: number | undefined
}

const stageOf = (stage: LoggedStart['stage']): StageName => (stage === 'warm-up' ? 'warmup' : stage)
const TAIL = 0.95
/** Of fewer starts, 95 of 100 are all of them. */
const TAIL_STARTS = 20
const MEDIAN = 0.5

/** Stages in their order, of those that were timed. A stage that comes twice in a start, such as two images, is one of their sum. */
export function measuredStages(rows: readonly LoggedStart[]): MeasuredStage[] {
  return STAGE_ORDER.flatMap((stage) => {
    const byStart = new Map<string, number>()
    for (const r of rows) if (stageOf(r.stage) === stage) byStart.set(r.start, (byStart.get(r.start) ?? 0) + r.seconds)
    const seconds = Float64Array.from(byStart.values()).sort()
    const median = percentileInterval(seconds, MEDIAN)
    if (!median) return []
    const p95 = seconds.length >= TAIL_STARTS ? percentileInterval(seconds, TAIL)?.value : undefined
    return [{ stage, starts: seconds.length, median, p95 }]
  })
}

/** Starts that a median wants for its interval. */
export const STARTS_NEEDED = valuesNeeded(MEDIAN)

/** What is rounded to so many digits is as exact as anybody times a start. */
const DIGITS = 4

/**
 * The same start-up with one stage of this length: what it takes its time for, a size, stays; the rate that makes it so long is set.
 *
 * @param weightBytes of one replica
 * @param copies that read weights at once; of several the rate of all together is set
 */
export function withStage(start: Start, stage: StageName, seconds: number, weightBytes: number, copies = 1): Start {
  const rate = (bytes: number) => Number((bytes / Math.max(1e-3, seconds)).toPrecision(DIGITS))
  const fetched = start.imageBytes + (start.weights.from === 'image' ? weightBytes : 0)
  const { weights, imageTotalBytesPerSecond: imageTotal } = start
  switch (stage) {
    case 'machine':
      return { ...start, machineSeconds: seconds }
    case 'image':
      if (fetched === 0) return start
      return {
        ...start,
        imageBytesPerSecond: rate(fetched),
        ...(imageTotal !== undefined && { imageTotalBytesPerSecond: Math.max(imageTotal, rate(fetched)) }),
      }
    case 'weights':
      if (weightBytes === 0) return start
      return {
        ...start,
        weights: copies === 1 ? readBy(weights, rate(weightBytes)) : { ...weights, totalBytesPerSecond: rate(copies * weightBytes) },
      }
    case 'load':
      return weightBytes > 0 ? { ...start, loadBytesPerSecond: rate(weightBytes) } : start
    case 'warmup':
      // What is kept of it is typed; a start on a fresh machine has both.
      return { ...start, warmupSeconds: Math.max(0, seconds - (start.keptWarmupSeconds ?? 0)) }
  }
}

/** Read by one at a rate, which all together reach as well. */
const readBy = (weights: Start['weights'], bytesPerSecond: number): Start['weights'] => ({
  ...weights,
  bytesPerSecond,
  ...(weights.totalBytesPerSecond !== undefined && { totalBytesPerSecond: Math.max(weights.totalBytesPerSecond, bytesPerSecond) }),
})

/** The same start-up as it was timed: each stage as long as half of the starts took, machines with their spread. */
export function withMeasuredStarts(start: Start, stages: readonly MeasuredStage[], weightBytes: number): Start {
  const timed = stages.reduce((s, { stage, median }) => withStage(s, stage, median.value, weightBytes), start)
  const machine = stages.find((s) => s.stage === 'machine')
  if (!machine) return timed
  const { machineP95Seconds: _, ...fixed } = timed
  return machine.p95 !== undefined && machine.p95 > machine.median.value ? { ...fixed, machineP95Seconds: machine.p95 } : fixed
}

const NAMES: Record<StageName, string> = { machine: 'machine', image: 'image', weights: 'weights', load: 'load', warmup: 'warm-up' }

/** Stages as they were timed beside those of the plan at a place, and all of them together. */
export function measuredStartsTable(stages: readonly MeasuredStage[], candidate: Candidate): { header: string[]; rows: string[][] } {
  const planned = plannedSeconds(candidate)
  const between = ({ low, high }: MeasuredPercentile) =>
    low === undefined || high === undefined ? `from ${STARTS_NEEDED} starts on` : `${duration(low)} to ${duration(high)}`
  return {
    header: ['stage', 'starts', 'half of them', 'the true one, with 95 %', '95 of 100', 'in the plan'],
    rows: [
      ...stages.map(({ stage, starts, median, p95 }) => [
        NAMES[stage],
        String(starts),
        duration(median.value),
        between(median),
        p95 === undefined ? `from ${TAIL_STARTS} starts on` : duration(p95),
        planned ? duration(planned[stage]) : '',
      ]),
      ['together', '', duration(sum(stages, (s) => s.median.value)), '', '', planned ? duration(sum(stages, (s) => planned[s.stage])) : ''],
    ],
  }
}

/** What the plan has for them, on a machine where nothing is left. */
function plannedSeconds({ service, model, variant, machine }: Candidate): Record<StageName, number> | undefined {
  return service.start && stageSeconds(startRulesOf(service, model, variant, machine), true)
}

/** What is not as the log says after it is taken in: sentences. */
export function measuredStartRemarks(stages: readonly MeasuredStage[], { machine, service }: Candidate): string[] {
  const has = (stage: StageName) => stages.some((s) => s.stage === stage)
  return [
    ...(has('machine') && machine.provisioningSeconds !== undefined
      ? [`${machine.name} states itself how long it takes until it is there, which comes before what was timed.`]
      : []),
    ...(has('weights') && service.start?.weights.from === 'image'
      ? ['Weights are part of the image in this plan: their own stage counts where they are fetched.']
      : []),
  ]
}
