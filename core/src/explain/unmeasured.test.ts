import { describe, expect, it } from 'vitest'
import { recommend } from '../answer/recommend.ts'
import { answerWords } from '../answer/answerWords.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { RandomStream } from '../random/stream.ts'
import { smallPlan } from '../../test/smallPlan.ts'
import { certaintyWords, unmeasuredWords } from './unmeasured.ts'

describe('a promise of which nothing counts', () => {
  const base = smallPlan(new RandomStream(5, 'unmeasured'), 1)
  const [first] = base.classes
  const answered = (arrivals: (typeof first)['arrivals'], over: 'all' | 'worst-hour', warmupSeconds: number) => {
    const plan = {
      ...base,
      horizon: { ...base.horizon, warmupSeconds },
      classes: [{ ...first, arrivals, targets: [{ measure: 'latency' as const, percentile: 80, seconds: 1e4, over }] }],
    }
    const load = new Load(plan)
    return driveHere(recommend(plan, load), load)
  }

  it('is said to be that, with the reason, and never called met', () => {
    const { seconds } = base.horizon
    for (const [over, reason] of [
      ['all', 'arrives after the warm-up'],
      ['worst-hour', 'in no hour after the warm-up'],
    ] as const) {
      const answer = answered({ kind: 'closed-loop', clients: 1, requestsPerClient: 2, thinkSeconds: 0 }, over, seconds - 1)
      const targets = answer.services[0].chosen?.targets ?? []
      expect(targets.map(certaintyWords)).toEqual(['not measured'])
      expect(unmeasuredWords(targets)).toEqual([expect.stringContaining(reason)])
      expect(answerWords(answer).join(' ')).toContain('is not measured and counts as kept')
    }
  })

  it('is not said of one that was measured', () => {
    const targets = answered({ kind: 'steady', ratePerSecond: 1 }, 'all', 0).services[0].chosen?.targets ?? []
    expect(targets.map(certaintyWords)).toEqual(['meets'])
    expect(unmeasuredWords(targets)).toEqual([])
  })
})
