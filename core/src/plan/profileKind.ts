import type { Model, Plan, ProfileSpec, Service } from './schema.ts'

/** What kind of profile a service runs, as far as the plan says. */
export function profileKind(plan: Plan, service: Service): ProfileSpec['kind'] | undefined {
  if (service.configuration?.profile) return service.configuration.profile.kind
  const model = plan.models.find((m) => m.name === service.model)
  return model && modelProfileKind(model)
}

/** What kind of profile a model has: by its kind, or by what is given or measured of it. */
export function modelProfileKind(model: Model): ProfileSpec['kind'] | undefined {
  if (model.kind === 'dense' || model.kind === 'experts') return 'token'
  if (model.kind === 'cpu') return 'shared'
  if (model.kind === 'iterative') return 'iterative'
  if (model.kind === 'work') return 'batch'
  const given = model.variants.flatMap((v) => v.profiles ?? [])[0]?.profile.kind
  if (given !== undefined) return given
  // Only measured: rows with prompts are of a token model.
  return model.variants.some((v) => v.measurements?.some((m) => m.rows.some((r) => r.input !== undefined))) ? 'token' : 'batch'
}
