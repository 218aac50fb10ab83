import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { machines } from '../../../examples/make/catalogue.ts'
import { peak, rateCurve } from '../demand/rate.ts'
import { assumedWords } from '../explain/assumedWords.ts'
import { readPlanYaml, writePlanYaml } from '../files/planYaml.ts'
import { withRate } from '../plan/arrivalKinds.ts'
import { checkPlan, readPlan, writePlan } from '../plan/read.ts'
import { beginPlan } from './beginPlan.ts'
import { DAYS, type DayName } from './days.ts'
import { figuresOf, OPENINGS, type Figures, type OpeningName } from './openings.ts'
import { SHAPES, type ShapeName } from './shapes.ts'

const openings = Object.keys(OPENINGS) as OpeningName[]
const days = Object.keys(DAYS) as DayName[]
const shapesOf = (opening: OpeningName) => (Object.keys(SHAPES) as ShapeName[]).filter((s) => SHAPES[s].works === OPENINGS[opening].works)

const figures = fc
  .constantFrom(...openings)
  .chain((opening) =>
    fc.record({
      opening: fc.constant(opening),
      ratePerSecond: fc.double({ min: 0.001, max: 1000, noNaN: true }),
      day: fc.constantFrom(...days),
      input: fc.integer({ min: 1, max: 20_000 }),
      output: fc.integer({ min: 1, max: 8000 }),
      promisedSeconds: fc.double({ min: 0.01, max: 1e5, noNaN: true }),
      shape: fc.constantFrom(...shapesOf(opening)),
      providers: fc.constantFrom<string[]>([], ['Fenland'], ['Northquay', 'Tarn']),
      budgetPerMonth: fc.option(fc.integer({ min: 1, max: 1e6 })),
    }),
  )

/** Every figure and word of a value, by its path in the plan file. */
function leavesOf(value: unknown, path = ''): string[] {
  if (typeof value !== 'object' || value === null) return [path]
  return Object.entries(value).flatMap(([key, inner]) =>
    leavesOf(inner, Array.isArray(value) ? `${path}[${key}]` : path === '' ? key : `${path}.${key}`),
  )
}

describe('a plan that is begun', () => {
  it.each(openings)('like %s is a whole plan, of one class and one service', (opening) => {
    const plan = checkPlan(beginPlan(figuresOf(opening), machines, 'EUR'))
    expect([plan.classes.length, plan.services.length, plan.machines.length]).toEqual([1, 1, machines.length])
    expect(plan.services[0].search?.purchases).toEqual(OPENINGS[opening].purchases)
  })

  it('is a plan whatever its figures are: at the busiest as many come as were said, and what was promised is promised', () => {
    fc.assert(
      fc.property(figures, (f: Figures) => {
        const plan = checkPlan(beginPlan(f, machines, 'EUR'))
        const arrivals = withRate(plan.classes[0].arrivals)
        if (!arrivals) throw new Error('it has a rate')
        const most = peak(rateCurve(arrivals, plan.horizon.seconds, 1, plan.horizon.start)).ratePerSecond
        expect(most / f.ratePerSecond).toBeCloseTo(1, 4)
        expect(plan.classes[0].targets[0]).toMatchObject({ measure: OPENINGS[f.opening].promises, seconds: f.promisedSeconds })
        expect(plan.machines).toEqual(machines)
        const tried = plan.services[0].search?.machines ?? machines.map((m) => m.name)
        expect(tried).toEqual(machines.filter((m) => f.providers.length === 0 || f.providers.includes(m.provider)).map((m) => m.name))
        expect(plan.budgetPerMonth ?? null).toBe(f.budgetPerMonth)
        const [{ input: prompt, output: answer }, [model]] = [plan.classes[0], plan.models]
        if (prompt?.kind === 'lognormal' && answer?.kind === 'lognormal' && 'contextTokens' in model)
          expect((prompt.max ?? Infinity) + (answer.max ?? Infinity)).toBeLessThanOrEqual(model.contextTokens ?? Infinity)
      }),
      { numRuns: 200 },
    )
  })

  it('says what it assumed: every field that is named is there, and none is named twice', () => {
    for (const opening of openings) {
      const plan = beginPlan(figuresOf(opening), machines, 'EUR')
      const assumed = assumedWords(figuresOf(opening), plan)
      expect(assumed.length).toBeGreaterThan(8)
      expect(new Set(assumed.map((a) => a.field)).size).toBe(assumed.length)
      for (const { field } of assumed) {
        const value = field
          .split(/[.[\]]+/)
          .filter((part) => part !== '')
          .reduce<unknown>((at, part) => (at as Record<string, unknown>)[part], plan)
        expect(value, `${opening} ${field}`).toBeDefined()
      }
    }
  })

  it('has no figure that was neither asked for nor said to be assumed', () => {
    // What a beginning asks for, and the names that its opening gives.
    const asked =
      /^(format|version|name|currency|machines|classes\[0\]\.(name|service|input\.median|output\.median|work\.(median|kind|value)|targets\[0\]\.seconds)|services\[0\]\.(name|model))/
    for (const opening of openings) {
      const f = figuresOf(opening)
      const plan = beginPlan(f, machines, 'EUR')
      const fields = assumedWords(f, plan).map((a) => a.field)
      const covered = (path: string) =>
        asked.test(path) || fields.some((field) => path === field || path.startsWith(`${field}.`) || path.startsWith(`${field}[`))
      // Answers have the spread of prompts, whose words say so; repetitions stand with the horizon.
      const beside = /^(repetitions|classes\[0\]\.output\.(kind|p95|max))$/
      expect(
        leavesOf(plan).filter((path) => !covered(path) && !beside.test(path)),
        opening,
      ).toEqual([])
    }
  })
})

describe('a plan as YAML', () => {
  it('is read back as it was, with words beside its fields, and is the same as its JSON', () => {
    fc.assert(
      fc.property(figures, fc.string(), (f, words) => {
        const plan = beginPlan({ ...f, providers: [] }, machines.slice(0, 4), 'EUR')
        const text = writePlanYaml(
          plan,
          assumedWords(f, plan).map(({ field }) => ({ field, words })),
          'two\nlines',
        )
        const schema = checkPlan(plan)
        expect(readPlanYaml(text)).toEqual(schema)
        expect(readPlan(writePlan(schema))).toEqual(schema)
      }),
      { numRuns: 60 },
    )
  })

  it('has its comments above the fields that they are about', () => {
    const plan = beginPlan(figuresOf('chat'), machines.slice(0, 1), 'EUR')
    const text = writePlanYaml(
      plan,
      [
        { field: 'services[0].limits.queue', words: 'how many' },
        { field: 'models[0]', words: 'which' },
        { field: 'margin', words: 'how much' },
      ],
      'begun',
    )
    expect(text).toMatch(/^# begun\n/)
    expect(text).toContain('      # how many\n      queue: 500\n')
    expect(text).toContain('models:\n  # which\n  - kind: dense\n')
    expect(text).toContain('# how much\nmargin: 0.1\n')
    expect(text).toContain('days: [1, 1, 1, 1, 0.95, 0.2, 0.15]')
  })

  it('that is none is told by line, and one that breaks a rule by field', () => {
    expect(() => readPlanYaml('format: sand-clock-plan\nversion: 1\nname: [a, b\nseed: 1\n')).toThrow(
      /^This is not a plan file\.\n.*line [34]: is not valid YAML/,
    )
    expect(() => readPlanYaml('format: sand-clock-plan\nversion: 1\nseed: -1\n')).toThrow('seed is -1')
    expect(() => readPlanYaml('')).toThrow('must hold one object')
  })
})
