// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../data/demo.ts'
import TriedBeside from './TriedBeside.vue'

const [talk, , eyes] = demoPlan.services
const words = (search: Partial<NonNullable<typeof talk.search>> = {}, service = talk, hasTokens = true) =>
  mount(TriedBeside, { props: { service: { ...service, search: { sequences: [16], ...search } }, hasTokens } })

describe('what a search tries beside what a service states', () => {
  it('reads as a sentence of what is tried, and shows all else only to those who ask', async () => {
    const wrapper = words({ routings: ['two-choice'], weightsFrom: ['image'], stepTokens: [512, 1024] })
    expect(wrapper.text()).toMatch(/^It tries two-choice routing and weights in the image as well, and 512 or 1024 tokens a step\./)
    expect(wrapper.findAll('[aria-pressed]')).toHaveLength(2)
    await wrapper.get('[aria-expanded=false]').trigger('click')
    expect(wrapper.findAll('[aria-pressed=true]').map((b) => b.text())).toEqual(['two-choice routing', 'weights in the image'])
    expect(wrapper.findAll('[aria-pressed=false]').map((b) => b.text())).toEqual([
      'round-robin routing',
      'shared-queue routing',
      'weights kept on the machine',
      'prompts in chunks',
      'room as tokens come',
    ])
  })

  it('is said in nothing where nothing is tried; fixed work has no prompts to try otherwise', async () => {
    const wrapper = words({}, eyes, false)
    expect(wrapper.text()).toBe('try other ways of running it')
    await wrapper.get('button').trigger('click')
    expect(wrapper.text()).not.toMatch(/prompts|room/)
  })

  it('takes one in and out; the last one leaves no empty list', async () => {
    const wrapper = words({ routings: ['two-choice'] })
    await wrapper.get('[aria-pressed=true]').trigger('click')
    expect(wrapper.emitted('change')?.at(-1)).toEqual([{ sequences: [16] }])
    await wrapper.get('[aria-expanded]').trigger('click')
    await wrapper.get('[aria-label="pilot talk: try shared-queue routing as well"]').trigger('click')
    expect(wrapper.emitted('change')?.at(-1)).toEqual([{ sequences: [16], routings: ['two-choice', 'shared-queue'] }])
  })
})
