import type { WishCause } from '../life/cause.ts'
import type { Observation } from '../life/controller.ts'
import type { Policy } from './policy.ts'
import type { MetricRule } from './rules.ts'

/** What a metric comes to over all ready replicas together. */
export function totalOf(rule: MetricRule, seen: Observation, hostCurve = 0): number {
  const { windowSeconds: w } = rule
  switch (rule.metric) {
    case 'in-flight':
      return seen.inFlight(w)
    case 'busy':
      return seen.busy(w)
    case 'arrivals':
      return seen.arrivalsPerSecond(w)
    case 'waiting':
      return seen.waiting(w)
    case 'host-cpu':
      return seen.ready * seen.hostShare(hostCurve, w)
  }
}

/**
 * The rule that horizontal autoscaling documents: ceil(ready · metric / target), left alone within the tolerance. While
 * some start up, those count as idle before more are added: if the metric over all of them is not above the target by
 * more than the tolerance, nothing is added.
 */
export function metricPolicy(rule: MetricRule, tolerance: number, hostCurve = 0): Policy {
  // Readings are many, and their whole percents few.
  const causes: (WishCause | undefined)[] = []
  const causeOf = (ratio: number): WishCause => {
    const percent = Math.round(ratio * 100)
    return percent < MOST_PERCENT ? (causes[percent] ??= { metric: rule.metric, percent }) : { metric: rule.metric, percent }
  }
  return (seen) => {
    if (seen.ready === 0) return undefined
    const total = totalOf(rule, seen, hostCurve)
    const read = total / seen.ready
    const ratio = read / rule.target
    if (Math.abs(ratio - 1) <= tolerance + ROUNDING) return { replicas: seen.current, cause: 'within-tolerance', read }
    const cause = causeOf(ratio)
    if (ratio < 1 || seen.current <= seen.ready) return { replicas: ceil(ratio * seen.ready), cause, read }
    const withStarting = total / (seen.current * rule.target)
    if (withStarting <= 1 + tolerance + ROUNDING) return { replicas: seen.current, cause: 'enough-starting', read }
    return { replicas: ceil(withStarting * seen.current), cause, read }
  }
}

const MOST_PERCENT = 1000

/** 3.0000000001 replicas are 3: a mean over a window is a quotient of sums. */
const ROUNDING = 1e-9
const ceil = (replicas: number) => Math.max(0, Math.ceil(replicas - ROUNDING))
