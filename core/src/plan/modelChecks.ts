import { missing } from './nameChecks.ts'
import { shown, type Problem } from './problem.ts'
import type { Model, Plan, Variant } from './schema.ts'

export function variantFields(model: Model, index: number): Problem[] {
  return model.variants.flatMap((variant, j) => {
    const path = `models[${index}].variants[${j}]`
    if (model.kind === 'given') {
      return variant.profiles?.length || variant.measurements?.length
        ? measurementProblems(variant, path)
        : [{ path: `${path}.profiles`, rule: 'is missing; a model of kind "given" states its coefficients or measurements' }]
    }
    return [...bitProblems(model, variant, path), ...measurementProblems(variant, path)]
  })
}

/** Coefficients and measurements of a machine that there is none of would be passed over in silence. */
export function strangeMachines(plan: Plan, model: Model, index: number): Problem[] {
  const isThere = (name: string | undefined) => name === undefined || plan.machines.some((m) => m.name === name)
  return model.variants.flatMap((variant, j) =>
    (['profiles', 'measurements'] as const).flatMap((list) =>
      (variant[list] ?? []).flatMap(({ machine }, k) =>
        machine === undefined || isThere(machine)
          ? []
          : [missing(`models[${index}].variants[${j}].${list}[${k}].machine`, machine, 'machines')],
      ),
    ),
  )
}

/** The bits that a derivation needs, each stated in one way only. */
function bitProblems(model: Model, variant: Variant, path: string): Problem[] {
  if (model.kind === 'cpu' || model.kind === 'given') return []
  const problems: Problem[] = []
  const one = (a: keyof Variant, b: keyof Variant, needed: boolean) => {
    if (variant[a] === undefined && variant[b] === undefined && needed)
      problems.push({ path: `${path}.${a}`, rule: `is missing; a model of kind "${model.kind}" needs it or "${b}"` })
    if (variant[a] !== undefined && variant[b] !== undefined)
      problems.push({ path: `${path}.${b}`, rule: `must be left out: "${a}" says it already` })
  }
  one('weightBits', 'bytesPerWeight', true)
  one('cacheBits', 'bytesPerCacheElement', model.kind === 'dense' || model.kind === 'experts')
  if (variant.arithmeticBits === undefined)
    problems.push({ path: `${path}.arithmeticBits`, rule: `is missing; a model of kind "${model.kind}" needs it` })
  if (variant.groupSize === undefined && (variant.scaleBits || variant.zeroPointBits))
    problems.push({ path: `${path}.groupSize`, rule: 'is missing; scales and zero points belong to groups of weights' })
  return problems
}

function measurementProblems(variant: Variant, path: string): Problem[] {
  return (variant.measurements ?? []).flatMap((m, i) =>
    m.rows.some((r) => r.ttftSeconds !== undefined || r.tpotSeconds !== undefined || r.latencySeconds !== undefined)
      ? []
      : [{ path: `${path}.measurements[${i}].rows`, rule: 'must have a TTFT, a TPOT or a latency in at least one row' }],
  )
}

/** A mixture of experts has fewer active parameters than parameters, and picks no more experts than there are. */
export function expertProblems(model: Model, index: number): Problem[] {
  if (model.kind !== 'experts') return []
  const { parameters, activeParameters, experts, expertsPerToken } = model
  const path = `models[${index}]`
  if (expertsPerToken > experts)
    return [{ path: `${path}.expertsPerToken`, found: shown(expertsPerToken), rule: `must be at most the ${experts} experts of a layer` }]
  if (activeParameters > parameters)
    return [{ path: `${path}.activeParameters`, found: shown(activeParameters), rule: `must be at most all ${parameters} parameters` }]
  const least = (parameters * expertsPerToken) / experts
  return activeParameters < least
    ? [
        {
          path: `${path}.activeParameters`,
          found: shown(activeParameters),
          rule: `must be at least ${Math.ceil(least)}: ${expertsPerToken} of ${experts} experts of all parameters`,
        },
      ]
    : []
}
