import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { beyondWords, relianceWords } from '../explain/calibrationWords.ts'
import { checkPlan } from '../plan/read.ts'
import { leaveOut, takeIn } from '../plan/searchChoices.ts'
import type { Model, Plan } from '../plan/schema.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Load } from '../search/load.ts'
import { creditBetween } from './credit.ts'
import { fitDetail } from './fitDetail.ts'
import { fitTable, type FitRow } from './fitTable.ts'
import { applyRemedy, fitsAfter } from './remedies.ts'

/** An hour of the demo, so that its load is drawn quickly. */
const hour = (models: string[] = []): Plan => ({
  ...skerrySound,
  horizon: { ...skerrySound.horizon, seconds: 3600, warmupSeconds: 0 },
  classes: skerrySound.classes.map((c) => ({ ...c, arrivals: { kind: 'steady' as const, ratePerSecond: 0.2 } })),
  services: skerrySound.services.map((s, i) =>
    models[i] && s.search ? { ...s, model: models[i], search: { sequences: [16], devices: [1, 2, 4, 8, 16] } } : s,
  ),
})
const load = (plan: Plan) => new Load(plan).of(plan.services[0], 0)
const modelOf = (plan: Plan): Model => plan.models.find((m) => m.name === plan.services[0].model)!
const table = (plan: Plan) => fitTable(plan, plan.services[0], load(plan))
const plain = (text: string) => text.replaceAll(/[\u00a0\u202f]/g, ' ')

describe('the fit table', () => {
  const plan = hour()
  const rows = table(plan)

  it('shows every machine with every variant and device count that it can have, fitting or not', () => {
    expect(rows.length).toBeGreaterThan(150)
    expect(new Set(rows.map((r) => r.machine)).size).toBe(25)
    for (const row of rows) expect(row.reason === null).toBe(row.speed !== null)
  })

  it('says what it relies on, and what to know of a measurement', () => {
    const measured = rows.filter((r) => r.source === 'measured')
    expect(measured.map((r) => [r.machine, r.variant, r.devices])).toEqual([['Northquay ledge', '8-bit', 1]])
    expect(measured[0].notes.at(-1)).toMatch(/off by .* in the median/)
  })

  it('what it takes for searched is exactly what the search enumerates', () => {
    const names = (r: { machine: string; variant: string; devices: number }) => `${r.machine} ${r.variant} ${r.devices}`
    const dropped = checkPlan(leaveOut(leaveOut(plan, 'pilot talk', rows[3]), 'pilot talk', rows[40]))
    const searched = table(dropped)
      .filter((r) => r.searched)
      .map(names)
    const tried = new Set(
      enumerate(dropped, dropped.services[0]).map((c) => names({ machine: c.machine.name, variant: c.variant.name, devices: c.devices })),
    )
    expect(searched.every((n) => tried.has(n))).toBe(true)
    expect(searched).not.toContain(names(rows[3]))
    expect(tried.has(names(rows[3]))).toBe(false)
    expect(takeIn(dropped, 'pilot talk', rows[3]).services[0].search?.without).toHaveLength(1)
    expect(takeIn(takeIn(dropped, 'pilot talk', rows[3]), 'pilot talk', rows[40])).toEqual(plan)
  })
})

