import { PURCHASES, waysOf, type Plan, type Sold } from '@sandclock/core'
import { editService, freeName, type Edit } from './edits.ts'
import { renamed } from './marketEdits.ts'

const withSold = (plan: Plan, soldByTokens: readonly Sold[]): Plan => {
  const { soldByTokens: _, ...rest } = plan
  return { ...rest, ...(soldByTokens.length > 0 && { soldByTokens: [...soldByTokens] }) }
}

/** Another name goes to all that points to it. */
export function editSold(name: string, change: (s: Sold) => Sold): Edit {
  return (plan) => {
    const next = (plan.soldByTokens ?? []).map((s) => (s.name === name ? change(s) : s))
    const to = next.find((_, i) => plan.soldByTokens?.[i].name === name)?.name ?? name
    return renamed(withSold(plan, next), name, to)
  }
}

export const removeSold =
  (name: string): Edit =>
  (plan) =>
    withSold(
      plan,
      (plan.soldByTokens ?? []).filter((s) => s.name !== name),
    )

/** One more that is sold by tokens: like the last, or of the model that the first service of tokens runs; nothing where none does. */
export const addSold: Edit = (plan) => {
  const { soldByTokens: had = [] } = plan
  const taken = [...had, ...plan.machines]
  const like = had.at(-1) ?? plainSold(plan)
  return like ? withSold(plan, [...had, { ...like, name: freeName(had.length > 0 ? `another ${like.name}` : like.name, taken) }]) : plan
}

function plainSold({ models, services }: Plan): Sold | undefined {
  const names = services.map((s) => s.model)
  const model = models.find((m) => names.includes(m.name) && (m.kind === 'dense' || m.kind === 'experts'))
  return (
    model && {
      name: 'hosted model',
      provider: 'provider',
      region: 'region',
      model: model.name,
      variant: model.variants[0].name,
      pricePerMillionInput: 0.5,
      pricePerMillionOutput: 1.5,
      firstToken: { seconds: 0.5 },
      eachToken: { seconds: 0.02 },
    }
  )
}

/** Lets the search of a service try what is sold by tokens beside what it tries already. */
export function tryTokens(service: string): Edit {
  return editService(service, (s) => {
    if (!s.search) return s
    const tried = [...(s.search.purchases ?? ['on-demand']), 'per-token']
    return { ...s, search: { ...s.search, purchases: waysOf(PURCHASES).filter((k) => tried.includes(k)) } }
  })
}
