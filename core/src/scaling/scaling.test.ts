import { describe, expect, it } from 'vitest'
import { context, scalingRules } from '../../test/fleets.ts'
import type { Observation } from '../life/controller.ts'
import { Behaviour } from './behaviour.ts'
import { makeController } from './makeController.ts'
import { metricPolicy } from './metricPolicy.ts'
import { DAY_SECONDS, type Direction, type MetricRule } from './rules.ts'
import { within } from './schedulePolicy.ts'

const seen = (
  parts: Partial<Record<'now' | 'ready' | 'current' | 'inFlight' | 'busy' | 'arrivals' | 'waiting' | 'hostShare', number>>,
): Observation => ({
  now: parts.now ?? 0,
  ready: parts.ready ?? 1,
  current: parts.current ?? parts.ready ?? 1,
  inFlight: () => parts.inFlight ?? 0,
  busy: () => parts.busy ?? 0,
  arrivalsPerSecond: () => parts.arrivals ?? 0,
  waiting: () => parts.waiting ?? 0,
  hostShare: () => parts.hostShare ?? 0,
})
const metric = (name: MetricRule['metric'], target: number, more: Partial<MetricRule> = {}): MetricRule => ({
  metric: name,
  target,
  windowSeconds: 60,
  baseShare: 0.05,
  sharePerRequest: 0.01,
  ...more,
})
const still: Direction = { stabilisationSeconds: 0, limits: [] }

describe('the metric rule, against tables worked by hand from the documented one', () => {
  // ready, metric per replica, target → ceil(ready · metric/target) unless the ratio is within 10 % of 1
  it.each([
    [2, 200, 100, 4],
    [4, 50, 100, 2],
    [3, 105, 100, 3],
    [3, 110, 100, 3],
    [3, 111, 100, 4],
    [3, 90, 100, 3],
    [3, 89, 100, 3],
    [10, 89, 100, 9],
    [10, 65, 100, 7],
    [1, 250, 100, 3],
    [5, 1, 100, 1],
    [5, 0, 100, 0],
  ])('%d ready at %d of %d: %d', (ready, value, target, expected) => {
    expect(metricPolicy(metric('in-flight', target), 0.1)(seen({ ready, inFlight: ready * value }))?.replicas).toBe(expected)
  })

  it('those that start up count as idle before more are added', () => {
    const policy = metricPolicy(metric('in-flight', 10), 0.1)
    // 4 ready with 20 each: 8 wanted. 4 more are on their way: 80 over 8 is the target: nothing more.
    expect(policy(seen({ ready: 4, current: 4, inFlight: 80 }))?.replicas).toBe(8)
    expect(policy(seen({ ready: 4, current: 8, inFlight: 80 }))?.replicas).toBe(8)
    // Of 6 on their way or ready 80 are 13.3 each: ceil(1.333 · 6) = 8.
    expect(policy(seen({ ready: 4, current: 6, inFlight: 80 }))?.replicas).toBe(8)
    expect(policy(seen({ ready: 0, inFlight: 9 }))).toBeUndefined()
  })

  it('busy share, arrivals and waiting are read alike; host CPU sees only what it sees', () => {
    expect(metricPolicy(metric('busy', 0.5), 0.1)(seen({ ready: 4, busy: 4 }))?.replicas).toBe(8)
    expect(metricPolicy(metric('arrivals', 2), 0.1)(seen({ ready: 2, arrivals: 9 }))?.replicas).toBe(5)
    expect(metricPolicy(metric('waiting', 1), 0.1)(seen({ ready: 2, waiting: 7 }))?.replicas).toBe(7)
    // A host that shows 11.4 %, a sixth of the target: one of four would do.
    expect(metricPolicy(metric('host-cpu', 0.7), 0.1)(seen({ ready: 4, hostShare: 0.114 }))?.replicas).toBe(1)
  })
})

describe('stabilisation and speed limits, worked by hand', () => {
  const wishes = (b: Behaviour, from: number, list: readonly number[], seconds = 15) => {
    let current = from
    return list.map((wish, i) => {
      current = b.follow(wish, current, i * seconds)
      b.made(current, i * seconds)
      return current
    })
  }

  it('downwards the largest wish of the window counts', () => {
    const b = new Behaviour(still, { stabilisationSeconds: 45, limits: [] })
    expect(wishes(b, 10, [10, 4, 4, 4, 4, 4])).toEqual([10, 10, 10, 10, 4, 4])
  })

  it('upwards the smallest', () => {
    const b = new Behaviour({ stabilisationSeconds: 30, limits: [] }, still)
    expect(wishes(b, 2, [2, 8, 6, 9, 9])).toEqual([2, 2, 2, 6, 6])
  })

  it('four replicas or as many again in 15 s upwards, whichever is more', () => {
    const up: Direction = {
      stabilisationSeconds: 0,
      limits: [
        { unit: 'replicas', amount: 4, periodSeconds: 15 },
        { unit: 'percent', amount: 100, periodSeconds: 15 },
      ],
    }
    expect(wishes(new Behaviour(up, still), 1, [40, 40, 40, 40])).toEqual([5, 10, 20, 40])
  })

  it('a period looks back: 2 in 60 s are 2 in every minute', () => {
    const up: Direction = { stabilisationSeconds: 0, limits: [{ unit: 'replicas', amount: 2, periodSeconds: 60 }] }
    expect(wishes(new Behaviour(up, still), 1, [9, 9, 9, 9, 9, 9])).toEqual([3, 3, 3, 3, 5, 5])
  })

  it('ten per cent in a minute downwards', () => {
    const down: Direction = { stabilisationSeconds: 0, limits: [{ unit: 'percent', amount: 10, periodSeconds: 60 }] }
    expect(wishes(new Behaviour(still, down), 20, [1, 1, 1, 1, 1])).toEqual([18, 18, 18, 18, 16])
  })
})