describe('remedies', () => {
  const plans = [
    hour(),
    hour(['Godwit 70B']),
    hour(['Avocet 8×6B']),
    { ...hour(['Curlew 14B']), assumptions: { ...skerrySound.assumptions, memoryShare: 0.62 } },
  ]
  const rows = plans.flatMap((plan) =>
    table(plan)
      .filter((r) => r.reason !== null)
      .map((row) => ({ plan, row })),
  )

  it('each of them makes the combination fit, leaves a plan that can be read, and is in the search then', () => {
    let tried = 0
    fc.assert(
      fc.property(fc.constantFrom(...rows), ({ plan, row }) => {
        for (const remedy of row.remedies) {
          tried++
          expect(fitsAfter(plan, plan.services[0], modelOf(plan), remedy)).toBe(true)
          const after = checkPlan(applyRemedy(plan, plan.services[0].name, remedy))
          const { machine, variant, devices } = remedy.at
          expect(
            enumerate(after, after.services[0]).some(
              (c) => c.machine.name === machine && c.variant.name === variant && c.devices === devices && c.fit.fits,
            ),
          ).toBe(true)
        }
      }),
      { numRuns: 150, seed: 4 },
    )
    expect(tried).toBeGreaterThan(150)
  })

  it('memory that is short has all four: shorter context, fewer bits, devices, another machine', () => {
    const plan = { ...hour(['Curlew 14B']), assumptions: { ...skerrySound.assumptions, memoryShare: 0.88 } }
    plan.services[0] = { ...plan.services[0], limits: { ...plan.services[0].limits, contextTokens: 32_000 } }
    const row = table(plan).find((r) => r.machine === 'Northquay pebble' && r.variant === '8-bit' && r.devices === 1)!
    expect(plain(row.reason ?? '')).toMatch(/the cache holds .* one request may have 32 000/)
    expect(row.remedies.map((r) => r.change.kind)).toEqual(['context', 'memory-share', 'variant', 'machine'])
  })

  it('a replica of a large model is offered over more devices, of several hosts where they are joined', () => {
    const large = table(hour(['Godwit 70B']))
    const kinds = (r: FitRow) => r.remedies.map((x) => x.words)
    expect(large.filter((r) => r.machine === 'Northquay stack' && r.variant === '16-bit' && r.devices === 1).flatMap(kinds)).toContain(
      'over 2 devices',
    )
    expect(large.find((r) => r.machine === 'Northquay stack' && r.variant === '16-bit' && r.devices === 2)?.group).toMatchObject({
      machines: 2,
      replicas: 1,
    })
  })

  it('a licence or a floor names the variant that passes', () => {
    const tuned = table(hour()).find((r) => r.variant === '4-bit, tuned')!
    expect(tuned.reason).toMatch(/licence forbids production/)
    const named = table(hour())
      .filter((r) => r.variant === '4-bit, tuned')
      .flatMap((r) => r.remedies.map((x) => x.words))
    expect(new Set(named)).toEqual(new Set(['16-bit instead', '8-bit instead', '4-bit instead']))
  })
})

describe('derivations', () => {
  const plan = hour()
  it('every figure is there with formula, figures and source, and is the one that the profile has', () => {
    const detail = fitDetail(plan, plan.services[0], { machine: 'Northquay ledge', variant: '16-bit', devices: 1 }, load(plan))!
    const line = (symbol: string) => [...detail.memory, ...detail.costs].find((l) => l.symbol === symbol)!
    expect(plain(line('weights').value)).toBe('28.0 GB')
    expect(plain(line('cache of a token').figures)).toBe('2 × 40 × 128 × 2.00 bytes × 8')
    expect(plain(line('M[64]').value)).toBe('46.0 ms')
    expect(plain(line('P1').value)).toBe('346 µs')
    for (const l of [...detail.memory, ...detail.costs])
      expect(Math.min(l.meaning.length, l.formula.length, l.value.length, l.from.length)).toBeGreaterThan(0)
  })

  it('derived and measured stand side by side where there are both', () => {
    const detail = fitDetail(plan, plan.services[0], { machine: 'Northquay ledge', variant: '8-bit', devices: 1 }, load(plan))!
    expect(detail.sources.map((s) => [s.source, s.used])).toEqual([
      ['derived', false],
      ['measured', true],
    ])
    const [derived, measured] = detail.sources.map((s) => (s.speed.kind === 'token' ? s.speed.aloneSecondsPerToken : NaN))
    expect(measured / derived).toBeGreaterThan(0.8)
    expect(measured / derived).toBeLessThan(1.5)
    expect(detail.measured?.calibration.residuals.length).toBeGreaterThan(8)
    expect(detail.measured?.calibration.worstError).toBeLessThan(0.1)
  })

  it('of a mixture of experts the parameters that n tokens hit are shown', () => {
    const experts = hour(['Avocet 8×6B'])
    const detail = fitDetail(experts, experts.services[0], { machine: 'Northquay stack', variant: '8-bit', devices: 1 }, load(experts))!
    expect(detail.costs.map((l) => l.symbol)).toContain('touched[16]')
    expect(fitDetail(experts, experts.services[0], { machine: 'nowhere', variant: '8-bit', devices: 1 }, load(experts))).toBeUndefined()
  })
})

