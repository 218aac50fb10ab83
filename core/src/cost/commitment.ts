import type { StepSeries } from '../measure/fleetPicture.ts'

/** How many machines are committed to, and what all of them cost then. Amounts per hour, in the plan's currency. */
export interface Commitment {
  /** paid always, used or not */
  committed: number
  perHour: number
  /** what it costs with everything on demand */
  onDemandPerHour: number
  /** committed and not used, averaged */
  unusedPerHour: number
}

/**
 * The best split of a fleet between machines that are committed to and machines on demand. One more is worth committing
 * to exactly when it is there for a larger share of the time than its committed price is of the one on demand: cost is
 * convex in the number, so that the last such one is the optimum. Billing steps are not counted.
 *
 * @param machines that are there, over time
 * @param onDemandPerHour price of one machine, and committedPerHour the same when it is paid always
 */
export function bestCommitment(machines: StepSeries, horizonSeconds: number, onDemandPerHour: number, committedPerHour: number): Commitment {
  const shares = sharesAbove(machines, horizonSeconds)
  const committed = shares.filter((share) => share * onDemandPerHour > committedPerHour).length
  const onDemand = (from: number) => onDemandPerHour * shares.slice(from).reduce((sum, s) => sum + s, 0)
  const used = shares.slice(0, committed).reduce((sum, s) => sum + s, 0)
  return { committed, perHour: committed * committedPerHour + onDemand(committed), onDemandPerHour: onDemand(0), unusedPerHour: (committed - used) * committedPerHour }
}

/** Share of the time in which more than 0, 1, 2 … machines are there. */
function sharesAbove({ seconds, values }: StepSeries, horizonSeconds: number): number[] {
  const most = values.reduce((a, b) => Math.max(a, b), 0)
  const shares = new Array<number>(most).fill(0)
  values.forEach((n, i) => {
    const length = Math.max(0, Math.min(horizonSeconds, seconds[i + 1] ?? horizonSeconds) - seconds[i])
    for (let k = 0; k < n; k++) shares[k] += length / horizonSeconds
  })
  return shares
}
