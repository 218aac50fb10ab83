import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { firstOfForm, firstValue } from './firstValue.ts'
import { PlanSchema } from './schema.ts'
import { complaintAbout, fieldWords, formOfValue, shapeOf, type FieldShape, type Shape } from './shape.ts'

const from = { start: '2027-03-01T00:00:00Z', namesFor: () => undefined }

/** Every place below a shape, with the way to it. */
function places(shape: Shape, path = '', key = ''): { path: string; field: Pick<FieldShape, 'key' | 'shape'> }[] {
  const here = { path, field: { key, shape } }
  switch (shape.kind) {
    case 'group':
      return [here, ...shape.fields.flatMap((f) => places(f.shape, `${path}.${f.key}`, f.key))]
    case 'list':
      return [here, ...places(shape.of, `${path}[]`, key)]
    case 'map':
      return [here, ...places(shape.of, `${path}{}`, '')]
    case 'oneOf':
      return [here, ...shape.forms.flatMap((f) => places(f.shape, `${path}(${f.name})`, key))]
    default:
      return [here]
  }
}

const plan = shapeOf(PlanSchema)
const all = places(plan)

describe('the shape of a plan', () => {
  it('has every field of the schema, those of arrivals, models and profiles by their kinds', () => {
    expect(all.length).toBeGreaterThan(400)
    const paths = all.map((p) => p.path)
    for (const path of [
      '.horizon.warmupSeconds',
      '.classes[].arrivals(weekly).hours',
      '.classes[].arrivals(hourly).bursts(two-state).factor',
      '.classes[].targets[](lost).share',
      '.services[].policies[].up.limits[].periodSeconds',
      '.services[].configuration.profile(token).memorySeconds(by formula).perSequence',
      '.models[](experts).variants[].efficiency.memory',
      '.machines[].arithmeticPerSecond{}',
      '.machines[].ceilings.oneModel',
    ])
      expect(paths, path).toContain(path)
  })

  it('gives every place something to begin as that the place takes', () => {
    for (const { path, field } of all) {
      if (path === '' || path === '.machines' || path === '.machines[]') continue // refined: begun as a copy
      const first = firstValue(field, from)
      expect(complaintAbout(field.shape, first), `${path} as ${JSON.stringify(first)?.slice(0, 200)}`).toBeUndefined()
    }
  })

  it('every form can be changed to every other, and is then found to be it', () => {
    for (const { path, field } of all) {
      const { shape } = field
      if (shape.kind !== 'oneOf') continue
      let value = firstValue(field, from)
      for (const form of [...shape.forms, ...shape.forms.toReversed()]) {
        value = firstOfForm(shape, form.name, from, value)
        expect(formOfValue(shape, value).name, path).toBe(form.name)
        expect(complaintAbout(shape, value), `${path} as ${form.name}: ${JSON.stringify(value).slice(0, 300)}`).toBeUndefined()
      }
    }
  })

  it('units follow from names', () => {
    const unit = (path: string) => {
      const shape = all.find((p) => p.path === path)?.field.shape
      return shape?.kind === 'number' ? shape.unit : undefined
    }
    expect(unit('.classes[].patienceSeconds')).toBe('duration')
    expect(unit('.services[].start.weights.totalBytesPerSecond')).toBe('byteRate')
    expect(unit('.machines[].memoryBytesPerDevice')).toBe('bytes')
    expect(unit('.machines[].pricePerHour')).toBe('hourly')
    expect(unit('.assumptions.memoryShare')).toBe('percent')
    expect(unit('.machines[].arithmeticPerSecond{}')).toBe('operations')
    expect(unit('.models[](cpu).secondsPerUnit')).toBe('duration')
    expect(unit('.models[](dense).layers')).toBe('count')
  })

  it('names are words without their unit', () => {
    expect(fieldWords('patienceSeconds')).toBe('patience')
    expect(fieldWords('imageTotalBytesPerSecond')).toBe('image total')
    expect(fieldWords('seconds')).toBe('seconds')
    fc.assert(
      fc.property(fc.constantFrom(...all.map((p) => p.field.key)), (key) => key === '' || /^[a-z0-9][a-z0-9 -]*$/.test(fieldWords(key))),
    )
  })

  it('what a place does not take is said with the rule', () => {
    const patience = all.find((p) => p.path === '.classes[].patienceSeconds')!.field.shape
    expect(complaintAbout(patience, -1)).toBe('must be greater than 0')
    expect(complaintAbout(patience, 3)).toBeUndefined()
  })
})
