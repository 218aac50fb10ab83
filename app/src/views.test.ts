import type { Answer, ClassPicture, FitRow } from '@sandclock/core'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { demoPlan } from './data/demo.ts'
import { VIEWS, type Known } from './views.ts'

const nothing: Known = { plan: demoPlan, answer: null, load: [], fits: {} }
const figure = (path: string, known: Partial<Known>) =>
  VIEWS.find((v) => v.path === path)
    ?.figure({ ...nothing, ...known })
    .replaceAll(/[\u00a0\u202f]/g, ' ')
const rates = (...values: number[]) => ({ rates: Float64Array.from(values) }) as unknown as ClassPicture // the way reads the rates alone
const budgetLeft = (left: number) =>
  ({
    plan: demoPlan,
    meets: false,
    perHour: 1,
    currency: 'EUR',
    conflict: null,
    services: [],
    money: { budget: { perMonth: 1, left } },
  }) as unknown as Answer // what the way reads of it

describe('the table of views', () => {
  it('has a key, a page and an address of its own for each', () => {
    for (const of of ['path', 'key', 'name', 'question'] as const) expect(new Set(VIEWS.map((v) => v[of])).size).toBe(VIEWS.length)
    for (const { component } of VIEWS) {
      const page = /import\("?'?\.?\/?(?:app\/src\/)?(?:\.\/)?(pages\/\w+\.vue)|(pages\/\w+\.vue)/.exec(component.toString())
      expect(readFileSync(`app/src/${page?.[1] ?? page?.[2]}`, 'utf8')).toContain('<template>')
    }
  })

  it('says nothing where nothing is known', () => {
    const ofPlans = ['/start', '/measure']
    expect(VIEWS.filter((v) => !ofPlans.includes(v.path)).map((v) => v.figure(nothing))).toEqual(['', '', '', '', '', ''])
    expect(figure('/measure', {})).toBe('1 place')
    expect(figure('/measure', { plan: { ...demoPlan, models: [] } })).toBe('nothing yet')
  })

  it('adds up what arrives at one time, over all classes: as it is stated, else as it was drawn', () => {
    const load = [rates(1, 4, 0), rates(2, 0.5, 0)]
    const logged = { ...demoPlan, classes: demoPlan.classes.map((c) => ({ ...c, arrivals: { kind: 'log' as const } })) }
    expect(figure('/load', { load })).toBe('9.12 /s when most come')
    expect(figure('/load', { load, plan: logged })).toBe('4.50 /s when most come')
  })

  it('counts what fits of all services', () => {
    const row = (reason: string | null) => ({ reason }) as FitRow // the way reads the reason alone
    expect(figure('/fit', { fits: { a: [row(null), row('too large')], b: [row(null)] } })).toBe('2 of 3 fit')
  })

  it('tells a budget that is exceeded from a target that does not hold', () => {
    expect(figure('/answer', { answer: budgetLeft(-1) })).toBe('over the budget')
    expect(figure('/answer', { answer: budgetLeft(1) })).toBe('not every target holds')
  })

  it('gives what is over when its clients are done a price once', () => {
    const [first] = demoPlan.classes
    const job = {
      ...demoPlan,
      horizon: { ...demoPlan.horizon, seconds: 7200 },
      classes: [{ ...first, arrivals: { kind: 'closed-loop' as const, clients: 1, requestsPerClient: 1, thinkSeconds: 0 } }],
    }
    const met = (plan: typeof job) => ({ ...budgetLeft(1), plan, meets: true, perHour: 2 }) as Answer
    expect(figure('/answer', { answer: met(job) })).toBe('4.00 EUR once')
    expect(figure('/answer', { answer: met({ ...demoPlan } as typeof job) })).toBe('1 460 EUR a month')
  })
})
