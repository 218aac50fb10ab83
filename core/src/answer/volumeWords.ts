import { PURCHASES } from '../plan/ways.ts'
import { bare, grouped, threeDigits } from '../units/number.ts'
import { duration } from '../units/duration.ts'
import { price } from '../units/price.ts'
import { isByTokens } from '../cost/purchase.ts'
import type { VolumeReport } from './volume.ts'

/** What is paid one by one, in words. */
const offerOf = ({ called }: VolumeReport) => `${called.machine}${PURCHASES[called.purchase.kind].after}`
/** What is counted of it. */
export const countedOf = ({ called }: VolumeReport) => (isByTokens(called.purchase) ? 'requests' : 'calls')

const round = (n: number) => grouped(Number(n.toPrecision(3)), 0)

/**
 * Machines against calls or tokens in words, a sentence each: the volume at which they cost the same, whether every promise is kept at
 * the plan's own, and what calls cost between all warm and all cold.
 *
 * @param done whether every volume was tried: before it nothing is said of a crossing that was not found
 */
export function volumeWords(report: VolumeReport, currency: string, done = true): string[] {
  const { points, startSeconds } = report
  const own = points.find((p) => p.multiple === 1)
  const counted = countedOf(report)
  const late = isByTokens(report.called.purchase) ? '' : `: a cold one waits ${bare(duration(startSeconds))}`
  return [
    ...crossing(report, done),
    ...(own && !own.calledHolds ? [`At the plan’s volume its ${counted} do not keep every promise${late}.`] : []),
    ...(own?.bounds
      ? [
          `At the plan’s own load calls cost ${price(own.called[0], currency)} a month: ${price(own.bounds.warm, currency)} if none found an instance cold, ${price(own.bounds.cold, currency)} if each did (${duration(startSeconds)} from nothing).`,
        ]
      : []),
  ]
}

/** Where one more machine is needed, calls or tokens may cost less again above the first volume at which machines did. */
function cheaperAgain(report: VolumeReport, from: number): string[] {
  const mean = (values: readonly (number | null)[]) => values.reduce<number>((sum, v) => sum + (v ?? Infinity), 0) / values.length
  const again = report.points
    .filter((p) => p.multiple > from && mean(p.called) < mean(p.alwaysOn))
    .map((p) => bare(threeDigits(p.multiple)))
  if (again.length === 0) return []
  return [`Where one more of them is needed it costs less again, as at ${again.join(', ')} times the load.`]
}

function crossing(report: VolumeReport, done: boolean): string[] {
  const { breakEven, points, alwaysOn } = report
  const own = points.find((p) => p.multiple === 1)
  if (breakEven && own) {
    const at = (multiple: number) => round((multiple * breakEven.callsPerMonth) / breakEven.multiple)
    const range = breakEven.high - breakEven.low > 1e-6 ? ` (${at(breakEven.low)} to ${at(breakEven.high)} over the draws of the load)` : ''
    return [
      `Below ${round(breakEven.callsPerMonth)} ${countedOf(report)} a month${range} ${offerOf(report)} costs less, above it ${alwaysOn.machine} does; the plan has ${round(own.callsPerMonth)}, ${bare(threeDigits(1 / breakEven.multiple))} times that.`,
      ...cheaperAgain(report, breakEven.high),
    ]
  }
  if (!done || !own) return []
  const cheaper = own.called[0] < (own.alwaysOn[0] ?? Infinity) ? offerOf(report) : alwaysOn.machine
  return [`${cheaper} costs less at every volume that was tried, ${points[0].multiple} to ${points.at(-1)?.multiple} times the load.`]
}
