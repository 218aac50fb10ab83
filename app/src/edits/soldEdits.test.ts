import { checkPlan, type Plan } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import { removeModel, removeVariant, renameModel, renameVariant } from './marketEdits.ts'
import { addSold, editSold, removeSold, tryTokens } from './soldEdits.ts'

const sold = (plan: Plan) => plan.soldByTokens ?? []
const [talk] = demoPlan.services

describe('edits of what is sold by tokens', () => {
  const one = checkPlan(addSold(demoPlan))

  it('begin with one of the model that the first service of tokens runs, go on with more like it, and leave nothing behind', () => {
    expect(sold(one)).toMatchObject([{ name: 'hosted model', model: talk.model }])
    const two = checkPlan(addSold(one))
    expect(sold(two)).toEqual([sold(one)[0], { ...sold(one)[0], name: 'another hosted model' }])
    expect(removeSold('another hosted model')(two)).toEqual(one)
    expect(removeSold('hosted model')(one)).toEqual(demoPlan)
    const [, , eyes] = demoPlan.services
    const without = { ...demoPlan, services: [eyes], classes: demoPlan.classes.filter((c) => c.service === eyes.name) }
    expect(addSold(without)).toBe(without)
  })

  it('carry a new name to what states it', () => {
    const configuration = {
      machine: 'hosted model',
      variant: sold(one)[0].variant,
      sequences: 4,
      replicas: 1,
      purchase: 'per-token' as const,
    }
    const stated = { ...one, services: one.services.map((s, i) => (i === 0 ? { ...s, configuration } : s)) }
    const renamed = checkPlan(editSold('hosted model', (s) => ({ ...s, name: 'Firth relay' }))(stated))
    expect([sold(renamed)[0].name, renamed.services[0].configuration?.machine]).toEqual(['Firth relay', 'Firth relay'])
  })

  it('let the search of a service try tokens beside what it tries', () => {
    const before = talk.search?.purchases ?? ['on-demand']
    const after = checkPlan(tryTokens(talk.name)(one)).services[0].search?.purchases
    expect(new Set(after)).toEqual(new Set([...before, 'per-token']))
    expect(tryTokens(talk.name)(tryTokens(talk.name)(one)).services[0].search?.purchases).toEqual(after)
  })

  it('follow the model and the variant that it serves: renamed with them, and gone with them', () => {
    const [{ model, variant }] = sold(one)
    expect(sold(checkPlan(renameModel(model, 'Whimbrel')(one)))[0].model).toBe('Whimbrel')
    const renamed = checkPlan(
      renameVariant(
        model,
        variant,
        'whole',
      )({ ...one, services: one.services.map((s, i) => (i === 0 ? { ...s, search: { ...s.search!, variants: [variant] } } : s)) }),
    )
    expect([sold(renamed)[0].variant, renamed.services[0].search?.variants]).toEqual(['whole', ['whole']])
    expect(sold(checkPlan(removeVariant(model, variant)(one)))).toEqual([])
    expect(sold(removeModel(model)(one))).toEqual([])
  })
})
