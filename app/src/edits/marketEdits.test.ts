import { checkPlan, type Machine, type Plan } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import {
  copyMachine,
  copyModel,
  copyVariant,
  editMachine,
  editVariant,
  removeMachines,
  removeMeasurement,
  removeModel,
  renameModel,
  removeVariant,
  takeCatalogue,
  takeMeasurement,
  takeModel,
} from './marketEdits.ts'

const named = (plan: Plan, name: string) => plan.machines.find((m) => m.name === name)
const talk = (plan: Plan) => plan.services[0]
const searching = (machines: string[], without: { machine: string }[]): Plan => ({
  ...demoPlan,
  services: demoPlan.services.map((s, i) => (i === 0 && s.search ? { ...s, search: { ...s.search, machines, without } } : s)),
})

describe('edits of the market', () => {
  it('change a machine, and leave the others as they are', () => {
    const plan = checkPlan(editMachine('Tarn one', (m) => ({ ...m, pricePerHour: 9, stock: 0 }))(demoPlan))
    expect(named(plan, 'Tarn one')).toMatchObject({ pricePerHour: 9, stock: 0, provider: 'Tarn' })
    // checkPlan makes new objects
    expect(plan.machines.filter((m, i) => m !== demoPlan.machines[i]).map((m) => m.name)).toHaveLength(plan.machines.length)
    expect(plan.machines.filter((m) => m.name !== 'Tarn one')).toEqual(demoPlan.machines.filter((m) => m.name !== 'Tarn one'))
  })

  it('rename a machine wherever it stands: searches, what is left out, measurements, coefficients', () => {
    const before = searching(['Northquay ledge', 'Northquay stack'], [{ machine: 'Northquay ledge' }])
    const plan = checkPlan(editMachine('Northquay ledge', (m) => ({ ...m, name: 'shelf' }))(before))
    expect(talk(plan).search).toMatchObject({ machines: ['shelf', 'Northquay stack'], without: [{ machine: 'shelf' }] })
    const variants = plan.models.flatMap((m) => m.variants)
    expect(variants.flatMap((v) => v.measurements ?? []).map((m) => m.machine)).toEqual(['shelf'])
    expect(variants.flatMap((v) => v.profiles ?? []).some((p) => p.machine === 'shelf')).toBe(true)
    expect(JSON.stringify(plan)).not.toContain('Northquay ledge')
  })

  it('take machines out with what the search said of them; a search of none of the rest searches all', () => {
    const plan = checkPlan(
      removeMachines(['Northquay ledge', 'Northquay stack'])(
        searching(['Northquay ledge'], [{ machine: 'Northquay stack' }, { machine: 'Tarn one' }]),
      ),
    )
    expect(plan.machines).toHaveLength(demoPlan.machines.length - 2)
    expect(talk(plan).search?.machines).toBeUndefined()
    expect(talk(plan).search?.without).toEqual([{ machine: 'Tarn one' }])
  })

  it('a copy has a name of its own, however often it is made; an empty catalogue begins with a plain one', () => {
    const plan = checkPlan(copyMachine('Tarn one')(copyMachine('Tarn one')(demoPlan)))
    expect(new Set(plan.machines.map((m) => m.name)).size).toBe(demoPlan.machines.length + 2)
    expect(copyMachine(undefined)({ ...demoPlan, machines: [] }).machines).toHaveLength(1)
  })

  it('a catalogue replaces what has its names and adds the rest, or is all that is left', () => {
    const dearer: Machine = { ...demoPlan.machines[0], pricePerHour: 99 }
    const other: Machine = { ...demoPlan.machines[0], name: 'other' }
    const added = checkPlan(takeCatalogue([dearer, other], false)(demoPlan))
    expect(added.machines).toHaveLength(demoPlan.machines.length + 1)
    expect(added.machines[0].pricePerHour).toBe(99)
    const only = checkPlan(takeCatalogue([dearer, other], true)(searching(['Tarn one'], [])))
    expect(only.machines.map((m) => m.name)).toEqual([dearer.name, 'other'])
    expect(talk(only).search?.machines).toBeUndefined()
  })

  it('models and variants are taken in, copied without what was measured of the other, and taken out', () => {
    const copy = checkPlan(copyVariant('Curlew 14B', '8-bit')(demoPlan)).models[0].variants[2]
    expect(copy).toMatchObject({ name: 'another 8-bit', weightBits: 8 })
    expect([copy.measurements, copy.quality]).toEqual([undefined, undefined])
    const less = checkPlan(
      removeVariant(
        'Curlew 14B',
        '8-bit',
      )({
        ...demoPlan,
        services: demoPlan.services.map((s, i) => (i === 0 && s.search ? { ...s, search: { ...s.search, variants: ['8-bit'] } } : s)),
      }),
    )
    expect(less.models[0].variants.map((v) => v.name)).toEqual(['16-bit', '4-bit', '4-bit, tuned'])
    expect(talk(less).search?.variants).toBeUndefined()
    expect(removeVariant('Turnstone eye', '16-bit')(demoPlan).models.find((m) => m.name === 'Turnstone eye')?.variants).toHaveLength(1)
    expect(takeModel({ ...demoPlan.models[0], name: 'new' })(demoPlan).models).toHaveLength(demoPlan.models.length + 1)
    expect(takeModel(demoPlan.models[0])(demoPlan).models).toHaveLength(demoPlan.models.length)
    expect(editVariant('Curlew 14B', '4-bit', (v) => ({ ...v, weightBits: 3 }))(demoPlan).models[0].variants[2].weightBits).toBe(3)
  })

  it('a measurement takes the place of one for the same machine and devices, and can be forgotten', () => {
    const rows = [{ concurrency: 1, input: 100, output: 50, ttftSeconds: 0.1 }]
    const plan = checkPlan(takeMeasurement('Curlew 14B', '8-bit', { machine: 'Northquay ledge', rows })(demoPlan))
    expect(plan.models[0].variants[1].measurements).toEqual([{ machine: 'Northquay ledge', rows }])
    const two = takeMeasurement('Curlew 14B', '8-bit', { machine: 'Northquay ledge', devices: 2, rows })(plan)
    expect(two.models[0].variants[1].measurements).toHaveLength(2)
    const one = removeMeasurement('Curlew 14B', '8-bit', 'Northquay ledge', 1)(two)
    expect(one.models[0].variants[1].measurements?.map((m) => m.devices)).toEqual([2])
    expect('measurements' in removeMeasurement('Curlew 14B', '8-bit', 'Northquay ledge', 2)(one).models[0].variants[1]).toBe(false)
  })

  it('models are renamed with what runs them, doubled and taken out', () => {
    const [{ name }] = demoPlan.models
    const renamed = checkPlan(renameModel(name, 'Whimbrel')(demoPlan))
    expect(talk(renamed).model).toBe('Whimbrel')
    expect(JSON.stringify(renamed)).not.toContain(`"${name}"`)
    const twice = checkPlan(copyModel(name)(demoPlan))
    expect(twice.models[1]).toEqual({ ...demoPlan.models[0], name: `another ${name}` })
    expect(checkPlan(removeModel(`another ${name}`)(twice))).toEqual(demoPlan)
  })
})
