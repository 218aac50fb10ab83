import { isSearched } from './searched.ts'
import type { Plan, Service } from './schema.ts'

/** One combination that a search may try. */
export interface Combination {
  machine: string
  variant: string
  devices: number
}

type Search = NonNullable<Service['search']>

/** Changes the search of a service; a service that is not searched stays as it is. */
export function editSearch(plan: Plan, serviceName: string, change: (search: Search) => Search): Plan {
  return { ...plan, services: plan.services.map((s) => (s.name === serviceName && s.search ? { ...s, search: change(s.search) } : s)) }
}

/** Lets the search of a service try a combination, whatever left it out before; a service that searches nothing is stated to run there. */
export function takeIn(plan: Plan, serviceName: string, { machine, variant, devices }: Combination): Plan {
  const stated = (s: Service): Service =>
    s.configuration && !s.configuration.profile ? { ...s, configuration: { ...s.configuration, machine, variant, devices } } : s
  if (!isSearched(plan, serviceName)) return { ...plan, services: plan.services.map((s) => (s.name === serviceName ? stated(s) : s)) }
  return editSearch(plan, serviceName, (search) => {
    const covers = (w: NonNullable<Search['without']>[number]) =>
      w.machine === machine && (w.variant ?? variant) === variant && (w.devices ?? devices) === devices
    const without = search.without?.filter((w) => !covers(w)) ?? []
    const { without: _, ...rest } = search
    return {
      ...rest,
      ...(search.machines && { machines: withName(search.machines, machine) }),
      ...(search.variants && { variants: withName(search.variants, variant) }),
      ...(search.devices && { devices: [...new Set([...search.devices, devices])].sort((a, b) => a - b) }),
      ...(without.length > 0 && { without }),
    }
  })
}

/** Keeps the search of a service from trying a combination. */
export function leaveOut(plan: Plan, serviceName: string, { machine, variant, devices }: Combination): Plan {
  return editSearch(plan, serviceName, (search) => ({ ...search, without: [...(search.without ?? []), { machine, variant, devices }] }))
}

const withName = (names: readonly string[], name: string) => (names.includes(name) ? [...names] : [...names, name])
