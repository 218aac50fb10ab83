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
  const floorOf = (seen: Parameters<Policy>[0]): Wish => largest([{ replicas: rules.min, cause: 'the minimum' }, ...schedule.map((p) => p(seen))])
  return {
    intervalSeconds: rules.intervalSeconds,
    initial: initialReplicas(rules, context),
    most: rules.max,
    ...(rules.idle && { idle: rules.idle }),
    wish: (seen) => {
      const wishes = policies.map((p) => p(seen))
      const wish = wishes.some((w) => w !== undefined) ? largest(wishes) : { replicas: seen.current, cause: 'nothing to go by' }
      const followed = behaviour.follow(clamp(wish.replicas, 0, rules.max), seen.current, seen.now)
      const least = floorOf(seen)
      const decided = followed >= least.replicas ? { replicas: followed, cause: wish.cause } : least
      const read = wishes[0]?.read
      return { replicas: Math.min(decided.replicas, rules.max), cause: decided.cause, ...(read !== undefined && { read }) }
    },
    nextPing: (after) => nextPing(rules, context, after),
  }
}

const clamp = (n: number, low: number, high: number) => Math.min(high, Math.max(low, n))

function largest(wishes: readonly (Wish | undefined)[]): Wish {
  return wishes.reduce<Wish>((best, w) => (w && w.replicas > best.replicas ? w : best), { replicas: -1, cause: '' })
}

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
