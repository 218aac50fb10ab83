import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { livingPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { RandomStream } from '../random/stream.ts'
import { statedAs } from '../run/statedAs.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import type { Choice } from './answer.ts'
import { answerWords } from './answerWords.ts'
import { configured, simulateConfigured } from './configured.ts'
import { rankedPoints } from './frontierPoints.ts'
import { recommend } from './recommend.ts'
import { verdict } from './verdict.ts'

const answerTo = (plan: Plan) => {
  const load = new Load(plan)
  return driveHere(recommend(plan, load), load)
}
const alone: Plan = checkPlan(JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')))

/** The plan with what was chosen stated, and nothing searched. */
function stating(plan: Plan, c: Choice): Plan {
  const stated = statedAs(plan, plan.services[0].name, c, c.machines)
  if (!stated) throw new Error('it was just chosen')
  return checkPlan({ ...plan, services: [stated] })
}

describe('a service that states what it is run as and searches nothing', () => {
  it('is answered to the last digit as a search answers that chooses it: fixed, by a policy, and however it is paid', () => {
    const random = new RandomStream(31, 'stated')
    const seen = new Set<string>()
    for (let n = 0; n < 7; n++) {
      const plan = checkPlan({ ...livingPlan(random, n), repetitions: 2 })
      const [searched] = answerTo(plan).services
      for (const choice of [searched.chosen, ...searched.runnersUp]) {
        if (!choice || choice.setting !== null) continue
        const answer = answerTo(stating(plan, choice))
        const [stated] = answer.services
        expect({ ...stated.chosen, dearer: null }).toEqual({ ...choice, dearer: null })
        expect([answer.meets, stated.candidates, stated.runnersUp, stated.rejected]).toEqual([true, 1, [], []])
        if (choice === searched.chosen) {
          expect(stated.classes).toEqual(searched.classes)
          expect(stated.breaking?.breaksAt).toBe(searched.breaking?.breaksAt)
        }
        seen.add(`${choice.policy === null ? 'fixed' : 'policy'}, ${choice.purchase.kind}`)
      }
    }
    expect([...seen].sort()).toEqual(expect.arrayContaining(['fixed, on-demand', 'policy, on-demand']))
  })

  it('with step costs of its own is what a simulation of it says, and costs what its replicas cost', () => {
    const [service] = alone.services
    const answer = answerTo(alone)
    const load = new Load(alone)
    const ready = configured(alone, service, service.configuration!)
    if (!ready.ok) throw new Error('it states its own step costs')
    const simulated = simulateConfigured(alone, service, service.configuration!, load, ready)
    expect(answer.services[0].chosen?.targets).toEqual(simulated.targets)
    expect(answer.perHour).toBe(2 * 2.5)
    expect(verdict(answer)).toMatchObject({ meets: true, stated: true, missing: [], unserved: [] })
  })

  it('that misses is told with its figures, as the answer, and never as one that keeps', () => {
    const missing = checkPlan({ ...alone, classes: [{ ...alone.classes[0], arrivals: { kind: 'steady', ratePerSecond: 40 } }] })
    const answer = answerTo(missing)
    expect([answer.meets, answer.services[0].chosen?.replicas, answer.services[0].breaking]).toEqual([false, 2, null])
    expect(verdict(answer).missing).toEqual(['talk'])
    expect(rankedPoints(missing, missing.services[0], answer.services[0]).map((p) => p.holds)).toEqual([false])
    expect(answerWords(answer).join('\n')).toMatch(
      /^talk: It loses [\d.]+.% of the callers of pilot desk .* nothing is promised about losses\.\nAs stated talk does not keep every promise, for 3.650.EUR a month \(5\.00.EUR for these 1.h\)\.\n/,
    )
    expect(answerWords(answer).join('\n')).not.toContain('rent')
  })

  it('that can not be had or run is refused with the reason', () => {
    const random = new RandomStream(31, 'stated')
    const plans = Array.from({ length: 7 }, (_, n) => checkPlan({ ...livingPlan(random, n), repetitions: 1 }))
    const found = plans.map((plan) => ({ plan, chosen: answerTo(plan).services[0].chosen })).find((f) => f.chosen)
    if (!found?.chosen) throw new Error('something holds')
    const stated = stating(found.plan, found.chosen)
    const [{ configuration: c, policies: _, ...service }] = stated.services
    const { policy: __, ...configuration } = c!
    const refused = answerTo(checkPlan({ ...stated, services: [{ ...service, configuration: { ...configuration, replicas: 1999 } }] }))
    expect([refused.meets, refused.services[0].chosen, refused.services[0].rejected.length]).toEqual([false, null, 1])
    expect(answerWords(refused)[1]).toMatch(/what is stated can not be had or run: .*1 ?999 machines/)
  })
})
