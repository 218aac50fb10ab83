import type { Combination, Found, ProfileSpec, Reached } from '@sandclock/core'
import type { Edit } from './edits.ts'
import { editVariant } from './marketEdits.ts'

/** Where step costs that were found belong, and what of them is taken in. */
export interface TakenCosts {
  model: string
  at: Combination
  profile: ProfileSpec
  measured: Found
  /** shares of a machine's rates that they reach, for all that is not measured; nothing is said of others if left out */
  reached?: Reached | undefined
}

/** Takes step costs in that were found behind measured requests. */
export function takeCosts({ model, at, profile, measured, reached }: TakenCosts): Edit {
  const place = editVariant(model, at.variant, (v) => ({
    ...v,
    profiles: [
      { machine: at.machine, ...(at.devices > 1 && { devices: at.devices }), profile, measured },
      ...(v.profiles ?? []).filter((p) => p.machine !== at.machine || (p.devices ?? 1) !== at.devices),
    ],
  }))
  return (plan) => {
    const next = place(plan)
    if (!reached) return next
    const source = `reached by ${at.variant} on ${at.machine}, measured: ${measured.by}`.slice(0, 400)
    return {
      ...next,
      assumptions: { ...next.assumptions, memoryEfficiency: reached.memory, arithmeticEfficiency: reached.arithmetic, source },
      // As wide as what was stated, or wider: nothing was measured there.
      doubt: { ...next.doubt, derived: Math.max(reached.doubt, next.doubt?.derived ?? 0) },
    }
  }
}

/** Step costs of a service that states its own, in place of them; what its cache holds stays as it is stated. */
export function takeOwnCosts(service: string, profile: ProfileSpec): Edit {
  return (plan) => ({
    ...plan,
    services: plan.services.map((s) => {
      if (s.name !== service || !s.configuration?.profile || profile.kind !== 'token') return s
      const before = s.configuration.profile
      const cache = before.kind === 'token' && before.cacheTokens !== undefined ? { cacheTokens: before.cacheTokens } : {}
      return { ...s, configuration: { ...s.configuration, profile: { ...profile, ...cache } } }
    }),
  })
}
