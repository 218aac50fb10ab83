import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { variedPlan } from '../../test/smallPlan.ts'
import type { Requests } from '../demand/requests.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { Load } from './load.ts'

const columns = ({ count, at, classIndex, input, output, chain }: Requests) => ({
  count,
  at: [...at.subarray(0, count)],
  classIndex: [...classIndex.subarray(0, count)],
  input: [...input.subarray(0, count)],
  output: [...output.subarray(0, count)],
  chain: chain && { pause: [...chain.pause.subarray(0, count)] },
})

/** Two services with the classes of one plan, a day at the most. */
function split(plan: Plan): Plan {
  const [service] = plan.services
  const [first] = plan.classes
  return checkPlan({
    ...plan,
    services: [service, { ...service, name: 'other' }],
    classes: [first, { ...first, name: 'second', service: 'other' }, { ...first, name: 'third' }],
  })
}

describe('the requests of one service', () => {
  const random = new RandomStream(12, 'loads')
  const short = checkPlan({ ...skerrySound, horizon: { ...skerrySound.horizon, seconds: 6 * 3600 } })
  it.each<[string, Plan]>([
    ['the demo', short],
    ...Array.from({ length: 12 }, (_, i): [string, Plan] => [`random plan ${i}`, split(variedPlan(random, i))]),
  ])('are the same drawn alone as taken out of all, in %s', (_, plan) => {
    for (const service of plan.services) {
      for (const repetition of [0, 1]) {
        const alone = new Load(plan).of(service, repetition)
        const whole = new Load(plan)
        whole.all(repetition)
        expect(columns(alone)).toEqual(columns(whole.of(service, repetition)))
      }
    }
  })
})
