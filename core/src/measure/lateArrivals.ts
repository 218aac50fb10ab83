import type { RunRecord } from '../engine/record.ts'
import { firstNotBelow } from '../units/ascending.ts'
import { promised, type TargetPromise } from './targets.ts'

/** Counts the requests that came in a stretch of time, after the warm-up, and broke a promise of time, or were lost. */
export class LateArrivals {
  private readonly at: Float64Array

  constructor(record: RunRecord, placed: readonly (TargetPromise & { classIndex: number })[], fromSeconds = 0) {
    const late: number[] = []
    for (let i = 0; i < record.requests.count; i++) {
      const broken = placed.some(({ classIndex, target, overdueSeconds }) => {
        if (target.measure === 'lost' || target.measure === 'throughput' || record.requests.classIndex[i] !== classIndex) return false
        return promised(record, i, { target, overdueSeconds }, target.seconds) > target.seconds
      })
      if (broken && record.at[i] >= fromSeconds) late.push(record.at[i])
    }
    this.at = Float64Array.from(late).sort()
  }

  between(fromSeconds: number, untilSeconds: number): number {
    return firstNotBelow(this.at, untilSeconds) - firstNotBelow(this.at, fromSeconds)
  }
}
