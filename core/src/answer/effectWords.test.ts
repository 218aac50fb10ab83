import { describe, expect, it } from 'vitest'
import { smallPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { effectWords } from './effectWords.ts'
import { recommend } from './recommend.ts'

const base = smallPlan(new RandomStream(5, 'small plans'), 0)
const promised = (seconds: number, patch: Partial<Plan> = {}) =>
  checkPlan({
    ...base,
    ...patch,
    classes: base.classes.map((c) => ({ ...c, targets: [{ measure: 'latency', percentile: 90, seconds }] })),
  } as Plan)
const answerTo = (p: Plan) => {
  const load = new Load(p)
  return driveHere(recommend(p, load), load)
}
const plain = (s: string) => s.replaceAll(/[\u00a0\u202f]/g, ' ')
const easy = answerTo(promised(30))

describe('what a change did to the verdict', () => {
  it('another price', () => {
    const dearer = answerTo(promised(30, { machines: base.machines.map((m) => ({ ...m, pricePerHour: (m.pricePerHour ?? 1) * 2 })) }))
    expect(plain(effectWords(easy, dearer))).toMatch(/^[\d .]+ EUR → [\d .]+ EUR a month$/)
  })
  it('the same price with less to spare, and with what there was', () => {
    expect(plain(effectWords(easy, answerTo(promised(29))))).toMatch(/^[\d .]+ EUR as before; [\d.]+ % to spare, was [\d.]+ %$/)
    expect(plain(effectWords(easy, easy))).toMatch(/^[\d .]+ EUR as before; [\d.]+ % to spare$/)
  })
  it('nothing holds, still nothing, and something again', () => {
    const none = answerTo(promised(0.001))
    expect(effectWords(easy, none)).toBe('nothing holds for talk; held before')
    expect(effectWords(none, none)).toBe('nothing holds for talk, as before')
    expect(plain(effectWords(none, easy))).toMatch(/^holds now, for [\d .]+ EUR a month$/)
  })
  it('over the budget', () => {
    expect(effectWords(easy, answerTo(promised(30, { budgetPerMonth: 1 })))).toBe('over the budget; held before')
  })
})
