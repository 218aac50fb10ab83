import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { optionName } from './optionName.ts'
import { settingWords } from '../explain/waysWords.ts'
import { checkPlan } from '../plan/read.ts'
import type { Plan } from '../plan/schema.ts'
import { candidateOf } from './named.ts'
import { enumerate } from './enumerate.ts'
import { countCandidates } from './entries.ts'
import { settingsOf } from './settings.ts'

type Search = NonNullable<Plan['services'][number]['search']>
const [talk, , eyes] = skerrySound.services
const names = (service: Plan['services'][number], search: Partial<Search>) =>
  settingsOf({ ...service, search: { sequences: [8], ...search } }).map((s) => s.setting && settingWords(s.setting))
const planWith = (search: Partial<Search>, service = talk): Plan => ({
  ...skerrySound,
  services: [{ ...service, search: { ...service.search, sequences: [16], devices: [1], ...search } }],
  classes: skerrySound.classes.filter((c) => c.service === service.name),
})

describe('what a search tries beside what a service states', () => {
  it('is nothing unless the search says so', () => {
    expect(settingsOf(talk)).toEqual([{ setting: null, service: talk }])
    expect(names(talk, { routings: [talk.routing] })).toEqual([null])
  })

  it('is every entry, by hand: two routings beside the own one, chunks of two sizes beside whole prompts', () => {
    expect(
      names(talk, { routings: ['two-choice', 'least-busy', 'shared-queue'], prompts: ['interleaved'], stepTokens: [2048, 512] }),
    ).toEqual([
      null,
      'prompts in chunks',
      'prompts in chunks, 512 tokens a step',
      'two-choice routing',
      'two-choice routing, prompts in chunks',
      'two-choice routing, prompts in chunks, 512 tokens a step',
      'shared-queue routing',
      'shared-queue routing, prompts in chunks',
      'shared-queue routing, prompts in chunks, 512 tokens a step',
    ])
    expect(names(talk, { weightsFrom: ['image', 'node'], reservations: ['optimistic'], maxPrefillTokens: [2048] })).toHaveLength(3 * 2 * 2)
    expect(names(eyes, { windowSeconds: [0, 0.05, 0.2] })).toEqual([null, 'batches that do not wait', 'batches that wait 0.2 s'])
  })

  it('is run as it says, and each is found again by its name', () => {
    const plan = planWith({
      routings: ['round-robin'],
      weightsFrom: ['image'],
      prompts: ['interleaved'],
      machines: ['Northquay ledge'],
      purchases: ['on-demand'],
    })
    const all = enumerate(plan, plan.services[0])
    expect(all).toHaveLength(countCandidates(plan))
    expect(all).toHaveLength(
      enumerate(
        planWith({ machines: ['Northquay ledge'], purchases: ['on-demand'] }),
        planWith({ machines: ['Northquay ledge'], purchases: ['on-demand'] }).services[0],
      ).length * 8,
    )
    for (const c of all) expect(candidateOf(plan, plan.services[0], optionName(c))?.index).toBe(c.index)
    const other = all.find((c) => c.setting && settingWords(c.setting) === 'round-robin routing, weights in the image, prompts in chunks')
    expect(other?.service).toMatchObject({
      routing: 'round-robin',
      start: { weights: { from: 'image' } },
      limits: { prompts: 'interleaved' },
    })
    expect(other?.service.search).not.toHaveProperty('routings')
  })

  it('is refused with a sentence where it can not matter', () => {
    const { start: _, ...bare } = talk
    expect(() => checkPlan(planWith({ weightsFrom: ['image'] }, bare))).toThrow(/weightsFrom.*no start-up by stages/s)
    expect(() => checkPlan(planWith({ windowSeconds: [1] }))).toThrow(/windowSeconds.*only batches wait to fill/s)
    expect(() => checkPlan(planWith({ prompts: ['interleaved'] }, eyes))).toThrow(/prompts.*fixed work has no prompts/s)
  })
})
