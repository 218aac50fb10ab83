import { describe, expect, it } from 'vitest'
import { smallPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { movedSentence } from './moved.ts'
import { recommend } from './recommend.ts'

const plan = checkPlan({
  ...smallPlan(new RandomStream(5, 'small plans'), 0),
  classes: smallPlan(new RandomStream(5, 'small plans'), 0).classes.map((c) => ({
    ...c,
    targets: [{ measure: 'latency', percentile: 90, seconds: 30 }],
  })),
} as Plan)
const answerTo = (p: Plan) => {
  const load = new Load(p)
  return driveHere(recommend(p, load), load)
}
const plain = (s: string | undefined) => s?.replaceAll(/[\u00a0\u202f]/g, ' ')
const before = answerTo(plan)
const chosen = before.services[0].chosen!
const moved = (change: (p: Plan) => Plan) => plain(movedSentence(before, answerTo(checkPlan(change(plan))), 'talk'))
const withMachine = (change: (m: Plan['machines'][number]) => Plan['machines'][number]) => (p: Plan) => ({
  ...p,
  machines: p.machines.map((m) => (m.name === chosen.machine ? change(m) : m)),
})

describe('why the answer moved', () => {
  it('says nothing where it did not', () => {
    expect(moved((p) => p)).toBeUndefined()
  })
  it('the same machines for another price', () => {
    expect(moved(withMachine((m) => ({ ...m, pricePerHour: m.pricePerHour! * 0.9 })))).toMatch(
      /^Before your change it was \d × \w+ with .*; now the same machines, [\d .]+ EUR less$/,
    )
  })
  it('dearer than what is cheapest now', () => {
    expect(moved(withMachine((m) => ({ ...m, pricePerHour: m.pricePerHour! * 1.9 })))).toMatch(
      /it still holds, for .* more than what is cheapest now|it costs at least/,
    )
  })
  it('the same, paid in another way', () => {
    const committed = (p: Plan): Plan => ({
      ...withMachine((m) => ({ ...m, committedPerHour: m.pricePerHour! / 2 }))(p),
      services: p.services.map((s) => ({ ...s, search: { ...s.search!, purchases: ['committed', 'on-demand'] } })),
    })
    expect(moved(committed)).toMatch(/now the same is paid committed, [\d .]+ EUR less$/)
  })
  it('sold out, with the reason', () => {
    expect(moved(withMachine((m) => ({ ...m, stock: 0 })))).toMatch(/now it fails: .*0/)
  })
  it('and a promise that it can not keep any more', () => {
    expect(
      moved((p) => ({
        ...p,
        classes: p.classes.map((c) => ({ ...c, targets: [{ measure: 'latency' as const, percentile: 90, seconds: 0.05 }] })),
      })),
    ).toMatch(/now it fails: pilot desk: p90 latency is .* even alone/)
  })
})
