import type { Target } from '../plan/schema.ts'
import { duration } from '../units/duration.ts'
import { percent, threeDigits } from '../units/number.ts'

/** Measures as the trade writes them. */
export const MEASURE_NAMES: Record<Target['measure'], string> = {
  wait: 'wait',
  ttft: 'TTFT',
  tpot: 'TPOT',
  latency: 'latency',
  lost: 'lost share',
  throughput: 'throughput',
}

/** A target's measure as the trade writes it. @example measureWords({ measure: 'ttft', percentile: 95, seconds: 1 }) // 'p95 TTFT' */
export function measureWords(target: Target): string {
  if (target.measure === 'lost' || target.measure === 'throughput') return MEASURE_NAMES[target.measure]
  const where = target.at === undefined ? '' : ` at the ${target.at}`
  return `p${target.percentile} ${MEASURE_NAMES[target.measure]}${where}${target.over === 'worst-hour' ? ' of the worst hour' : ''}`
}

/** A value of a target's measure with its unit. */
export function valueWords(target: Target, value: number | undefined | null): string {
  if (value === undefined || value === null) return 'no data'
  if (target.measure === 'lost') return percent(value)
  if (target.measure === 'throughput') return `${threeDigits(value)}\u00a0/s`
  // More are lost, or still wait, than may miss: the request at the percentile never got there.
  return value === Infinity ? 'not reached' : duration(value)
}

/** What a target asks for, as a value with its unit. */
export function limitWords(target: Target): string {
  if (target.measure === 'lost') return percent(target.share)
  if (target.measure === 'throughput') return `${threeDigits(target.perSecond)}\u00a0/s`
  return duration(target.seconds)
}

/** Share of a limit that is left, for a column; what was never reached has none. @example headRoomWords(-Infinity) // 'none' */
export function headRoomWords(headRoom: number | null): string {
  return headRoom === -Infinity ? 'none' : percent(headRoom)
}

/** @example spareWords(0.2) // '20.0 % to spare'; spareWords(-0.1) // 'missed by 10.0 %'; spareWords(-4) // '5.00 times the promise' */
export function spareWords(headRoom: number | null): string {
  if (headRoom === null || headRoom >= 0) return `${percent(headRoom)} to spare`
  if (headRoom < -1) return Number.isFinite(headRoom) ? `${threeDigits(1 - headRoom)} times the promise` : 'missed'
  return `missed by ${percent(-headRoom)}`
}
