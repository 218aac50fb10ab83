import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { planJsonSchema } from './jsonSchema.ts'
import { BadInput } from './problem.ts'
import { checkPlan, readPlan, writePlan } from './read.ts'
import type { Plan } from './schema.ts'

/** The sentences with which a plan is refused. */
function complaints(value: unknown): string {
  try {
    checkPlan(value)
  } catch (error) {
    if (error instanceof BadInput) return error.message
    throw error
  }
  return ''
}

/** The demo plan with one place changed. */
function changed(path: (string | number)[], value: unknown): unknown {
  const plan = structuredClone(skerrySound) as unknown as Record<string | number, unknown> // walked by path below
  let here = plan
  for (const key of path.slice(0, -1)) here = here[key] as Record<string | number, unknown>
  here[path[path.length - 1]] = value
  return plan
}

describe('readPlan', () => {
  it('reads back what it wrote', () => {
    expect(readPlan(writePlan(skerrySound))).toEqual(skerrySound)
  })

  it.each([
    [['classes', 0, 'targets', 0, 'seconds'], -1, 'classes[0].targets[0].seconds is -1: it must be greater than 0.'],
    [['classes', 0, 'arrivals', 'kind'], 'sometimes', 'classes[0].arrivals.kind'],
    [['horizon', 'start'], 'Monday', 'horizon.start is "Monday": it must be a time such as "2027-03-01T00:00:00Z".'],
    [['seed'], 1.5, 'seed is 1.5: it must be a whole number.'],
    [['currency'], 'euro', 'currency is "euro": it must be a three-letter code such as "EUR".'],
    [['machines', 0, 'memoryBytesPerDevice'], '24 GB', 'machines[0].memoryBytesPerDevice is "24 GB": it must be a number.'],
    [['machines', 0, 'pricePerHuor'], 1, 'machines[0].pricePerHuor: is not a field of this format; correct its spelling or take it out.'],
    [['classes', 0, 'service'], 'talk', 'classes[0].service is "talk": it must be a name that stands in "services".'],
    [['classes', 2, 'work'], undefined, 'classes[2].work: is missing; service "hull eyes" needs it.'],
    [
      ['services', 0, 'search', 'machines'],
      ['Nowhere'],
      'services[0].search.machines[0] is "Nowhere": it must be a name that stands in "machines".',
    ],
    [['classes', 1, 'name'], 'pilot desk', 'classes[1].name is "pilot desk": it must differ from the other names of this list.'],
    [['horizon', 'warmupSeconds'], 700_000, 'horizon.warmupSeconds is 700000: it must be less than the horizon of 604800 seconds.'],
    [['classes', 2, 'targets'], [{ measure: 'ttft', percentile: 95, seconds: 1 }], 'fixed work has no tokens'],
    [['classes', 0, 'input'], { kind: 'lognormal', median: 100, p95: 50 }, 'classes[0].input.p95 is 50: it must be at least the median.'],
    [
      ['models', 0, 'variants', 1, 'measurements', 0, 'machine'],
      'Northquay legde',
      'models[0].variants[1].measurements[0].machine is "Northquay legde": it must be a name that stands in "machines".',
    ],
    [
      ['models', 4, 'variants', 0, 'profiles', 2, 'machine'],
      'Nowhere',
      'models[4].variants[0].profiles[2].machine is "Nowhere": it must be a name that stands in "machines".',
    ],
    [
      ['classes', 0, 'work'],
      { kind: 'fixed', value: 1 },
      'classes[0].work: must be left out: service "pilot talk" has prompts and answers',
    ],
    [['classes', 2, 'input'], { kind: 'fixed', value: 1 }, 'classes[2].input: must be left out: service "hull eyes" has fixed work'],
    [
      ['classes', 0, 'targets', 0, 'percentile'],
      0.95,
      'classes[0].targets[0].percentile is 0.95: it must be in per cent: 95 for 95 of 100.',
    ],
    [
      ['services', 0, 'policies', 1, 'metrics', 0, 'target'],
      60,
      'services[0].policies[1].metrics[0].target is 60: it must be a share of at most 1: host-cpu of 60 % is 0.6.',
    ],
    [['classes', 1, 'service'], 'pilot talk', 'services[1].name is "manifest desk": it must be the service of a class: nobody calls it'],
    [
      ['services', 0, 'search'],
      undefined,
      'services[0].policies[0].name is "follows the tide": it must be used: nothing searches, and the configuration does not name it',
    ],
  ])('names the place, the value and the rule: %j', (path, value, sentence) => {
    expect(complaints(changed(path, value))).toContain(sentence)
  })

  it.each([
    ['{', 'is not valid JSON'],
    ['[]', 'must hold one object with the fields "format" and "version"'],
    ['{"version":1}', 'format: is missing; it must be "sand-clock-plan".'],
    ['{"format":"other","version":1}', 'format is "other": it must be "sand-clock-plan".'],
    [
      '{"format":"sand-clock-plan","version":2,"planet":true}',
      'version is 2: it is newer than version 1, the newest that this Sand Clock reads',
    ],
    ['{"format":"sand-clock-plan","version":"1"}', 'version is "1": it must be 1.'],
  ])('refuses %s with a sentence', (text, sentence) => {
    expect(() => readPlan(text)).toThrow(sentence)
  })

  it('reports every problem at once', () => {
    const plan = changed(['seed'], -1) as Plan
    plan.margin = 2
    expect(complaints(plan).split('\n')).toHaveLength(3)
  })

  it('never throws anything but BadInput, whatever the JSON', () => {
    const seen = { refused: 0 }
    fc.assert(
      fc.property(fc.json(), fc.constantFrom('classes', 'machines', 'services', 'horizon', 'models'), (json, key) => {
        const plan = changed([key], JSON.parse(json))
        if (complaints(plan) !== '') seen.refused++
      }),
      { numRuns: 300, seed: 3 },
    )
    expect(seen.refused).toBeGreaterThan(250)
  })

  it('exports a JSON Schema that knows the fields', () => {
    expect(JSON.stringify(planJsonSchema())).toContain('"memoryBytesPerDevice"')
  })
})
