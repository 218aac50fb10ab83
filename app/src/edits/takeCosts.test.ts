import { checkPlan, type ProfileSpec } from '@sandclock/core'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import { copyVariant } from './marketEdits.ts'
import { takeCosts, takeOwnCosts } from './takeCosts.ts'
import { SLEEPS, takeSleep } from './takeSleep.ts'

const profile: ProfileSpec = {
  kind: 'token',
  memorySeconds: 0.02,
  cacheSecondsPerToken: 1e-7,
  arithmeticSeconds: 0,
  overheadSeconds: { base: 0, perSequence: 1e-4 },
  prefillBaseSeconds: 0.005,
  prefillMemorySeconds: 0,
  prefillSecondsPerToken: 1e-4,
  prefillSecondsPerTokenSquared: 0,
}
const measured = { by: 'the harbour', concurrency: 16, input: 1600, output: 120 }
const model = demoPlan.services[0].model!
const [variant] = demoPlan.models.find((m) => m.name === model)!.variants
const [machine] = demoPlan.machines
const taken = { model, at: { machine: machine.name, variant: variant.name, devices: 2 }, profile, measured }
const profilesOf = (plan: typeof demoPlan) => plan.models.find((m) => m.name === model)!.variants[0].profiles

describe('step costs that were found', () => {
  it('are taken in for their place, once, and are not those of a copy', () => {
    const once = checkPlan(takeCosts(taken)(demoPlan))
    expect(profilesOf(once)).toContainEqual({ machine: machine.name, devices: 2, profile, measured })
    expect(once.assumptions).toEqual(demoPlan.assumptions)
    const twice = takeCosts({ ...taken, measured: { ...measured, by: 'the harbour again' } })(once)
    expect(profilesOf(twice)!.filter((p) => p.measured)).toEqual([
      expect.objectContaining({ measured: { ...measured, by: 'the harbour again' } }),
    ])
    const copied = copyVariant(model, variant.name)(once).models.find((m) => m.name === model)!.variants[1]
    expect((copied.profiles ?? []).some((p) => p.measured)).toBe(false)
  })

  it('stand for others too where their shares are taken, and say so', () => {
    const plan = checkPlan(takeCosts({ ...taken, reached: { memory: 0.58, arithmetic: 0.41, doubt: 0.21 } })(demoPlan))
    expect(plan.assumptions).toMatchObject({ memoryEfficiency: 0.58, arithmeticEfficiency: 0.41 })
    expect(plan.assumptions.source).toBe(`reached by ${variant.name} on ${machine.name}, measured: the harbour`)
    expect(plan.doubt?.derived).toBe(0.21)
    const doubtful = { ...demoPlan, doubt: { derived: 0.4, load: 0.1 } }
    expect(takeCosts({ ...taken, reached: { memory: 0.58, arithmetic: 0.41, doubt: 0.21 } })(doubtful).doubt).toEqual(doubtful.doubt)
    expect(takeCosts(taken)(doubtful).doubt).toEqual(doubtful.doubt)
  })

  it('stand in place of those that a service states, whose cache stays', () => {
    const stated = checkPlan(JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')) as typeof demoPlan)
    const plan = checkPlan(takeOwnCosts(stated.services[0].name, profile)(stated))
    expect(plan.services[0].configuration!.profile).toEqual({ ...profile, cacheTokens: 120_000 })
    expect(takeOwnCosts('nobody', profile)(stated)).toEqual(stated)
  })
})

describe('a sleep that was found', () => {
  const [service] = demoPlan.services
  const idle = { seconds: 285, firstCaller: 'refuse' as const }
  const policiesOf = (plan: typeof demoPlan) => checkPlan(plan).services[0].policies

  it('is that of a policy that is there, whose other figures stay', () => {
    const [first, ...others] = service.policies!
    expect(policiesOf(takeSleep(service.name, first.name, idle)(demoPlan))).toEqual([{ ...first, min: 0, idle }, ...others])
  })

  it('is that of a new one where none is named, once', () => {
    const once = takeSleep(service.name, undefined, idle)(demoPlan)
    expect(policiesOf(once)).toEqual([...service.policies!, { name: SLEEPS, min: 0, max: 1, idle }])
    const again = takeSleep(service.name, undefined, { ...idle, seconds: 300 })(once)
    expect(policiesOf(again)!.at(-1)).toMatchObject({ name: SLEEPS, idle: { seconds: 300 } })
    expect(policiesOf(again)).toHaveLength(service.policies!.length + 1)
  })
})
