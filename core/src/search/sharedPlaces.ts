import { surcharged } from '../plan/machineSchema.ts'
import { billedSeconds } from '../cost/bill.ts'
import { coveredFrom } from '../cost/committedPlaces.ts'
import type { Found } from './found.ts'

/** Machines of one offer that several services commit to together: whoever of them wants a place takes one that is free. */
export interface SharedPlaces {
  machine: string
  /** of the services that share them, in the order of the plan */
  options: readonly Found[]
  committedMachines: number
  /** what they cost all together, per hour, and less than each by itself */
  perHour: number
  savedPerHour: number
}

/** From when until when a group is there, and whose it is. */
interface Stay {
  from: number
  until: number
  option: Found
}

/**
 * Whether an option has machines that may be committed to, and rented on demand beside that: who can not do without has places of its own.
 */
const commits = (found: Found): boolean =>
  Number.isFinite(found.candidate.prices.onDemandPerHour) && found.committable.some((stays) => stays.length > 0)

/** The options of every service among which one is to be chosen; of services that have none nothing is. */
export type Choices = readonly (readonly Found[])[]

/** Options by the machine that they may commit to, of machines that those of several services may. */
export function byCommittedMachine(choices: Choices): Map<string, Found[]> {
  const byMachine = new Map<string, { services: Set<number>; options: Found[] }>()
  choices.forEach((options, service) => {
    for (const option of options.filter(commits)) {
      const { name } = option.candidate.machine
      const known = byMachine.get(name) ?? { services: new Set(), options: [] }
      known.services.add(service)
      known.options.push(option)
      byMachine.set(name, known)
    }
  })
  return new Map([...byMachine].filter(([, { services }]) => services.size > 1).map(([name, { options }]) => [name, options]))
}

/**
 * Where chosen options, one of each service, may commit to machines together: the number that costs least for all draws, the
 * smaller of equals. Left out where it saves nothing. Those that are ordered while places are free fill them for as long as
 * they live, of those ordered at one time the first in the order of the plan.
 */
export function sharedPlaces(chosen: readonly Found[], horizonSeconds: number): SharedPlaces[] {
  return [...byCommittedMachine(chosen.map((option) => [option]))].flatMap(([machine, options]) => {
    const apart = sumOf(options, (o) => o.perHour)
    const beside = sumOf(options, (o) => besidePerHour(o, horizonSeconds))
    const draws = staysByDraw(options)
    const most = draws.reduce((n, stays) => Math.max(n, mostMachines(stays)), 0)
    const offer = options[0].candidate.machine
    const committedPerHour = surcharged(offer.committedPerHour, offer)
    if (committedPerHour === undefined) return []
    let best = { committedMachines: 0, perHour: Infinity }
    for (let committedMachines = 0; committedMachines <= most; committedMachines++) {
      const perHour =
        beside +
        committedMachines * committedPerHour +
        sumOf(draws, (stays) => paidBeside(stays, committedMachines, horizonSeconds)) / draws.length
      if (perHour < best.perHour - 1e-12) best = { committedMachines, perHour }
    }
    const savedPerHour = apart - best.perHour
    return savedPerHour > 1e-9 ? [{ machine, options, ...best, savedPerHour }] : []
  })
}

/**
 * What an option costs beside the time of its machines that may be committed to, per hour: disks, transfer, machines that may be taken
 * away.
 */
export function besidePerHour(option: Found, horizonSeconds: number): number {
  const paid = option.committable.map((_, draw) => paidBeside(staysOf(option, draw), 0, horizonSeconds))
  return option.uncommittedPerHour - sumOf(paid, (p) => p) / paid.length
}

/**
 * Every draw's groups of all options in the order in which they are ordered. A load that chance has no part in has one draw, which stands
 * beside every other.
 */