describe('speed limits begin at what there was when their period began', () => {
  const perMinute = (amount: number): Direction => ({ stabilisationSeconds: 0, limits: [{ unit: 'replicas', amount, periodSeconds: 60 }] })

  it('a change the other way is part of what there was', () => {
    const b = new Behaviour(perMinute(4), perMinute(4))
    b.made(10, 0)
    expect(b.follow(20, 10, 60)).toBe(14)
    b.made(14, 60)
    // A minute before there were 10: four fewer than that may be there now, whatever came and went since.
    expect(b.follow(1, 14, 90)).toBe(6)
  })

  it('a wish that the minimum undid is no change', () => {
    const c = makeController(scalingRules({ min: 5, max: 9, metrics: [metric('in-flight', 10)], down: perMinute(2) }), context())
    expect([0, 15, 30].map((now) => c.wish(seen({ now, ready: 5, inFlight: 0 })).replicas)).toEqual([5, 5, 5])
    const more = makeController(
      scalingRules({
        min: 1,
        max: 9,
        metrics: [metric('in-flight', 10)],
        down: perMinute(2),
        schedule: [{ days: [0], fromSeconds: 0, untilSeconds: 30, min: 5 }],
      }),
      context(),
    )
    // Held at 5 by the schedule until 30 s; then two may go at once.
    expect([0, 15, 30].map((now) => more.wish(seen({ now, ready: 5, inFlight: 0 })).replicas)).toEqual([5, 5, 3])
  })
})

describe('policies together', () => {
  it('the largest wish wins, between minimum and maximum', () => {
    const c = makeController(scalingRules({ min: 2, max: 9, metrics: [metric('in-flight', 10), metric('waiting', 1)] }), context())
    expect(c.wish(seen({ ready: 3, inFlight: 60, waiting: 2 })).replicas).toBe(6)
    expect(c.wish(seen({ now: 15, ready: 3, inFlight: 60, waiting: 8 })).replicas).toBe(8)
    expect(c.wish(seen({ now: 30, ready: 3, inFlight: 900, waiting: 0 })).replicas).toBe(9)
    expect(c.wish(seen({ now: 45, ready: 3 })).replicas).toBe(2)
  })

  it('a schedule raises the minimum in its weekly window, also past midnight', () => {
    const office = { days: [0, 1, 2, 3, 4], fromSeconds: 7 * 3600, untilSeconds: 18 * 3600, min: 5 }
    const c = makeController(scalingRules({ min: 1, max: 9, schedule: [office] }), context({ weekStartSeconds: 4 * DAY_SECONDS }))
    expect(c.wish(seen({ now: 8 * 3600 })).replicas).toBe(5)
    // Nothing but the schedule says a number: when its window is over the minimum does.
    expect(c.wish(seen({ now: 19 * 3600, ready: 5 })).replicas).toBe(1)
    expect(within(office, 5 * DAY_SECONDS + 8 * 3600)).toBe(false)
    const night = { ...office, fromSeconds: 22 * 3600, untilSeconds: 6 * 3600 }
    expect([4 * DAY_SECONDS + 23 * 3600, 5 * DAY_SECONDS + 5 * 3600, 5 * DAY_SECONDS + 23 * 3600].map((t) => within(night, t))).toEqual([
      true,
      true,
      false,
    ])
  })

  it('ahead of demand: for what the plan expects one lead time on, or for what was a week before that', () => {
    const ahead = { from: 'plan' as const, perReplica: 2, leadSeconds: 300 }
    const c = makeController(scalingRules({ max: 20, ahead }), context({ expectedRate: (t) => (t >= 1000 ? 9 : 1) }))
    expect(c.wish(seen({ now: 690 })).replicas).toBe(1)
    expect(c.wish(seen({ now: 705 })).replicas).toBe(5)
    const week = makeController(
      scalingRules({ max: 20, intervalSeconds: 3600, ahead: { ...ahead, from: 'past-week', leadSeconds: 3600 } }),
      context(),
    )
    const wishes = Array.from(
      { length: 172 },
      (_, i) => week.wish(seen({ now: (i + 1) * 3600, arrivals: i === 3 ? 8 : 1, ready: 1, current: 1 })).replicas,
    )
    // The hour read at 4 h is four days later, less an hour, a week on: at 171 h − 1 h = 4 h + 168 h − 1 h − 1 h.
    expect(wishes.indexOf(4) + 1).toBe(4 + 168 - 1)
  })
})
