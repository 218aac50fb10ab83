import { describe, expect, it } from 'vitest'
import { boughtPlan, livingPlan, smallPlan, soldPlan } from '../../test/smallPlan.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Outcome } from '../engine/outcome.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { Load } from '../search/load.ts'
import { LiveRun } from './liveRun.ts'
import { run } from './run.ts'

/** A plan whose callers wait for ever, come once, and each by himself: what a run that goes on with them can know. */
const asTheyCome = (plan: Plan): Plan =>
  checkPlan({
    ...plan,
    classes: plan.classes.map(({ patienceSeconds: _, retries: __, turns: ___, ...c }) => ({
      ...c,
      ...(c.arrivals.kind === 'closed-loop' && { arrivals: { kind: 'steady' as const, ratePerSecond: 0.5 } }),
      ...(c.rateLimit && { rateLimit: { ...c.rateLimit, callers: undefined } }),
    })),
    services: plan.services.map((s) => ({ ...s, policies: s.policies?.map(({ wake: _, ...p }) => p) })),
  })

/** Plays the requests of a run to a live one, each at its time, and looks at it in between. */
function live(plan: Plan, spec: ConstructorParameters<typeof LiveRun>[1], random: RandomStream) {
  const requests = new Load(plan).of(spec.service, 0)
  const tokens = new Float64Array(requests.count)
  const last = new Float64Array(requests.count).fill(NaN)
  const ended = new Float64Array(requests.count).fill(NaN)
  const listener = {
    tokens: (request: number, count: number, now: number) => {
      tokens[request] += count
      last[request] = now
    },
    ended: (request: number, now: number) => void (ended[request] = now),
  }
  const going = new LiveRun(plan, spec, listener, requests.count)
  for (let i = 0; i < requests.count; i++) {
    const at = requests.at[i]
    // Who comes at the same moment comes together.
    if (i > 0 && at > requests.at[i - 1] && random.next() < 0.3)
      going.advance(requests.at[i - 1] + random.next() * (at - requests.at[i - 1]))
    const number = going.arrive(at, requests.classIndex[i], requests.input[i], requests.output[i])
    if (number !== i) throw new Error(`request ${i} was taken for ${number}`)
  }
  going.advance(plan.horizon.seconds)
  return { going, requests, tokens, last, ended }
}

describe('a run that goes on while requests come', () => {
  it.each([
    ['fixed', smallPlan],
    ['by policies', livingPlan],
    ['paid in every way', boughtPlan],
    ['sold by tokens', soldPlan],
  ] as const)('is the run of the same requests, token by token: %s', (_, make) => {
    const random = new RandomStream(12, 'live')
    let seen = 0
    for (let number = 0; number < 12; number++) {
      const plan = asTheyCome(make(random, number))
      const [service] = plan.services
      const fitting = [...enumerate(plan, service)].filter((c) => c.fit.fits && c.maxGroups > 0)
      const candidate = fitting[Math.floor(random.next() * fitting.length)]
      if (!candidate) continue
      const spec = { service: candidate.service, candidate, groups: candidate.elastic ? candidate.maxGroups : 1 }
      const { going, requests, tokens, last, ended } = live(plan, spec, random)
      const { record } = run(plan, spec, requests, { toTheEnd: true })
      const same = (a: number, b: number) => Math.abs(a - b) < 1e-6
      const otherwise: string[] = []
      for (let i = 0; i < requests.count; i++) {
        const note = (what: string) => otherwise.push(`${what} of request ${i} of plan ${number}`)
        if (going.record.outcome[i] !== record.outcome[i]) note('outcome')
        if (record.outcome[i] === Outcome.unfinished) continue
        for (const of of ['start', 'firstToken', 'end'] as const)
          if (record[of][i] === record[of][i] && !same(going.record[of][i], record[of][i])) note(of)
        if (!same(ended[i], record.end[i])) note('end as it was told')
        if (record.outcome[i] !== Outcome.finished || last[i] !== last[i]) continue
        seen++
        // Where drafts are accepted the last step may bring more than is wanted; who was evicted makes none twice.
        if (!(tokens[i] >= requests.output[i] - 1e-6)) note('number of tokens')
        if (!same(last[i], record.end[i])) note('last token')
      }
      expect(otherwise).toEqual([])
    }
    if (make === smallPlan) expect(seen).toBeGreaterThan(300)
  })

  it('says when something happens next, and takes no more than it has room for', () => {
    const plan = asTheyCome(smallPlan(new RandomStream(3, 'live'), 0))
    const [service] = plan.services
    const candidate = [...enumerate(plan, service)].find((c) => c.fit.fits && c.maxGroups > 0)!
    const going = new LiveRun(
      plan,
      { service: candidate.service, candidate, groups: 1 },
      { tokens: () => undefined, ended: () => undefined },
      2,
    )
    expect(going.arrive(10, 0, 50, 3)).toBe(0)
    going.advance(10)
    const next = going.nextTime()
    expect(next).toBeGreaterThan(10)
    expect(next).toBeLessThan(20)
    expect(going.state).toMatchObject({ ready: candidate.group.replicas, arrived: 1, inService: 1, waiting: 0 })
    expect(going.arrive(next, 0, 50, 3)).toBe(1)
    expect(going.arrive(next + 1, 0, 50, 3)).toBeUndefined()
    going.advance(1000)
    expect(going.state).toMatchObject({ inService: 0, waiting: 0 })
  })
})
