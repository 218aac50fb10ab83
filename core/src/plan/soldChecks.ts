import { duplicates, missing } from './nameChecks.ts'
import { shown, type Problem } from './problem.ts'
import { modelProfileKind } from './profileKind.ts'
import type { Plan, Service } from './schema.ts'

/** What is sold by tokens serves a model of tokens that the plan has, under a name that no machine has. */
export function soldProblems(plan: Plan): Problem[] {
  const { soldByTokens = [], models, machines, services } = plan
  return [
    ...services.flatMap((service, i) => followedProblems(plan, service, `services[${i}].configuration.policy`)),
    ...duplicates('soldByTokens', soldByTokens),
    ...soldByTokens.flatMap((sold, i): Problem[] => {
      const path = `soldByTokens[${i}]`
      const model = models.find((m) => m.name === sold.model)
      const kind = model && modelProfileKind(model)
      return [
        ...(machines.some((m) => m.name === sold.name)
          ? [{ path: `${path}.name`, found: shown(sold.name), rule: 'must differ from the names in "machines"' }]
          : []),
        ...(model ? [] : [missing(`${path}.model`, sold.model, 'models')]),
        ...(kind !== undefined && kind !== 'token'
          ? [
              {
                path: `${path}.model`,
                found: shown(sold.model),
                rule: 'must be a model with prompts and answers: others have no tokens to sell',
              },
            ]
          : []),
        ...(model && !model.variants.some((v) => v.name === sold.variant) ? [missing(`${path}.variant`, sold.variant, 'models')] : []),
      ]
    }),
  ]
}

function followedProblems({ soldByTokens = [] }: Plan, { configuration: c }: Service, path: string): Problem[] {
  if (c?.policy === undefined || !soldByTokens.some((s) => s.name === c.machine)) return []
  return [
    {
      path,
      found: shown(c.policy),
      rule: `must be left out: ${c.machine} is sold by tokens, and has no replicas that could follow the load`,
    },
  ]
}
