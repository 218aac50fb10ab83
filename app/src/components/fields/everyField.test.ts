// @vitest-environment happy-dom
import {
  classFields,
  complaintAbout,
  formOfValue,
  MACHINE_COLUMNS,
  modelFields,
  placesOf,
  planFields,
  planShape,
  serviceFields,
  showQuantity,
  variantFields,
  type FieldShape,
  type Model,
  type Place,
} from '@sandclock/core'
import { mount, type VueWrapper } from '@vue/test-utils'
import { readFileSync } from 'node:fs'
import { afterAll, describe, expect, it } from 'vitest'
import FieldGroup from './FieldGroup.vue'

const from = { start: '2027-03-01T00:00:00Z', namesFor: () => undefined }
const all = placesOf(planShape(), from)

/** What is not changed in the interface, and why; docs/plan-format.md has the same list. */
const NOT_CHANGED: Record<string, string> = {
  '.format': 'says that the file is a plan',
  '.version': 'says which version of the format it is in',
}
/** Names are changed where they stand, with all that points to them. */
const isOwnName = (path: string) =>
  /^(\.(classes|services|machines|models)\[\](\(\w+\))?|\.models\[\]\(\w+\)\.variants\[\]|)\.name$/.test(path)
/** A model of another kind is another model: one is taken in, or begun with. */
const isModelKind = (path: string) => /^\.models\[\]\(\w+\)\.kind$/.test(path)

/** The part of the interface that a place is changed in: its fields, and the value that it is given of them. */
function partOf({ path, value }: Place): { fields: readonly FieldShape[]; value: Record<string, unknown>; path: string } {
  const plan = value as Record<string, Record<string, unknown>[]>
  if (path.startsWith('.classes[]')) return { fields: classFields(), value: plan.classes[0], path: '.classes[]' }
  if (path.startsWith('.services[]')) return { fields: serviceFields(), value: plan.services[0], path: '.services[]' }
  const [model] = /^\.models\[\]\(\w+\)/.exec(path) ?? []
  if (model && path.startsWith(`${model}.variants[]`))
    return { fields: variantFields(), value: (plan.models[0].variants as Record<string, unknown>[])[0], path: `${model}.variants[]` }
  if (model) return { fields: modelFields(plan.models[0] as unknown as Model), value: plan.models[0], path: model }
  return { fields: planFields(), value: plan as Record<string, unknown>, path: '' }
}

/** Another value that a place takes, as one types it; undefined where something is chosen. */
function another({ shape, key, value }: Place, had: unknown): string | undefined {
  const one = shape.kind === 'list' ? shape.of : shape
  const length = Array.isArray(had) ? had.length : 1
  const wholly = (x: unknown) => (shape.kind === 'list' ? Array.from({ length }, () => x) : x)
  const differs = (x: unknown) => complaintAbout(shape, wholly(x)) === undefined && JSON.stringify(wholly(x)) !== JSON.stringify(had)
  const typed = (x: string) => Array.from({ length }, () => x).join(', ')
  if (one.kind === 'number') {
    const next = [3, 2, 1, 5, 0.25, 0.75, 60, 1.5].find(differs)
    return next === undefined ? undefined : typed(showQuantity(next, one.unit))
  }
  if (one.kind === 'choice' && shape.kind === 'list') return one.values.find(differs)
  if (one.kind !== 'text') return undefined
  const texts = ['another one', '08:15', 'USD', '2027-03-09T00:00:00.000Z']
  const next = texts.find(differs)
  return next && typed(next) + (value === undefined ? key : '')
}

const at = (value: unknown, steps: readonly string[]): unknown =>
  steps.reduce<unknown>((x, step) => (x as Record<string, unknown> | undefined)?.[step], value)
/** The keys of a path below a part, in the value that placesOf made. */
const stepsOf = (path: string) =>
  [
    ...path
      .replaceAll(/\([^)]*\)/g, '')
      .replaceAll('[]', '.0')
      .replaceAll('{}', '.16')
      .matchAll(/\.(\w+)/g),
  ].map((m) => m[1])