describe('credit', () => {
  const plan = hour()
  const mean = { input: 600, output: 400 }
  const at = (machine: string, variant: string, devices = 1) => ({ machine, variant, devices })

  it('causes multiply to the whole, whatever the two', () => {
    const machines = plan.machines.filter((m) => m.arithmeticPerSecond['8']).map((m) => m.name)
    const any = fc.record({
      machine: fc.constantFrom(...machines),
      variant: fc.constantFrom('16-bit', '8-bit', '4-bit'),
      devices: fc.constantFrom(1, 2),
    })
    fc.assert(
      fc.property(any, any, (a, b) => {
        const { credits, reason } = creditBetween(plan, plan.services[0], a, b, mean, 16)
        expect(reason).toBeNull()
        for (const c of credits) expect(c.causes.reduce((product, x) => product * x.times, 1)).toBeCloseTo(c.to / c.from, 9)
      }),
      { numRuns: 100, seed: 6 },
    )
  })

  it('one change is credited with all of it; two with each its part, hardware apart from precision', () => {
    const one = creditBetween(plan, plan.services[0], at('Northquay ledge', '16-bit'), at('Northquay stack', '16-bit'), mean, 16)
    expect(one.differ).toEqual(['machine'])
    const alone = one.credits.find((c) => c.figure === 'alone')!
    expect(alone.causes).toEqual([{ factor: 'machine', times: expect.closeTo(alone.to / alone.from, 12) as number }])
    const both = creditBetween(plan, plan.services[0], at('Northquay ledge', '16-bit'), at('Northquay stack', '4-bit'), mean, 16)
    expect(both.differ).toEqual(['format', 'weight bits', 'machine'])
    const causes = Object.fromEntries(both.credits[0].causes.map((c) => [c.factor, c.times]))
    // Packed kernels reach less of the bandwidth: the format costs what the bits gain.
    expect(causes.format).toBeGreaterThan(1)
    expect(causes['weight bits']).toBeLessThan(0.5)
    expect(causes.machine).toBeLessThan(0.4)
  })

  it('says why when nothing can be credited, and leaves small differences of quality undecided', () => {
    expect(creditBetween(plan, plan.services[0], at('Tarn plain', '8-bit'), at('Northquay ledge', '8-bit'), mean, 16).reason).toMatch(
      /can not be derived/,
    )
    expect(
      creditBetween(plan, plan.services[0], at('Northquay ledge', '16-bit'), at('Northquay ledge', '8-bit'), mean, 16).quality.verdict,
    ).toBe('undecided')
  })
})

describe('what an answer relies on', () => {
  it('says how far beyond a measurement it goes', () => {
    const range = { concurrency: [1, 16] as [number, number], input: [200, 2400] as [number, number] }
    expect(beyondWords(range, { sequences: 16, input: 2400 })).toEqual([])
    expect(beyondWords(range, { sequences: 64, input: 6000 }).map(plain)).toEqual([
      '64 side by side are relied on, 16 were measured: 4.00 times as far',
      'prompts of up to 6 000 tokens are relied on, 2 400 were measured: 2.50 times as far',
    ])
    expect(relianceWords('given', undefined, { sequences: 1 })).toEqual(['its step costs were typed in'])
  })
})

it('of a service that searches nothing one row is what it runs on, and taking another in has it run there', () => {
  const [{ search: _, policies: __, ...talk }] = skerrySound.services
  const configuration = { machine: 'Northquay ledge', variant: '8-bit', sequences: 16, replicas: 2 }
  const plan = checkPlan({
    ...skerrySound,
    classes: skerrySound.classes.filter((c) => c.service === talk.name),
    services: [{ ...talk, configuration }],
  })
  const runsOn = (p: Plan) =>
    fitTable(p, p.services[0], new Load(p).of(p.services[0], 0)).flatMap((r) => (r.searched ? [[r.machine, r.variant, r.devices]] : []))
  expect(runsOn(plan)).toEqual([['Northquay ledge', '8-bit', 1]])
  const moved = takeIn(plan, talk.name, { machine: 'Fenland twin', variant: '4-bit', devices: 2 })
  expect(runsOn(moved)).toEqual([['Fenland twin', '4-bit', 2]])
  expect(moved.services[0].configuration).toEqual({ ...configuration, machine: 'Fenland twin', variant: '4-bit', devices: 2 })
  expect(leaveOut(moved, talk.name, { machine: 'Fenland twin', variant: '4-bit', devices: 2 })).toEqual(moved)
})
