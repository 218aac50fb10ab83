import type { Model, Plan } from '../src/plan/schema.ts'

/**
 * A plan with some of its machines and all of its other names pointing to what is there: coefficients and measurements of the others go.
 */
export function withMachines(plan: Plan, keep: (name: string) => boolean): Plan {
  const here = ({ machine }: { machine?: string | undefined }) => machine === undefined || keep(machine)
  const models = plan.models.map((m) => ({
    ...m,
    variants: m.variants.map((v) => ({
      ...v,
      ...(v.profiles && { profiles: v.profiles.filter(here) }),
      ...(v.measurements && { measurements: v.measurements.filter(here) }),
    })),
  })) as Model[] // only lists of variants change
  const used = new Set(plan.services.map((s) => s.model))
  return {
    ...plan,
    machines: plan.machines.filter((m) => keep(m.name)),
    models: models.filter(
      (m) => used.has(m.name) && m.variants.every((v) => m.kind !== 'given' || v.profiles?.length || v.measurements?.length),
    ),
  }
}

/** A plan with one of its services and the classes that it answers. */
export function withService(plan: Plan, name: string): Plan {
  const services = plan.services.filter((s) => s.name === name)
  return {
    ...plan,
    services,
    classes: plan.classes.filter((c) => c.service === name),
    models: plan.models.filter((m) => services.some((s) => s.model === m.name)),
  }
}
