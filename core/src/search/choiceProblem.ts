import { surcharged } from '../plan/machineSchema.ts'
import { obtainable } from '../plan/machineSchema.ts'
import type { Found } from './found.ts'
import { besidePerHour, byCommittedMachine, timesTogether, type Choices } from './sharedPlaces.ts'

/** The variable that says whether an option is taken, 0 or 1. */
export const taken = (service: number, option: number): string => `take_${service}_${option}`

/**
 * The choice of one option for each service as a linear program with integers, in the CPLEX LP format: together they stay
 * within stock and quota of every machine, and share none that takes one model only. The objective is what they cost an hour,
 * or less: where several services may commit to one machine they do so together, as many as is best, and what they have above
 * that at any moment is paid on demand, without billing steps and as if a place that gets free were filled at once.
 *
 * @param excluded choices that are not to be made again, by the place of the option of each service; -1 where there is none
 */
export function choiceProblem(choices: Choices, horizonSeconds: number, excluded: readonly (readonly number[])[]): string {
  const all = choices.flatMap((options, service) => options.map((found, option) => ({ found, service, name: taken(service, option) })))
  const nameOf = new Map(all.map((a) => [a.found, a.name]))
  const shared = byCommittedMachine(choices)
  const costs: string[] = []
  const limits: string[] = []
  const integers: string[] = []
  const sharing = new Set([...shared.values()].flat())
  for (const { found, name } of all) costs.push(term(sharing.has(found) ? besidePerHour(found, horizonSeconds) : found.perHour, name))
  choices.forEach(
    (options, service) => options.length > 0 && limits.push(`${options.map((_, option) => term(1, taken(service, option))).join(' ')} = 1`),
  )
  limits.push(...stockLimits(all))
  ;[...shared].forEach(([, options], place) => {
    const { machine } = options[0].candidate
    const pricePerHour = surcharged(machine.pricePerHour, machine) ?? 0 // those that share have both prices
    const committedPerHour = surcharged(machine.committedPerHour, machine) ?? pricePerHour
    integers.push(`commit_${place}`)
    costs.push(term(committedPerHour, `commit_${place}`))
    const { draws, combinations } = timesTogether(options)
    combinations.forEach(({ machines, seconds }, k) => {
      const above = `above_${place}_${k}`
      costs.push(term((pricePerHour * seconds) / (horizonSeconds * draws), above))
      limits.push(
        `${machines
          .map((n, i) => (n === 0 ? '' : term(n, nameOf.get(options[i]) ?? '')))
          .filter(Boolean)
          .join(' ')} - 1 commit_${place} - 1 ${above} <= 0`,
      )
    })
  })
  for (const choice of excluded) {
    const made = choice.flatMap((option, service) => (option < 0 ? [] : [term(1, taken(service, option))]))
    limits.push(`${made.join(' ')} <= ${made.length - 1}`)
  }
  return [
    'Minimize',
    ` cost: ${costs.join('\n  ')}`,
    'Subject To',
    ...limits.map((l, i) => ` l${i}: ${l}`),
    'Binary',
    ` ${all.map((a) => a.name).join(' ')}`,
    ...(integers.length > 0 ? ['General', ` ${integers.join(' ')}`] : []),
    'End',
    '',
  ].join('\n')
}

/** What can be had of each machine, and which take one model only. */
function stockLimits(all: readonly { found: Found; name: string }[]): string[] {
  const byMachine = new Map<string, { found: Found; name: string }[]>()
  for (const one of all) byMachine.set(one.found.candidate.machine.name, [...(byMachine.get(one.found.candidate.machine.name) ?? []), one])
  return [...byMachine.values()].flatMap((some) => {
    const { machine } = some[0].found.candidate
    const has = obtainable(machine)
    return [
      ...(Number.isFinite(has) ? [`${some.map(({ found, name }) => term(found.machines, name)).join(' ')} <= ${has}`] : []),
      ...(machine.ceilings?.oneModel ? [`${some.map(({ name }) => term(1, name)).join(' ')} <= 1`] : []),
    ]
  })
}

/** @example term(-1.5, 'x') // '- 1.5 x' */
const term = (factor: number, name: string) => `${factor < 0 ? '-' : '+'} ${Math.abs(factor)} ${name}`
