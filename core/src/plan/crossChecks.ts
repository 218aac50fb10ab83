import { classProblems } from './classChecks.ts'
import { expertProblems, strangeMachines, variantFields } from './modelChecks.ts'
import { duplicates } from './nameChecks.ts'
import { shown, type Problem } from './problem.ts'
import type { Plan } from './schema.ts'
import { serviceProblems } from './serviceChecks.ts'
import { soldProblems } from './soldChecks.ts'

/** Rules between fields: names that must exist once, classes that fit their service. */
export function crossChecks(plan: Plan): Problem[] {
  return [
    ...duplicates('classes', plan.classes),
    ...duplicates('services', plan.services),
    ...duplicates('models', plan.models),
    ...duplicates('machines', plan.machines),
    ...soldProblems(plan),
    ...plan.models.flatMap((m, i) => duplicates(`models[${i}].variants`, m.variants)),
    ...plan.models.flatMap(variantFields),
    ...plan.models.flatMap((m, i) => strangeMachines(plan, m, i)),
    ...plan.models.flatMap(expertProblems),
    ...warmup(plan),
    ...plan.classes.flatMap((c, i) => classProblems(plan, c, `classes[${i}]`)),
    ...plan.services.flatMap((s, i) => serviceProblems(plan, s, `services[${i}]`)),
  ]
}

function warmup(plan: Plan): Problem[] {
  const { warmupSeconds, seconds } = plan.horizon
  if (warmupSeconds < seconds) return []
  return [{ path: 'horizon.warmupSeconds', found: shown(warmupSeconds), rule: `must be less than the horizon of ${seconds} seconds` }]
}
