import type { Controller } from '../life/controller.ts'
import { firstAbove } from '../units/ascending.ts'
import { aheadPolicy } from './aheadPolicy.ts'
import { Behaviour } from './behaviour.ts'
import { metricPolicy } from './metricPolicy.ts'
import type { Policy, Wish } from './policy.ts'
import { DAY_SECONDS, type ScalingContext, type ScalingRules } from './rules.ts'
import { schedulePolicy, within } from './schedulePolicy.ts'

/** Every policy that the rules name. A further kind of policy is a file of its own and a line here. */
function policiesOf(rules: ScalingRules, context: ScalingContext): Policy[] {
  return [
    ...rules.metrics.map((m, i) => metricPolicy(m, rules.tolerance, hostPlace(rules, i))),
    ...(rules.ahead ? [aheadPolicy(rules.ahead, context, rules.intervalSeconds)] : []),
  ]
}

/** Which of the host curves a metric reads. */
const hostPlace = ({ metrics }: ScalingRules, index: number) => metrics.slice(0, index).filter((m) => m.metric === 'host-cpu').length

/** A controller for one run: it remembers its wishes and changes. */
export function makeController(rules: ScalingRules, context: ScalingContext): Controller {
  const policies = policiesOf(rules, context)
  const schedule = rules.schedule.map((w) => schedulePolicy(w, context))
  const behaviour = new Behaviour(rules.up, rules.down)
  const minimum: Wish = { replicas: rules.min, cause: 'minimum' }
  return {
    intervalSeconds: rules.intervalSeconds,
    initial: leastReplicas(rules, context, 0),
    scheduled: (now) => leastReplicas(rules, context, now),
    most: rules.max,
    hostCurves: rules.metrics.filter((m) => m.metric === 'host-cpu'),
    ...(rules.idle && { idle: rules.idle }),
    wish: (seen) => {
      let wish: Wish | undefined
      let read: number | undefined
      for (let i = 0; i < policies.length; i++) {
        const one = policies[i](seen)
        if (i === 0) read = one?.read
        wish = larger(wish, one)
      }
      // Who has nothing to go by keeps what there is; where nothing but minimum and schedule ever says a number, they do.
      const wished = wish?.replicas ?? (policies.length === 0 ? 0 : seen.current)
      const followed = behaviour.follow(clamp(wished, 0, rules.max), seen.current, seen.now)
      const least = schedule.reduce<Wish>((most, p) => larger(most, p(seen)) ?? most, minimum)
      const [decided, cause] =
        followed >= least.replicas
          ? [followed, wish?.cause ?? (policies.length === 0 ? 'none-wanted' : 'nothing-to-go-by')]
          : [least.replicas, least.cause]
      const replicas = Math.min(decided, rules.max)
      behaviour.made(replicas, seen.now)
      return read === undefined ? { replicas, cause } : { replicas, cause, read }
    },
    nextPing: (after) => nextPing(rules, context, after),
  }
}

const clamp = (n: number, low: number, high: number) => Math.min(high, Math.max(low, n))

const larger = (a: Wish | undefined, b: Wish | undefined) => (b && (!a || b.replicas > a.replicas) ? b : a)

/** What is there at the start, and how many the schedule asks for at a time: the minimum, raised by its windows. */
function leastReplicas(rules: ScalingRules, context: ScalingContext, now: number): number {
  return Math.min(
    rules.max,
    rules.schedule.reduce((most, w) => Math.max(most, within(w, context.weekStartSeconds + now) ? w.min : 0), rules.min),
  )
}

/** The next background call after a time. */
function nextPing({ keepAwakeSeconds, wakeAtSeconds, visits }: ScalingRules, { weekStartSeconds }: ScalingContext, after: number): number {
  const regular = keepAwakeSeconds === Infinity ? Infinity : (Math.floor(after / keepAwakeSeconds + 1e-9) + 1) * keepAwakeSeconds
  const wakes = wakeAtSeconds.map((clock) => {
    const now = weekStartSeconds + after
    const today = Math.floor(now / DAY_SECONDS) * DAY_SECONDS + clock
    return (today > now + 1e-6 ? today : today + DAY_SECONDS) - weekStartSeconds
  })
  return Math.min(regular, visits?.[firstAbove(visits, after)] ?? Infinity, ...wakes)
}
