import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../../examples/make/skerrySound.ts'
import { measuredRows, type TestLoad } from '../../../test/measuredRows.ts'
import { relianceOf } from '../../answer/reliance.ts'
import { enumerate } from '../../candidate/enumerate.ts'
import { Load } from '../../search/load.ts'
import { fit } from '../../service/fit.ts'
import { checkPlan } from '../../plan/read.ts'
import { specOf } from '../../service/given.ts'
import type { ProbedRequest } from '../probed.ts'
import { reachedShares } from './reached.ts'
import { STEP_COEFFICIENTS, specOfSteps } from '../../service/measured/stepCoefficients.ts'
import { tellMeasured } from './told.ts'

const served = { replicas: 1, sequences: 64, prompts: 'whole' as const }
const sizes: [number, number][] = [
  [150, 30],
  [900, 45],
]
const TRUTH = [0.006, 9e-5, 0.014, 2e-4, 1.2e-7, 0.002]
const closed: TestLoad[] = [1, 4, 16].map((clients) => ({ part: `${clients} at once`, clients, requestsEach: 12, sizes }))
const open: TestLoad = { part: 'to judge by: 4 a second', perSecond: 4, requests: 120, sizes }

describe('what is told of measured requests', () => {
  it('is first whether it can be believed; what was measured to judge by is not fitted', () => {
    const rows = measuredRows(TRUTH, served, [closed[0], open, ...closed.slice(1)], 0, 1)
    const told = tellMeasured(rows, served)
    expect(told.belief).toMatch(/^Believable to within 0\.1\d*\s% .* 120 requests of “4 a second” showed, which were not fitted/)
    expect(told.fitted!.requests).toBe(12 * 21)
    expect(told.judged!.requests).toBe(120)
    expect(told.parts.map((p) => p.part)).toEqual(['1 at once', open.part, '4 at once', '16 at once'])
    // Every request once, each near what it took.
    expect(new Set(told.predicted.map((p) => p.number)).size).toBe(rows.length)
    for (const p of told.predicted) {
      const row = rows.find((r) => r.number === p.number)!
      expect(p.latencySeconds / (row.end - row.sent)).toBeCloseTo(1, 1)
    }
    expect(told.bend.filter((b) => b.measuredPerSecond !== undefined).map((b) => b.clients)).toEqual([1, 4, 16])
  })

  it('is that too few finished, or that nothing judges, where that is so', () => {
    const rows = measuredRows(TRUTH, served, [closed[2]], 0, 2)
    expect(tellMeasured(rows, served).belief).toBe('Nothing judges this fit: all there is was fitted. Measure another load beside it.')
    expect(tellMeasured(rows.slice(0, 4), served).belief).toContain('only 4 of the requests finished and streamed, and it takes at least 6')
    const { belief, remarks, parts } = tellMeasured(
      rows.map((r) => ({ ...r, outcome: 'failed' as const })),
      served,
    )
    expect(belief).toContain('none of the requests finished')
    expect(remarks[0]).toBe('Not finished: failed (200).')
    expect(remarks[1]).toContain('did not finish')
    expect(parts).toHaveLength(1)
  })

  it('says what is left out', () => {
    const rows = measuredRows(TRUTH, served, [...closed, open], 0, 3)
    rows[5].outcome = 'failed'
    expect(tellMeasured(rows, served).remarks[0]).toContain('1 of the 252 requests that are fitted did not finish')
  })
})

describe('first calls after idle', () => {
  it('are neither fitted nor judge: what they waited for is a start-up', () => {
    const steady = measuredRows(TRUTH, served, [...closed, open], 0, 3)
    const late = (r: ProbedRequest, by: number) => ({
      ...r,
      due: r.due + by,
      sent: r.sent + by,
      firstToken: r.firstToken + by + 9,
      end: r.end + by + 9,
    })
    const idle = [60, 120].map((s) => ({ ...late(steady[3], 5000 + s * 100), part: `after ${s / 60} min without a call` }))
    const [told, without] = [[...steady, ...idle], steady].map((rows) => tellMeasured(rows, served))
    expect(told.belief).toBe(without.belief)
    expect(told.fitted).toEqual(without.fitted)
    expect(told.remarks.filter((r) => r.includes('did not finish'))).toEqual([])
    expect(told.idle?.asleepSeconds).toBeGreaterThan(0)
  })
})