describe('every field of a plan is changed somewhere', () => {
  it('all but a few, which are said in the documents with why', () => {
    expect(all.length).toBeGreaterThan(300)
    const out = all.filter((p) => p.path in NOT_CHANGED)
    expect(out.map((p) => p.path).sort()).toEqual(Object.keys(NOT_CHANGED).sort())
    expect(out.length / all.length).toBeLessThan(0.1)
    const document = readFileSync('docs/plan-format.md', 'utf8').replaceAll(/ +/g, ' ')
    for (const [path, why] of Object.entries(NOT_CHANGED)) expect(document).toContain(`| \`${path.slice(1)}\` | ${why} |`)
  })

  it('those of machines in the sheet', () => {
    const columns = MACHINE_COLUMNS.map((c) => c.key.split('.')[0])
    const fields = all.filter((p) => p.path.startsWith('.machines[]')).map((p) => stepsOf(p.path)[2])
    expect([...new Set(fields)].filter((f) => !columns.includes(f))).toEqual([])
  })

  // A variant is the same for every kind of model.
  const isSeenBefore = (path: string) => path.includes('.variants[]') && !path.startsWith('.models[](dense)')
  const rest = all.filter(
    (p) =>
      !isSeenBefore(p.path) && !(p.path in NOT_CHANGED) && !p.path.startsWith('.machines[]') && !isOwnName(p.path) && !isModelKind(p.path),
  )
  /** A part of the interface, which is drawn once for one value of it after the other: it keeps nothing but that. */
  const drawn = new Map<string, VueWrapper>()
  afterAll(() => drawn.forEach((wrapper) => wrapper.unmount()))
  async function draw({ fields, value, path }: ReturnType<typeof partOf>): Promise<VueWrapper> {
    const key = JSON.stringify([path, fields.map((f) => f.key)])
    const wrapper =
      drawn.get(key) ??
      (mount(FieldGroup, { props: { fields, value, label: 'it', path, from }, attachTo: document.body }) as unknown as VueWrapper)
    drawn.set(key, wrapper)
    await wrapper.setProps({ value } as never)
    return wrapper
  }

  it.each(rest.map((p) => [p.path, p] as const))('%s', async (path, place) => {
    const part = partOf(place)
    const wrapper = await draw(part)
    const steps = stepsOf(path.slice(part.path.length))
    const had = at(part.value, steps)
    // A form that is told by nothing but itself is the place, and has no field of its own.
    const field = wrapper.find(`[data-field="${path}"]`)
    const home = field.exists() ? field : wrapper.find(`[data-field="${path.replace(/\([^)]*\)(\{\}|\[\])?$|\{\}$|\[\]$/, '')}"]`)
    expect(home.exists(), path).toBe(true)
    const controls = home.findAll('button.changeable')
    expect(controls.length, path).toBeGreaterThan(0)
    const typed = another(place, had)
    if (typed === undefined) {
      expect(home.find('[aria-haspopup=listbox]').exists(), path).toBe(true)
    } else {
      const changes = () => wrapper.emitted('change')?.length ?? 0
      const before = changes()
      const control = controls.find((c) => c.attributes('aria-haspopup') === undefined)
      await control?.trigger('click')
      await home.get('input').setValue(typed)
      await home.get('input').trigger('keydown', { key: 'Enter' })
      expect(changes(), path).toBe(before + 1)
      const [next] = wrapper.emitted('change')?.at(-1) ?? []
      expect(at(next, steps), `${path}: ${typed}`).not.toEqual(had)
      expect(at(next, steps), `${path}: ${typed}`).toBeDefined()
    }
  })

  it('forms are told apart by what they are', () => {
    for (const { shape, value } of all) if (shape.kind === 'oneOf') expect(formOfValue(shape, value)).toBeDefined()
  })
})
