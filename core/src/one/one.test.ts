import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { simulateConfigured, configured } from '../answer/configured.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { profileOf } from '../candidate/candidate.ts'
import { statedCandidate } from '../candidate/named.ts'
import { Load } from '../search/load.ts'
import { decodeStepSeconds, type TokenProfile } from '../service/profile.ts'
import type { OneAsked } from './asked.ts'
import { oneRequest } from './oneRequest.ts'

const plan = checkPlan(skerrySound)
const talk: OneAsked = {
  service: 'pilot talk',
  machine: 'Fenland twin',
  variant: '8-bit',
  devices: 2,
  sequences: 32,
  finds: 'warm',
  input: 600,
  output: 200,
  others: 0,
  keptSeconds: 600,
}
function profileFor(asked: OneAsked): TokenProfile {
  const service = plan.services.find((s) => s.name === asked.service)
  const { machine, variant, devices, sequences } = asked
  const candidate = service && statedCandidate(plan, service, { machine, variant, devices, sequences, replicas: 1 })
  const profile = candidate && profileOf(candidate)
  if (profile?.kind !== 'token') throw new Error('pilot talk has tokens')
  return profile
}

describe('one request', () => {
  it('alone at a ready replica takes what its steps take, added up by hand to the last token', () => {
    const p = profileFor(talk)
    const one = oneRequest(plan, talk)
    const { input } = talk
    const prompt =
      p.prefillBaseSeconds +
      Math.max(p.prefillMemorySeconds, p.prefillSecondsPerToken * input) +
      p.prefillExchangeSecondsPerToken * input +
      p.prefillSecondsPerTokenSquared * input ** 2
    expect(one.ttftSeconds).toBeCloseTo(prompt, 9)
    let at = prompt
    one.tokens.forEach(({ number, seconds }, i) => {
      // The step that gives the second token reads the prompt and the first.
      if (i > 0) at += decodeStepSeconds(p, 1, input + i)
      expect(number).toBe(i + 1)
      expect(seconds).toBeCloseTo(at, 9)
    })
    expect(one.tokens).toHaveLength(200)
    expect(one.endSeconds).toBeCloseTo(at, 9)
  })

  it('of a caller far away comes and goes over the way: all of it later, none of it dearer', () => {
    const near = oneRequest(plan, { ...talk, finds: 'nothing' })
    const far = oneRequest(plan, { ...talk, finds: 'nothing', way: { there: 0.3, tokenBack: 0.2, wholeBack: 0.25 } })
    expect(far.parts[0]).toEqual({ part: 'there', fromSeconds: 0, seconds: 0.3, cost: 0 })
    expect(far.parts.find((p) => p.part === 'back')).toMatchObject({ seconds: 0.25, cost: 0 })
    expect(far.ttftSeconds - near.ttftSeconds).toBeCloseTo(0.5, 9)
    expect(far.endSeconds - near.endSeconds).toBeCloseTo(0.55, 9)
    expect(far.tokens.map((t, i) => t.seconds - near.tokens[i].seconds)).toEqual(near.tokens.map(() => expect.closeTo(0.5, 9)))
    expect([far.money, far.tpotSeconds, far.startUpSeconds]).toEqual([near.money, near.tpotSeconds, near.startUpSeconds])
    expect(far.givenBackSeconds - near.givenBackSeconds).toBeCloseTo(0.3, 9)
  })

  it('is that of a closed loop of one client with the engine, whose every request it is', () => {
    const one = oneRequest(plan, talk)
    const service = { ...plan.services[0], policies: undefined, losses: undefined } as unknown as Plan['services'][number]
    const configuration = { machine: 'Fenland twin', variant: '8-bit', devices: 2, sequences: 32, replicas: 1 }
    const loop: Plan = {
      ...plan,
      horizon: { ...plan.horizon, seconds: 3600, warmupSeconds: 0 },
      repetitions: 1,
      services: [{ ...service, configuration }],
      classes: [
        {
          name: 'client',
          service: 'pilot talk',
          arrivals: { kind: 'closed-loop', clients: 1, requestsPerClient: 5, thinkSeconds: 3 },
          input: { kind: 'fixed', value: 600 },
          output: { kind: 'fixed', value: 200 },
          targets: [],
        },
      ],
    }
    const there = configured(loop, loop.services[0], configuration)
    if (!there.ok) throw new Error('it is there')
    const { record } = simulateConfigured(loop, loop.services[0], configuration, new Load(loop), there)
    for (let i = 0; i < 5; i++) {
      expect(record.firstToken[i] - record.at[i]).toBeCloseTo(one.ttftSeconds, 9)
      expect(record.end[i] - record.at[i]).toBeCloseTo(one.endSeconds, 9)
    }
  })

  it('that finds nothing waits for every stage, and its engine agrees with their sum', () => {
    const one = oneRequest(plan, { ...talk, finds: 'nothing' })
    const { start } = plan.services[0]
    if (!start) throw new Error('pilot talk has stages')
    const seconds = (part: string) => one.parts.find((p) => p.part === part)?.seconds ?? 0
    expect(seconds('image')).toBeCloseTo(start.imageBytes / start.imageBytesPerSecond, 9)
    expect(seconds('warmup')).toBe(start.warmupSeconds)
    expect(seconds('wait')).toBe(0)
    const warm = oneRequest(plan, talk)
    expect(one.ttftSeconds).toBeCloseTo(one.startUpSeconds + warm.ttftSeconds, 6)
    expect(one.endSeconds).toBeCloseTo(one.startUpSeconds + warm.endSeconds, 6)
    const stopped = oneRequest(plan, { ...talk, finds: 'stopped' })
    expect(stopped.startUpSeconds).toBeLessThan(one.startUpSeconds)
    expect(stopped.parts.some((p) => p.part === 'image')).toBe(false)
  })

  it('its parts follow each other from the call to the machine’s return, whatever is asked', () => {
    const asked = fc.record({
      finds: fc.constantFrom('nothing' as const, 'stopped' as const, 'unloaded' as const, 'warm' as const),
      input: fc.integer({ min: 1, max: 4000 }),
      output: fc.integer({ min: 1, max: 60 }),
      others: fc.constantFrom(0, 1, 3, 40),
      sequences: fc.constantFrom(1, 8, 32),
      keptSeconds: fc.constantFrom(0, 600),
    })
    fc.assert(
      fc.property(asked, (patch) => {
        const one = oneRequest(plan, { ...talk, ...patch })
        let at = 0
        for (const { fromSeconds, seconds } of one.parts) {
          expect(Math.abs(fromSeconds - at)).toBeLessThan(1e-6)
          at = fromSeconds + seconds
        }
        expect(at).toBeCloseTo(one.givenBackSeconds, 6)
        const tokens = one.tokens.map((t) => t.seconds)
        expect(tokens).toEqual([...tokens].sort((a, b) => a - b))
        expect(tokens[0]).toBeCloseTo(one.ttftSeconds, 9)
      }),
      { numRuns: 60 },
    )
  })

  it('with others beside it is slower, and their number costs it less of the machine', () => {
    const [alone, one, eight] = [0, 1, 8].map((others) => oneRequest(plan, { ...talk, others }))
    expect(one.tpotSeconds!).toBeGreaterThan(alone.tpotSeconds!)
    expect(eight.tpotSeconds!).toBeGreaterThan(one.tpotSeconds!)
    expect(eight.money.perMillionTokens!).toBeLessThan(alone.money.perMillionTokens! / 3)
    // More than it has room for wait for each other.
    const crowded = oneRequest(plan, { ...talk, others: 8, sequences: 4 })
    expect(crowded.parts.some((p) => p.part === 'wait')).toBe(true)
    // Who waits is not served: four at once share the machine, by hand.
    const served = crowded.parts.filter((p) => p.part === 'prompt' || p.part === 'answer').reduce((sum, p) => sum + p.seconds, 0)
    const { perHour } = crowded.money.byHour!
    expect(crowded.money.perMillionTokens).toBeCloseTo((((served * perHour) / 3600 / 4) * 1e6) / 800, 6)
  })

  it('costs its machine from the call to its return, by the step that is billed; or its call', () => {
    const one = oneRequest(plan, talk)
    const machine = plan.machines.find((m) => m.name === 'Fenland twin')!
    const step = machine.billingStepSeconds ?? 1
    const paid = Math.max(machine.billingMinimumSeconds ?? 0, Math.ceil((one.endSeconds + 600) / step) * step)
    expect(one.money.byHour?.amount).toBeCloseTo(((machine.pricePerHour ?? NaN) * paid) / 3600, 9)
    const sum = one.parts.reduce((total, p) => total + (p.cost ?? NaN), 0)
    expect(sum + ((machine.pricePerHour ?? NaN) * one.money.byHour!.roundingSeconds) / 3600).toBeCloseTo(one.money.byHour!.amount, 9)
  })

  it('is laid out where calls alone are sold, and costs its call and its instance’s time; bytes that a start fetches cost what the offer says', () => {
    const only = checkPlan({
      ...plan,
      machines: plan.machines.map(({ pricePerHour, committedPerHour: _, spotPerHour: __, ...m }) =>
        m.name === talk.machine
          ? { ...m, pricePerRequest: 0.01, pricePerGigabyteSecond: 0.0001, billingStepSeconds: 1, transferPerGigabyte: 0.5 }
          : { ...m, pricePerHour },
      ) as Plan['machines'],
    })
    const one = oneRequest(only, talk)
    expect(one.endSeconds).toBeCloseTo(oneRequest(plan, talk).endSeconds, 9)
    expect(one.money.byHour).toBeNull()
    const machine = plan.machines.find((m) => m.name === talk.machine)!
    const gigabytes = (machine.memoryBytesPerDevice * 2) / 1e9
    expect(one.money.byCall?.amount).toBeCloseTo(0.01 + Math.ceil(one.endSeconds) * gigabytes * 0.0001, 9)
    // By tokens wherever its model is sold so: a price in and one out.
    const sold = { provider: 'Firth', region: 'firth', variant: '8-bit', firstToken: { seconds: 0.4 }, eachToken: { seconds: 0.02 } }
    const byTokens = checkPlan({
      ...plan,
      soldByTokens: plan.models
        .slice(0, 2)
        .map((m, i) => ({
          ...sold,
          name: `relay ${i}`,
          model: m.name,
          variant: m.variants[0].name,
          pricePerMillionInput: 2,
          pricePerMillionOutput: 8,
        })),
    })
    expect(oneRequest(byTokens, talk).money.byTokens).toEqual([
      {
        offer: `relay ${plan.models.findIndex((m) => m.name === plan.services[0].model)}`,
        amount: expect.closeTo((talk.input * 2 + talk.output * 8) / 1e6, 12) as number,
      },
    ])
    const both = checkPlan({
      ...plan,
      machines: plan.machines.map((m) => (m.name === talk.machine ? { ...m, transferPerGigabyte: 0.5 } : m)),
    })
    const { start, model: name } = both.services[0]
    const weights = both.models.find((m) => m.name === name)!.variants.find((v) => v.name === '8-bit')!.diskBytes!
    const fetched = oneRequest(both, { ...talk, finds: 'nothing' }).money.byHour!.transfer
    expect(fetched).toBeCloseTo(((start!.imageBytes + weights) / 1e9) * 0.5, 6)
    expect(oneRequest(both, talk).money.byHour!.transfer).toBe(0)
  })

  it.each<[Partial<OneAsked>, string]>([
    [{ service: 'tea' }, 'service is "tea": it must be one of "pilot talk"'],
    [{ machine: 'Nothing' }, 'machine is "Nothing": it must be one of'],
    [{ variant: '3-bit' }, 'variant is "3-bit": it must be one of "16-bit", "8-bit", "4-bit"'],
    [{ output: 0 }, 'output is 0: it must be a whole number of at least 1'],
    [{ devices: 3 }, 'machine is "Fenland twin"'],
    [{ variant: '16-bit', devices: 1 }, 'machine is "Fenland twin": it '],
    [{ input: 40_000 }, 'prompt and answer is 40000 + 200: it can not be served by this replica: the request is rejected'],
  ])('says why it can not be: %j', (patch, words) => {
    expect(() => oneRequest(plan, { ...talk, ...patch })).toThrow(words)
  })
})
