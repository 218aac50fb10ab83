import type { ScalingPolicy } from '@sandclock/core'
import { editService, type Edit } from './edits.ts'

/** What a policy is called that has nothing but a sleep that was found. */
export const SLEEPS = 'sleeps as measured'

/** Lets a service sleep as it was found to: by one of its policies, or by a new one where none is named. */
export function takeSleep(service: string, policy: string | undefined, idle: NonNullable<ScalingPolicy['idle']>): Edit {
  return editService(service, ({ policies = [], ...s }) => {
    const known = policies.some((p) => p.name === (policy ?? SLEEPS))
    const all = known ? policies : [...policies, { name: SLEEPS, min: 0, max: s.configuration?.replicas ?? 1 }]
    return { ...s, policies: all.map((p) => (p.name === (policy ?? SLEEPS) ? { ...p, min: 0, idle } : p)) }
  })
}
