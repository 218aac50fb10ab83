import { Stage, type LifeRecord } from '../life/startRules.ts'

/** A stretch of time that a replica spent in one stage. */
export interface StageSpan {
  replica: number
  /** code of `Stage` */
  stage: number
  from: number
  until: number
}

/** A number that holds from a time on. */
export interface StepSeries {
  seconds: number[]
  values: number[]
}

/** How a fleet came and went, for pictures: spans of each replica, and what was wanted, ready and paid. */
export interface FleetPicture {
  replicas: number
  spans: StageSpan[]
  wanted: StepSeries
  ready: StepSeries
  /** waiting for room: asked for, and nowhere to put them */
  unplaced: StepSeries
  machines: StepSeries
}

export function fleetPicture(life: LifeRecord, endSeconds: number): FleetPicture {
  const spans: StageSpan[] = []
  const open = new Map<number, { stage: number; from: number }>()
  const counts = { ready: new Counter(), unplaced: new Counter() }
  for (const { replica, stage, seconds } of life.events) {
    const before = open.get(replica)
    if (before && before.stage !== Stage.none) {
      if (seconds > before.from) spans.push({ replica, stage: before.stage, from: before.from, until: seconds })
      counts.ready.add(seconds, before.stage === Stage.ready ? -1 : 0)
      counts.unplaced.add(seconds, before.stage === Stage.unplaced ? -1 : 0)
    }
    open.set(replica, { stage, from: seconds })
    counts.ready.add(seconds, stage === Stage.ready ? 1 : 0)
    counts.unplaced.add(seconds, stage === Stage.unplaced ? 1 : 0)
  }
  for (const [replica, { stage, from }] of open)
    if (stage !== Stage.none && from < endSeconds) spans.push({ replica, stage, from, until: endSeconds })
  const machines = new Counter()
  const changes = life.nodes
    .flatMap(({ from, until }) => [
      { at: from, by: 1 },
      { at: until, by: -1 },
    ])
    .sort((a, b) => a.at - b.at)
  for (const { at, by } of changes) if (at < endSeconds) machines.add(at, by)
  return {
    replicas: 1 + spans.reduce((most, s) => Math.max(most, s.replica), -1),
    spans,
    ready: counts.ready.series,
    unplaced: counts.unplaced.series,
    machines: machines.series,
    wanted: { seconds: life.wanted.map((w) => w.seconds), values: life.wanted.map((w) => w.replicas) },
  }
}

/** Replica-seconds within [from, until) in which replicas serve: ready, or finishing what they have. */
export function servingSeconds(life: LifeRecord, from: number, until: number, endSeconds: number): number {
  const since = new Map<number, number>()
  let total = 0
  const count = (start: number, stop: number) => (total += Math.max(0, Math.min(until, stop) - Math.max(from, start)))
  for (const { replica, stage, seconds } of life.events) {
    if (stage === Stage.ready) since.set(replica, seconds)
    else if (stage === Stage.none && since.has(replica)) {
      count(since.get(replica) ?? seconds, seconds)
      since.delete(replica)
    }
  }
  for (const start of since.values()) count(start, endSeconds)
  return total
}

/** Seconds within [from, until) for which nodes are there, summed over them. */
export function nodeSecondsBetween({ nodes }: LifeRecord, from: number, until: number): number {
  return nodes.reduce((sum, n) => sum + Math.max(0, Math.min(until, n.until) - Math.max(from, n.from)), 0)
}

class Counter {
  readonly series: StepSeries = { seconds: [0], values: [0] }

  add(seconds: number, by: number): void {
    if (by === 0) return
    const { seconds: times, values } = this.series
    const last = values[values.length - 1] + by
    if (times[times.length - 1] === seconds) values[values.length - 1] = last
    else {
      times.push(seconds)
      values.push(last)
    }
  }
}

/** The least and the most of what was read in each of so many equal pieces of a time; NaN where nothing was. */
export function extremes(
  { seconds, values }: StepSeries,
  from: number,
  until: number,
  pieces: number,
): { low: Float32Array; high: Float32Array } {
  const low = new Float32Array(pieces).fill(NaN)
  const high = new Float32Array(pieces).fill(NaN)
  for (let i = 0; i < seconds.length; i++) {
    const piece = Math.floor(((seconds[i] - from) / (until - from)) * pieces)
    if (piece < 0 || piece >= pieces) continue
    if (!(low[piece] <= values[i])) low[piece] = values[i]
    if (!(high[piece] >= values[i])) high[piece] = values[i]
  }
  return { low, high }
}

/** The value of a series at a time; 0 before it begins. */
export function valueAt({ seconds, values }: StepSeries, at: number): number {
  let low = 0
  let high = seconds.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (seconds[middle] <= at) low = middle + 1
    else high = middle
  }
  return low === 0 ? 0 : values[low - 1]
}
