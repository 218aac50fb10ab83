// @vitest-environment happy-dom
import { beginPlan, figuresOf, OPENINGS, type OpeningName, type Plan } from '@sandclock/core'
import { mount, type VueWrapper } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { allPassages, frame } from '../../../test/allPassages.ts'
import { demoPlan } from '../../data/demo.ts'
import { VIEWS } from '../../views.ts'
import CertaintyWords from './CertaintyWords.vue'
import { passagesOf } from './passages.ts'
import PlanSentence from './PlanSentence.vue'

const openings = (Object.keys(OPENINGS) as OpeningName[]).map((name) => beginPlan(figuresOf(name), demoPlan.machines, 'EUR'))
const crowd: Plan = {
  ...demoPlan,
  classes: Array.from({ length: 20 }, (_, i) => ({ ...demoPlan.classes[0], name: `caller ${i}` })),
  services: Array.from({ length: 10 }, (_, i) => ({ ...demoPlan.services[0], name: `desk ${i}` })),
}
const sentence = (plan: Plan, path = '/load', planId = 'p') => {
  const view = VIEWS.find((v) => v.path === path) ?? VIEWS[0]
  const props = { plan, planId, view: view.path, opens: view.opens }
  return allPassages(mount(PlanSentence, { props, attachTo: document.body }), plan)
}
const passage = (wrapper: VueWrapper, name: string) => {
  const found = wrapper.findAll('.passage').find((p) => p.get('.passage-mark').attributes('aria-label')?.includes(name))
  if (!found) throw new Error(`no passage of ${name}`)
  return found
}
const frames = async () => {
  for (let i = 0; i < 20; i++) await frame()
  await nextTick()
}

/** Words of neighbouring elements that nothing is between, as one hears and copies them. */
function touching(root: Element): string[] {
  const found: string[] = []
  let last = ''
  let block: Element | null = null
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT)
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const text = node.textContent ?? ''
    if (text === '') continue
    const its = node.parentElement?.closest('p, div, li, input') ?? null
    if (its !== block) last = ''
    block = its
    if (/[\p{L}\p{N}).,;:]$/u.test(last) && /^[\p{L}\p{N}(]/u.test(text)) found.push(`${last.slice(-20)}|${text.slice(0, 20)}`)
    last = text
  }
  return found
}

describe('the sentence of a plan', () => {
  beforeEach(() => sessionStorage.clear())

  it('is open where the view is, and a line with its key figures elsewhere', async () => {
    const wrapper = await sentence(demoPlan, '/load')
    expect(passage(wrapper, 'pilot desk').text()).toContain('sends up to')
    expect(passage(wrapper, 'pilot talk').text().replaceAll(/\s/g, ' ')).toMatch(/^\+pilot talk Curlew 14B · /)
    const run = VIEWS.find((v) => v.path === '/run')!
    await wrapper.setProps({ view: run.path, opens: run.opens })
    expect(passage(wrapper, 'pilot desk').text()).not.toContain('sends up to')
    expect(passage(wrapper, 'pilot talk').text()).toContain('the search tries')
    expect(passage(wrapper, 'pilot talk').text()).not.toContain('runs Curlew')
    wrapper.unmount()
  })

  it('comes a passage a frame, in order, behind what is said of the whole plan', async () => {
    const { path, opens } = VIEWS[0]
    const wrapper = mount(PlanSentence, { props: { plan: demoPlan, planId: 'p', view: path, opens } })
    const ids = passagesOf(demoPlan).map((p) => p.id)
    const seen = () => wrapper.findAll('[data-passage]').map((p) => p.attributes('data-passage'))
    expect(seen()).toEqual([])
    expect(wrapper.text()).toContain(demoPlan.name)
    let before = 0
    while (before < ids.length) {
      await frame()
      await nextTick()
      expect(seen().length - before).toBeLessThanOrEqual(1)
      before = seen().length
    }
    expect(seen()).toEqual(ids)
    wrapper.unmount()
  })

  it('is opened and folded with the same control, and stays so for this view and plan, also under another name', async () => {
    const wrapper = await sentence(demoPlan, '/load')
    await passage(wrapper, 'pilot talk').get('.passage-mark').trigger('click')
    expect(passage(wrapper, 'pilot talk').text()).toContain('the search tries')
    await wrapper.setProps({
      plan: { ...demoPlan, services: demoPlan.services.map((s, i) => (i === 0 ? { ...s, name: 'bridge talk' } : s)) },
    })
    expect(passage(wrapper, 'bridge talk').text()).toContain('the search tries')
    await passage(wrapper, 'pilot desk').get('.passage-mark').trigger('click')
    expect(passage(wrapper, 'pilot desk').get('.passage-mark').attributes('aria-expanded')).toBe('false')
    wrapper.unmount()
    const again = await sentence(demoPlan, '/load')
    expect(passage(again, 'pilot talk').text()).toContain('the search tries')
    again.unmount()
    const other = await sentence(demoPlan, '/load', 'another plan')
    expect(passage(other, 'pilot talk').text()).not.toContain('the search tries')
    other.unmount()
  })

  it('finds words in what is folded too, shows what has them, and goes to the figure', async () => {
    const wrapper = await sentence(crowd, '/load')
    const field = wrapper.get<HTMLInputElement>('input[type=search]')
    const seen = () => wrapper.findAll('.passage').filter((p) => (p.element.parentElement as HTMLElement).style.display !== 'none')
    const before = seen().length
    await field.setValue('head-room')
    await frames()
    expect(seen().map((p) => p.text())).toHaveLength(1)
    expect(seen()[0].text()).toContain('to spare, and believed over')
    await field.trigger('keydown', { key: 'Enter' })
    expect(document.activeElement?.getAttribute('aria-label')).toMatch(/^Head-room/)
    await field.setValue('maximum of follows the tide')
    await frames()
    expect(seen()).toHaveLength(10)
    await field.setValue('no such word')
    await frames()
    expect(wrapper.get('[role=status]').text()).toBe('Nothing in the plan is called that.')
    await field.trigger('keydown', { key: 'Escape' })
    await frames()
    expect(seen()).toHaveLength(before)
    wrapper.unmount()
  })

  it('has no words that touch, in the demo, every opening and a crowd, with all of it open', async () => {
    for (const plan of [demoPlan, crowd, ...openings]) {
      const wrapper = await sentence(plan, '/load')
      await wrapper.get('input[type=search]').setValue('a')
      await frames()
      expect(wrapper.findAll('.is-line')).toEqual([])
      expect(touching(wrapper.element), plan.name).toEqual([])
      wrapper.unmount()
    }
  })

  it('asks for a certainty and takes it back; doubts are those that are drawn', async () => {
    let plan: Plan = demoPlan
    const wrapper = mount(CertaintyWords, { props: { plan, onEdit: (edit: (p: Plan) => Plan) => (plan = edit(plan)) } })
    const plain = () => wrapper.text().replaceAll(/\s+/g, ' ')
    expect(plain()).toContain('In 95 of 100 worlds what is stated is off by at most 15 % of derived step costs')
    await wrapper.get('button.word').trigger('click')
    expect(plan.certainty).toBe(0.9)
    await wrapper.setProps({ plan: { ...plan, doubt: { load: 0.2 } } })
    expect(plain()).toContain('in the plan as it stands and in 90 % of the worlds around it (take out). ')
    expect(plain()).toContain('15 % of a start-up and 20 % of the load.')
    await wrapper.get('button.word').trigger('click')
    expect(plan).not.toHaveProperty('certainty')
  })
})