describe('step costs that were found, in a plan', () => {
  const plan = checkPlan(skerrySound)
  const [service] = plan.services
  const { model, machine, variant, devices } = [...enumerate(plan, service)].find((c) => c.fit.fits && c.fit.source === 'derived')!
  const at = { machine: machine.name, variant: variant.name, devices }

  it('reach of a machine’s rates what was put into them, and more than all where the catalogue says too little', () => {
    const shares = { memoryEfficiency: 0.61, arithmeticEfficiency: 0.37 }
    const { efficiency: _, ...bare } = variant
    const fitting = fit({ ...plan, assumptions: { ...plan.assumptions, ...shares } }, service, model, bare, machine, at.devices, 'derived')
    if (!fitting.fits) throw new Error('it fits')
    const profile = fitting.profile({ sequences: 1 })
    if (profile.kind !== 'token') throw new Error('it is of tokens')
    // What a fit of single requests finds: reading and launch of a step together, and all of a prompt token.
    const values = STEP_COEFFICIENTS.map(({ symbol }) => {
      if (symbol === 'P1') return profile.prefillSecondsPerToken + profile.prefillExchangeSecondsPerToken
      return symbol === 'M' ? profile.memorySeconds[1] + profile.overheadSeconds[1] : 0
    })
    const known = { values, intervals: values.map((v) => ({ low: v, high: v })) }
    const reached = reachedShares(plan, service, at, known)!
    expect(reached.memory).toBeCloseTo(0.61, 9)
    expect(reached.arithmetic).toBeCloseTo(0.37, 9)
    // Elsewhere they are as unsure as what is derived, and more so where they are not well known themselves: 0.15² + 0.2² = 0.25².
    expect(reached.doubt).toBeCloseTo(0.15, 9)
    const off = 0.2 * profile.prefillSecondsPerToken
    const prompt = STEP_COEFFICIENTS.findIndex((c) => c.symbol === 'P1')
    const unsure = known.intervals.map((i, c) => (c === prompt ? { low: i.low - off, high: i.high + off } : i))
    expect(reachedShares(plan, service, at, { values, intervals: unsure })!.doubt).toBeCloseTo(0.25, 9)
    expect(reachedShares(plan, service, at, { values, intervals: unsure.map(() => undefined) })!.doubt).toBe(1)
    const faster = { ...known, values: values.map((v) => v / 4) }
    expect(reachedShares(plan, service, at, faster)!.memory).toBeGreaterThan(1)
    expect(reachedShares(plan, service, { ...at, machine: 'nowhere' }, known)).toBeUndefined()
    expect(specOf(profile)).toBeDefined()
  })

  it('are relied on as measured, with who found them, and how far beyond they are used', () => {
    const measured = { by: 'the harbour, on Tuesday', concurrency: 16, input: 900, output: 45, within: 0.04 }
    const profile = { ...specOfSteps(TRUTH) }
    const models = plan.models.map((m) =>
      m !== model
        ? m
        : {
            ...m,
            variants: m.variants.map((v) =>
              v !== variant
                ? v
                : { ...v, profiles: [{ machine: machine.name, ...(at.devices > 1 && { devices: at.devices }), profile, measured }] },
            ),
          },
    )
    const found = checkPlan({ ...plan, models } as typeof plan) // only an entry of a variant changed
    const candidates = [...enumerate(found, found.services[0])].filter(
      (c) => c.fit.fits && c.machine.name === at.machine && c.variant.name === at.variant && c.devices === devices,
    )
    expect(candidates.length).toBeGreaterThan(0)
    for (const c of candidates) {
      if (!c.fit.fits) continue
      expect(c.fit.source).toBe('measured')
      const words = relianceOf(
        c,
        c.fit.profile({ sequences: c.sequences }),
        new Load(found).of(service.name === c.service.name ? c.service : service, 0),
      )
      expect(words[0]).toBe(
        'its step costs were found behind measured requests (the harbour, on Tuesday), and predicted others to within 4.00\u00a0%',
      )
      if (c.sequences > 16) expect(words.join()).toContain(`${c.sequences} side by side are relied on, 16 were measured`)
    }
  })
})
