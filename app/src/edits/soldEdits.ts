import { PURCHASES, waysOf, type Plan, type Sold } from '@sandclock/core'
import { editService, freeName, type Edit } from './edits.ts'
import { renamed, withSold } from './marketEdits.ts'

/** Another name goes to all that points to it. */
export function editSold(name: string, change: (s: Sold) => Sold): Edit {
  return (plan) => {
    const before = plan.soldByTokens?.find((s) => s.name === name)
    if (!before) return plan
    const after = change(before)
    return renamed(
      withSold(plan, (list) => list.map((s) => (s === before ? after : s))),
      name,
      after.name,
    )
  }
}

export const removeSold =
  (name: string): Edit =>
  (plan) =>
    withSold(plan, (list) => list.filter((s) => s.name !== name))

/** One more that is sold by tokens: like the last, or of the model that the first service of tokens runs; nothing where none does. */
export const addSold: Edit = (plan) => {
  const { soldByTokens: had = [] } = plan
  const taken = [...had, ...plan.machines]
  const like = had.at(-1) ?? plainSold(plan)
  if (!like) return plan
  const name = freeName(had.length > 0 ? `another ${like.name}` : like.name, taken)
  return withSold(plan, (list) => [...list, { ...like, name }])
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
