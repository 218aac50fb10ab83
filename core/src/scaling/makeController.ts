import type { Controller } from '../life/controller.ts'
import { aheadPolicy } from './aheadPolicy.ts'
import { Behaviour } from './behaviour.ts'
import { metricPolicy } from './metricPolicy.ts'
import type { Policy, Wish } from './policy.ts'
import { DAY_SECONDS, type ScalingContext, type ScalingRules } from './rules.ts'
import { schedulePolicy } from './schedulePolicy.ts'

/** Every policy that the rules name. A further kind of policy is a file of its own and a line here. */
function policiesOf(rules: ScalingRules, context: ScalingContext): Policy[] {
  return [
    ...rules.metrics.map((m) => metricPolicy(m, rules.tolerance)),
    ...(rules.ahead ? [aheadPolicy(rules.ahead, context, rules.intervalSeconds)] : []),
  ]
}

/** A controller for one run: it remembers its wishes and changes. */
export function makeController(rules: ScalingRules, context: ScalingContext): Controller {
  const policies = policiesOf(rules, context)
  const schedule = rules.schedule.map((w) => schedulePolicy(w, context))
  const behaviour = new Behaviour(rules.up, rules.down)
  const minimum: Wish = { replicas: rules.min, cause: 'the minimum' }
  return {
    intervalSeconds: rules.intervalSeconds,
    initial: initialReplicas(rules, context),
    most: rules.max,
    ...(rules.idle && { idle: rules.idle }),
    wish: (seen) => {
      let wish: Wish | undefined
      let read: number | undefined
      for (let i = 0; i < policies.length; i++) {
        const one = policies[i](seen)
        if (i === 0) read = one?.read
        wish = larger(wish, one)
      }
      const followed = behaviour.follow(clamp(wish?.replicas ?? seen.current, 0, rules.max), seen.current, seen.now)
      const least = schedule.reduce<Wish>((most, p) => larger(most, p(seen)) ?? most, minimum)
      const [decided, cause] = followed >= least.replicas ? [followed, wish?.cause ?? 'nothing to go by'] : [least.replicas, least.cause]
      const replicas = Math.min(decided, rules.max)
      return read === undefined ? { replicas, cause } : { replicas, cause, read }
    },
    nextPing: (after) => nextPing(rules, context, after),
  }
}

const clamp = (n: number, low: number, high: number) => Math.min(high, Math.max(low, n))

const larger = (a: Wish | undefined, b: Wish | undefined) => (b && (!a || b.replicas > a.replicas) ? b : a)

/** What is there at the start: the minimum, by schedule and by what is expected. */
function initialReplicas(rules: ScalingRules, context: ScalingContext): number {
  const none = () => 0
  const seen = { now: 0, ready: 0, current: 0, inFlight: none, waiting: none, busy: none, arrivalsPerSecond: none }
  const wishes = [...rules.schedule.map((w) => schedulePolicy(w, context)(seen)), rules.ahead?.from === 'plan' ? aheadPolicy(rules.ahead, context, rules.intervalSeconds)(seen) : undefined]
  return Math.min(rules.max, Math.max(rules.min, ...wishes.map((w) => w?.replicas ?? 0)))
}

/** The next background call after a time. */
function nextPing({ keepAwakeSeconds, wakeAtSeconds }: ScalingRules, { weekStartSeconds }: ScalingContext, after: number): number {
  const regular = keepAwakeSeconds === Infinity ? Infinity : (Math.floor(after / keepAwakeSeconds + 1e-9) + 1) * keepAwakeSeconds
  const wakes = wakeAtSeconds.map((clock) => {
    const now = weekStartSeconds + after
    const today = Math.floor(now / DAY_SECONDS) * DAY_SECONDS + clock
    return (today > now + 1e-6 ? today : today + DAY_SECONDS) - weekStartSeconds
  })
  return Math.min(regular, ...wakes)
}
