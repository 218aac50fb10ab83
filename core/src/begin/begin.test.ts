import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { machines } from '../../../examples/make/catalogue.ts'
import { peak, rateCurve } from '../demand/rate.ts'
import { assumedWords } from '../explain/assumedWords.ts'
import { readPlanYaml, writePlanYaml } from '../files/planYaml.ts'
import { withRate } from '../plan/arrivalKinds.ts'
import { checkPlan, readPlan, writePlan } from '../plan/read.ts'
import { modelFromShape, readModelShape } from '../files/modelShape.ts'
import { givenProfile } from '../service/given.ts'
import { decodeStepSeconds } from '../service/profile.ts'
import { beginPlan } from './beginPlan.ts'
import { DAYS, type DayName } from './days.ts'
import { figuresOf, OPENINGS, type Figures, type OpeningName } from './openings.ts'
import { speedComplaint, stepLine } from './ownModel.ts'
import { SHAPES, type ShapeName } from './shapes.ts'

const batching = { prompts: 'whole', maxPrefillTokens: 8192, stepTokens: 2048, reservation: 'whole' } as const
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

/** What people saw: several side by side are slower than one, and no slower than by turns. */
const speeds = fc
  .record({
    alone: fc.double({ min: 0.01, max: 1e5, noNaN: true }),
    share: fc.double({ min: 0, max: 1, noNaN: true }),
    sideBySide: fc.integer({ min: 1, max: 200 }),
    reads: fc.double({ min: 1, max: 1e6, noNaN: true }),
  })
  .map(({ alone, share, sideBySide, reads }) => {
    const least = alone / sideBySide
    return {
      machine: 'Fenland twin',
      alone,
      together: sideBySide === 1 ? alone : least + share * (alone - least),
      sideBySide,
      reads,
      weightBytes: 9e9,
    }
  })

describe('a model of one’s own', () => {
  it('that is as fast as was seen takes as long as was seen, alone and side by side, whatever it counts in', () => {
    fc.assert(
      fc.property(fc.constantFrom(...openings), speeds, (opening, speed) => {
        expect(speedComplaint(speed)).toBeUndefined()
        const plan = checkPlan(beginPlan({ ...figuresOf(opening), own: { from: 'speed', speed } }, machines, 'EUR'))
        const [{ search }] = plan.services
        expect([search?.machines, search?.sequences.at(-1)]).toEqual([['Fenland twin'], speed.sideBySide])
        const spec = plan.models[0].variants[0].profiles?.[0].profile
        if (!spec) throw new Error('it has step costs')
        for (const [n, perSecond] of [
          [1, speed.alone],
          [speed.sideBySide, speed.together],
        ]) {
          const profile = givenProfile(spec, {
            sequences: speed.sideBySide,
            batching,
            windowSeconds: 0,
            contextTokens: 1e6,
            cacheTokens: 1e6,
          })
          const seconds =
            profile.kind === 'token'
              ? decodeStepSeconds(profile, n, 12_345)
              : profile.kind === 'batch'
                ? profile.baseSeconds[n] + profile.secondsPerWorkUnit[n]
                : (profile.baseSeconds + profile.secondsPerWorkUnit) * (1 + profile.slowdown * (n - 1))
          expect(seconds * perSecond).toBeCloseTo(1, 3)
          if (profile.kind === 'token') expect(profile.prefillSecondsPerToken * speed.reads).toBeCloseTo(1, 4)
        }
      }),
      { numRuns: 200 },
    )
  })

  it('can not be faster side by side than alone, nor slower than by turns', () => {
    const speed = { machine: 'Fenland twin', alone: 40, together: 20, sideBySide: 16, reads: 1, weightBytes: 1 }
    expect(speedComplaint(speed)).toBeUndefined()
    expect(speedComplaint({ ...speed, together: 41 })).toBe('side by side none can be faster than alone')
    expect(speedComplaint({ ...speed, together: 2.4 })).toBe('side by side each must have at least its share of the speed alone: 2.5')
    expect(speedComplaint({ ...speed, sideBySide: 1 })).toMatch(/^one side by side is alone/)
    // 25 ms alone and 50 ms with sixteen: 25/15 ms for each further one.
    expect(stepLine(speed).perSequence).toBeCloseTo(0.025 / 15, 8)
  })

  it('of a shape file is in the plan with what was assumed of it, and named so', () => {
    const text = readFileSync('examples/avocet-shape.json', 'utf8')
    const own = { from: 'file' as const, model: modelFromShape(readModelShape(text, 'avocet-shape.json')) }
    const figures = { ...figuresOf('chat'), own }
    const plan = checkPlan(beginPlan(figures, machines, 'EUR'))
    expect(plan.models).toEqual([{ ...own.model, activationBytes: Math.round(0.6e9 + own.model.parameters / 30) }])
    expect(plan.services[0].model).toBe('Avocet 8×6B')
    const assumed = assumedWords(figures, plan).filter((a) => a.field.startsWith('models'))
    expect(assumed.map((a) => a.field)).toEqual(['models[0].variants[0]', 'models[0].activationBytes'])
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