function staysByDraw(options: readonly Found[]): Stay[][] {
  const draws = options.reduce((n, o) => Math.max(n, o.committable.length), 0)
  return Array.from({ length: draws }, (_, draw) =>
    options.flatMap((o) => staysOf(o, draw % o.committable.length)).sort((a, b) => a.from - b.from),
  )
}

function staysOf(option: Found, draw: number): Stay[] {
  const times = option.committable[draw]
  return Array.from({ length: times.length / 2 }, (_, i) => ({ from: times[2 * i], until: times[2 * i + 1], option }))
}

/** What groups cost that find no place which is committed to, per hour. */
function paidBeside(stays: readonly Stay[], committedMachines: number, horizonSeconds: number): number {
  const covered = coveredFrom(
    stays.map(({ from, until, option }) => ({ from, until, width: option.candidate.group.machines })),
    committedMachines,
  )
  const paid = sumOf(
    stays.map((stay, i) => ({ ...stay, since: covered[i] })),
    ({
      from,
      until,
      since,
      option: {
        candidate: { prices },
      },
    }) => {
      const seconds = Math.min(until, since) - from
      return seconds === 0 ? 0 : billedSeconds(seconds, prices, until >= horizonSeconds && since >= until) * prices.onDemandPerHour
    },
  )
  return paid / horizonSeconds
}

/** The most machines that are there at one time. */
function mostMachines(stays: readonly Stay[]): number {
  const changes = stays.flatMap(
    ({
      from,
      until,
      option: {
        candidate: { group },
      },
    }) => [
      { at: from, by: group.machines },
      { at: until, by: -group.machines },
    ],
  )
  changes.sort((a, b) => a.at - b.at || a.by - b.by)
  let there = 0
  return changes.reduce((most, { by }) => Math.max(most, (there += by)), 0)
}

const sumOf = <X>(list: readonly X[], value: (x: X) => number) => list.reduce((total, x) => total + value(x), 0)

/** How long, in seconds over all draws, so many machines of each option are there at the same time. */
export interface Together {
  machines: number[]
  seconds: number
}

/** More combinations than these are merged into means of some. */
const MOST_COMBINATIONS = 2000

/**
 * Every combination of numbers of machines that occurs. Where there are very many, some that are alike stand as their mean:
 * what is paid above a commitment is convex in them, so that it is bounded from below.
 */
export function timesTogether(options: readonly Found[]): { draws: number; combinations: Together[] } {
  const draws = staysByDraw(options)
  const byNumbers = new Map<string, Together>()
  for (const stays of draws) addTimes(byNumbers, stays, options)
  const combinations = [...byNumbers.values()].sort((a, b) => sumOf(b.machines, (n) => n) - sumOf(a.machines, (n) => n))
  const each = Math.ceil(combinations.length / MOST_COMBINATIONS)
  return {
    draws: draws.length,
    combinations:
      each <= 1
        ? combinations
        : Array.from({ length: Math.ceil(combinations.length / each) }, (_, i) => meanOf(combinations.slice(i * each, (i + 1) * each))),
  }
}

function addTimes(byNumbers: Map<string, Together>, stays: readonly Stay[], options: readonly Found[]): void {
  const changes = stays.flatMap(({ from, until, option }) => [
    { at: from, place: options.indexOf(option), by: option.candidate.group.machines },
    { at: until, place: options.indexOf(option), by: -option.candidate.group.machines },
  ])
  changes.sort((a, b) => a.at - b.at)
  const there = options.map(() => 0)
  let since = 0
  for (const { at, place, by } of changes) {
    if (at > since) {
      const known = byNumbers.get(there.join()) ?? { machines: [...there], seconds: 0 }
      known.seconds += at - since
      byNumbers.set(there.join(), known)
      since = at
    }
    there[place] += by
  }
}

function meanOf(some: readonly Together[]): Together {
  const seconds = sumOf(some, (t) => t.seconds)
  return { seconds, machines: some[0].machines.map((_, place) => sumOf(some, (t) => t.machines[place] * t.seconds) / seconds) }
}
