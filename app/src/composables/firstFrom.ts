import type { FirstFrom, Plan, Service } from '@sandclock/core'

/** What new fields of a plan are filled from: its start, and the names that a field of a class or a service may point to. */
export function firstFrom(plan: Plan, service?: Service): FirstFrom {
  const named = (list: readonly { name: string }[]) => list.map((x) => x.name)
  const variants = () => named(plan.models.find((m) => m.name === service?.model)?.variants ?? [])
  const names: Record<string, () => readonly string[]> = {
    service: () => named(plan.services),
    model: () => named(plan.models),
    machine: () => named(plan.machines),
    machines: () => named(plan.machines),
    variant: variants,
    variants,
    policy: () => named(service?.policies ?? []),
  }
  return {
    start: plan.horizon.start,
    namesFor: (key) => {
      const list = Object.hasOwn(names, key) ? names[key]() : []
      return list.length > 0 ? list : undefined
    },
  }
}
