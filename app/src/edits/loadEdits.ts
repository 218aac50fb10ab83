import { withRate, type GeneratedArrivals, type Plan, type RequestClass, type Spike } from '@sandclock/core'
import { editClass, type Edit } from './edits.ts'

const HOUR_SECONDS = 3600
const DAYS = 7
const HOURS = 24

/** A list of rates that is painted: of each hour of a day, of each day of a week, or of each hour of the horizon. */
export interface Painted {
  what: 'hours' | 'days' | 'rates'
  /** requests a second; hours are those of the busiest day, days those of their busiest hour */
  ratesPerSecond: readonly number[]
}

const most = (list: readonly number[]) => list.reduce((a, b) => Math.max(a, b), 0)
const rounded = (x: number) => Number(x.toPrecision(5))

/** What of a class can be painted; nothing for one whose rate is the same at all hours, or that has none. */
export function paintedOf({ arrivals }: RequestClass): Painted[] {
  if (arrivals.kind === 'hourly') return [{ what: 'rates', ratesPerSecond: arrivals.ratesPerSecond }]
  if (arrivals.kind !== 'weekly') return []
  const { ratePerSecond: r, days, hours } = arrivals
  return [
    { what: 'hours', ratesPerSecond: hours.map((h) => r * h * most(days)) },
    { what: 'days', ratesPerSecond: days.map((d) => r * d * most(hours)) },
  ]
}

/** The rates of a class as somebody painted them. Shares are kept with 1 at the busiest, which its rate is then. */
export function paint(className: string, { what, ratesPerSecond }: Painted): Edit {
  return editClass(className, (c) => {
    const { arrivals } = c
    if (arrivals.kind === 'hourly') return { ...c, arrivals: { ...arrivals, ratesPerSecond: ratesPerSecond.map(rounded) } }
    if (arrivals.kind !== 'weekly') return c
    const busiest = most(ratesPerSecond)
    const shares = busiest > 0 ? ratesPerSecond.map((r) => rounded(r / busiest)) : ratesPerSecond.map(() => 0)
    const other = what === 'hours' ? arrivals.days : arrivals.hours
    // The other list has a busiest too; where that is nothing, it is all the same.
    const rest = most(other) > 0 ? other.map((s) => rounded(s / most(other))) : other.map(() => 1)
    const [days, hours] = what === 'hours' ? [rest, shares] : [shares, rest]
    return { ...c, arrivals: { ...arrivals, ratePerSecond: rounded(busiest), days: [...days], hours: [...hours] } }
  })
}

/** Hours and days for a class that comes alike at all of them: to be painted. */
export function giveWeek(className: string): Edit {
  return editClass(className, (c) => {
    if (c.arrivals.kind !== 'steady') return c
    const alike = (n: number) => Array.from({ length: n }, () => 1)
    return { ...c, arrivals: { ...c.arrivals, kind: 'weekly', days: alike(DAYS), hours: alike(HOURS) } }
  })
}

/** What is laid over the rate of a class for a time: a spike by its place in the horizon, or an event by its date. */
export interface Laid {
  kind: 'spikes' | 'events'
  index: number
  /** of the horizon, which an event may begin before or end after */
  fromSeconds: number
  untilSeconds: number
  factor: number
}

type Event = NonNullable<GeneratedArrivals['events']>[number]
const startMs = ({ horizon }: Plan) => Date.parse(horizon.start)
const dateOf = (plan: Plan, seconds: number) => new Date(startMs(plan) + seconds * 1000).toISOString().replace('.000Z', 'Z')

export function laidOver(plan: Plan, { arrivals }: RequestClass): Laid[] {
  const { spikes = [], events = [] } = withRate(arrivals) ?? {}
  const seconds = (date: string) => (Date.parse(date) - startMs(plan)) / 1000
  return [
    ...spikes.map((s, index): Laid => ({
      kind: 'spikes',
      index,
      fromSeconds: s.startSeconds,
      untilSeconds: s.startSeconds + s.durationSeconds,
      factor: s.factor,
    })),
    ...events.map((e, index): Laid => ({
      kind: 'events',
      index,
      fromSeconds: seconds(e.from),
      untilSeconds: seconds(e.until),
      factor: e.factor,
    })),
  ]
}

/** The same list of a class, changed; left out where nothing is in it. */
function editList<K extends Laid['kind']>(
  className: string,
  kind: K,
  change: (list: NonNullable<GeneratedArrivals[K]>, plan: Plan) => NonNullable<GeneratedArrivals[K]>,
): Edit {
  return (plan) =>
    editClass(className, (c) => {
      const arrivals = withRate(c.arrivals)
      if (!arrivals) return c
      const { [kind]: before, ...rest } = arrivals
      const list = change(before ?? ([] as never), plan)
      return { ...c, arrivals: (list.length > 0 ? { ...rest, [kind]: list } : rest) as GeneratedArrivals } // of the same kind as before
    })(plan)
}

const spikeOf = ({ fromSeconds, untilSeconds, factor }: Laid): Spike => ({
  startSeconds: Math.max(0, fromSeconds),
  durationSeconds: untilSeconds - Math.max(0, fromSeconds),
  factor,
})

/** What is laid over a class at another time, or at another height; what is else in it stays. */
export function putLaid(className: string, laid: Laid): Edit {
  const at = <T>(list: readonly T[], next: (before: T) => T) => list.map((one, i) => (i === laid.index ? next(one) : one))
  return laid.kind === 'spikes'
    ? editList(className, 'spikes', (list) => at(list, (s) => ({ ...s, ...spikeOf(laid) })))
    : editList(className, 'events', (list, plan) =>
        at(list, (e): Event => ({
          ...e,
          from: dateOf(plan, laid.fromSeconds),
          until: dateOf(plan, laid.untilSeconds),
          factor: laid.factor,
        })),
      )
}

export function removeLaid(className: string, { kind, index }: Laid): Edit {
  const without = <T>(list: readonly T[]) => list.filter((_, i) => i !== index)
  return kind === 'spikes' ? editList(className, 'spikes', without) : editList(className, 'events', without)
}

const NEW_FACTOR = 2

/** A new spike or event of two hours at twice the rate, from a time of the horizon on. */
export function lay(className: string, kind: Laid['kind'], fromSeconds: number): Edit {
  const untilSeconds = fromSeconds + 2 * HOUR_SECONDS
  const laid: Laid = { kind, index: 0, fromSeconds, untilSeconds, factor: NEW_FACTOR }
  return kind === 'spikes'
    ? editList(className, 'spikes', (list) => [...list, spikeOf(laid)])
    : editList(className, 'events', (list, plan) => [
        ...list,
        { from: dateOf(plan, fromSeconds), until: dateOf(plan, untilSeconds), factor: NEW_FACTOR },
      ])
}
