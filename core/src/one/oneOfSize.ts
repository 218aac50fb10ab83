import { beginPlan } from '../begin/beginPlan.ts'
import { figuresOf } from '../begin/openings.ts'
import { modelOfSize } from '../begin/sizedModel.ts'
import { checkPlan } from '../plan/read.ts'
import { BadInput, shown } from '../plan/problem.ts'
import type { Machine } from '../plan/schema.ts'
import type { OneAsked } from './asked.ts'
import { likelyAsked, likelyPlace, type ReplicaPlace } from './likely.ts'
import { oneRequest, type OneRequest } from './oneRequest.ts'

/** What somebody knows who has a model's size and a machine's name: the rest is as a plan that is begun has it. */
export interface SizedAsked extends Pick<OneAsked, 'machine' | 'finds' | 'input' | 'output' | 'others'> {
  /** billions of parameters of a dense model */
  billions: number
  /** packing of its weights; the first that fits, from the most bits on, if left out */
  variant?: string
}

/**
 * One request to a model of which the size is known, on one machine, over as few of its devices as take it.
 *
 * @throws BadInput where it does not fit there, or can not be served
 */
export function oneOfSize(machines: readonly Machine[], currency: string, sized: SizedAsked): OneRequest {
  const { billions, machine, variant, ...asked } = sized
  const model = modelOfSize(billions)
  const plan = checkPlan(beginPlan({ ...figuresOf('chat'), own: { from: 'size', model } }, machines, currency))
  const [service] = plan.services
  const variants = variant === undefined ? model.variants.map((v) => v.name) : [variant]
  let place: ReplicaPlace | undefined
  for (const v of variants) place ??= likelyPlace(plan, service, { machine, variant: v })
  if (!place)
    throw new BadInput('This request can not be laid out.', [
      {
        path: 'machine',
        found: shown(machine),
        rule: `has no room for ${model.name}${variant === undefined ? '' : ` in ${variant}`}, over any number of its devices; take another, or fewer bits`,
      },
    ])
  return oneRequest(plan, { ...likelyAsked(plan, service, place), ...asked })
}
