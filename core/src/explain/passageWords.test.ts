import { describe, expect, it } from 'vitest'
import { smallPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { classLine, moneyLine, serviceLine, trustLine } from './passageWords.ts'

const plan = checkPlan(smallPlan(new RandomStream(5, 'small plans'), 0))
const [c, service] = [plan.classes[0], plan.services[0]]
const plain = (s: string) => s.replaceAll(/[\u00a0\u202f]/g, ' ')

describe('passages of the sentence, folded to their key figures', () => {
  it('a class says what arrives at the most, spikes and all, and its first promise', () => {
    const spiked: Plan['classes'][number] = {
      ...c,
      arrivals: { kind: 'steady', ratePerSecond: 2, spikes: [{ startSeconds: 60, durationSeconds: 60, factor: 4 }] },
      targets: [
        { measure: 'ttft', percentile: 95, seconds: 0.6, over: 'worst-hour' },
        { measure: 'lost', share: 0.01 },
      ],
    }
    expect(plain(classLine(plan, spiked))).toBe('8.00 /s · p95 TTFT 600 ms')
    expect(plain(classLine(plan, { ...spiked, targets: [] }))).toBe('8.00 /s')
    expect(plain(classLine(plan, { ...spiked, arrivals: { kind: 'log' }, targets: [] }))).toBe('the rows of the request log')
    const loop = { kind: 'closed-loop', clients: 1200, requestsPerClient: 3, thinkSeconds: 0 } as const
    expect(plain(classLine(plan, { ...spiked, arrivals: loop, targets: [] }))).toBe('1 200 clients')
  })

  it('a service says what it runs and how many ways of scaling it tries', () => {
    const { policies: _, ...bare } = service
    const timed = { ...bare, model: 'Curlew 14B', startupSeconds: 90, search: { ...service.search!, sequences: [16, 32] } }
    expect(plain(serviceLine(timed))).toBe('Curlew 14B · ready in 90 s · 16 or 32 at once')
    const policy = { name: 'p', min: 1, max: 2 }
    expect(plain(serviceLine({ ...timed, policies: [policy] }))).toBe('Curlew 14B · ready in 90 s · 1 policy')
  })

  it('money says what it may cost and how the load grows, the rest how sure it is', () => {
    const { budgetPerMonth: _, expectedGrowthPerMonth: __, fixedCosts: ___, ...free } = plan
    expect(moneyLine(free)).toBe('no budget')
    const bound = { ...free, currency: 'EUR', budgetPerMonth: 3200, fixedCosts: [{ name: 'x', perMonth: 1 }], expectedGrowthPerMonth: 0.05 }
    expect(plain(moneyLine(bound))).toBe('at most 3 200 EUR a month · 1 fixed cost · grows 5 % a month')
    expect(plain(trustLine({ ...plan, margin: 0.15, repetitions: 3 }))).toBe('15 % to spare · 3 draws')
  })
})
