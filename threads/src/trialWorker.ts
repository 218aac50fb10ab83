import { Errands, type Plan } from '@sandclock/core'
import type { Reply, Task } from './trialPool.ts'

/** Plans that a thread knows at a time: as many searches as may go on at once, and one more. */
const KNOWN_PLANS = 3
const known = new Map<string, Errands>()

/** Carries out one order. */
export default function run({ errand, planKey, planText, stopped }: Task): Reply {
  if (Atomics.load(new Int32Array(stopped), 0) === 1) return { ok: false, message: 'the search was stopped' }
  try {
    return { ok: true, result: errandsOf(planKey, planText).run(errand) }
  } catch (error) {
    return { ok: false, message: error instanceof Error ? error.message : String(error) }
  }
}

/** The errands of a plan; the plan that was asked for longest ago is forgotten for a new one. */
function errandsOf(planKey: string, planText: SharedArrayBuffer): Errands {
  // Written by `trialPool`.
  const errands = known.get(planKey) ?? new Errands(JSON.parse(new TextDecoder().decode(new Uint8Array(planText).slice())) as Plan)
  known.delete(planKey)
  known.set(planKey, errands)
  for (const key of known.keys()) if (known.size > KNOWN_PLANS) known.delete(key)
  return errands
}
