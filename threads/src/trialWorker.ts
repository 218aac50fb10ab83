import { Errands, type Errand, type Plan } from '@sandclock/core'
import { workerData } from 'piscina'
import type { Reply } from './trialPool.ts'

const errands = new Errands(workerData as Plan) // as given in `trialPool`

/** Carries out one order. */
export default function run(errand: Errand): Reply {
  try {
    return { ok: true, result: errands.run(errand) }
  } catch (error) {
    return { ok: false, message: error instanceof Error ? error.message : String(error) }
  }
}
