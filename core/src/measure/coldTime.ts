import { Stage, type LifeRecord } from '../life/startRules.ts'
import { firstNotBelow } from '../units/ascending.ts'

/** What stands between a caller and a replica that is ready, in the order of a start-up; the last where it has no stages. */
export const COLD_STAGES = ['waiting for room', 'machine', 'image', 'weights', 'load', 'warm-up', 'start-up'] as const
export type ColdStage = (typeof COLD_STAGES)[number]

const OF_STAGE: Record<number, number> = {
  [Stage.unplaced]: 0,
  [Stage.machine]: 1,
  [Stage.image]: 2,
  [Stage.weights]: 3,
  [Stage.load]: 4,
  [Stage.warmup]: 5,
}
const NOT_COLD = -1

/**
 * When who waits does so for a start-up, and for which stage of it: no replica is ready (of instances that calls bring, one is on its way),
 * and the stage is that of the replica which is furthest on its way; with none on its way it is the wait for room.
 */
export class ColdTime {
  private readonly from: number[] = [0]
  private readonly stage: number[]
  /** seconds of each stage before each place of `from` */
  private readonly before: Float64Array[]

  private constructor(from: number[], stage: number[]) {
    this.from = from
    this.stage = stage
    this.before = COLD_STAGES.map((_, s) => {
      const sum = new Float64Array(from.length)
      for (let i = 1; i < from.length; i++) sum[i] = sum[i - 1] + (stage[i - 1] === s ? from[i] - from[i - 1] : 0)
      return sum
    })
  }

  /** Of replicas that are all ready from one moment on. */
  static readyFrom(seconds: number): ColdTime {
    return seconds > 0 ? new ColdTime([0, seconds], [COLD_STAGES.length - 1, NOT_COLD]) : new ColdTime([0], [NOT_COLD])
  }

  /** @param byCall instances come for single callers: who waits while one is on its way waits for it */
  static of({ events }: Pick<LifeRecord, 'events'>, byCall: boolean): ColdTime {
    const replicas = new Map<number, number>()
    const from = [0]
    const stage = [0]
    const tell = (seconds: number, code: number) => {
      const last = from.length - 1
      if (stage[last] === code) return
      if (from[last] === seconds) stage[last] = code
      else {
        from.push(seconds)
        stage.push(code)
      }
    }
    for (let i = 0; i < events.length; i++) {
      const { replica, stage: its, seconds } = events[i]
      if (its === Stage.none || its === Stage.draining) replicas.delete(replica)
      else replicas.set(replica, its)
      if (i + 1 < events.length && events[i + 1].seconds === seconds) continue
      tell(seconds, coldCode(replicas, byCall))
    }
    return new ColdTime(from, stage)
  }

  /** Adds the seconds between two times to those of each stage. @returns all of them */
  add(fromSeconds: number, untilSeconds: number, byStage: Float64Array): number {
    let all = 0
    for (let s = 0; s < COLD_STAGES.length; s++) {
      const seconds = this.until(s, untilSeconds) - this.until(s, fromSeconds)
      byStage[s] += seconds
      all += seconds
    }
    return all
  }

  /** Whether who calls at a moment finds no replica ready. */
  isCold(seconds: number): boolean {
    const i = firstNotBelow(this.from, seconds)
    return this.stage[this.from[i] === seconds ? i : i - 1] !== NOT_COLD
  }

  private until(stage: number, seconds: number): number {
    const i = Math.max(0, firstNotBelow(this.from, seconds) - 1)
    return this.before[stage][i] + (this.stage[i] === stage ? seconds - this.from[i] : 0)
  }
}

function coldCode(replicas: ReadonlyMap<number, number>, byCall: boolean): number {
  let furthest = NOT_COLD
  let ready = false
  for (const stage of replicas.values()) {
    if (stage === Stage.ready) ready = true
    else furthest = Math.max(furthest, OF_STAGE[stage] ?? 0)
  }
  if (byCall) return furthest
  return ready ? NOT_COLD : Math.max(0, furthest)
}
