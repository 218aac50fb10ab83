// @vitest-environment happy-dom
import { enumerate, startBudget } from '@sandclock/core'
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../data/demo.ts'
import StartWaterfall from './StartWaterfall.vue'

const [talk] = demoPlan.services
const candidate = enumerate(demoPlan, talk).find((c) => c.machine.name === 'Northquay ledge' && c.variant.name === '8-bit')!
const words = (text: string) => text.replaceAll(/[\u00a0\u202f\s]+/g, ' ')

describe('StartWaterfall', () => {
  const picture = (service = talk, copies = 1) =>
    mount(StartWaterfall, {
      props: { lines: startBudget(service, candidate, copies), used: 'store', timeoutSeconds: undefined, currency: 'EUR' },
    })

  it('has a line for every way and place, says which way the plan has, and what another would save', () => {
    const text = words(picture().text())
    expect(text).toContain('weights fetched at each start, as in the plan')
    expect(text.match(/from where one was before/g)).toHaveLength(3)
    expect(text).toMatch(/18\.0 s and 0\.00611 EUR less a start/)
  })

  it('asks to keep weights elsewhere, and marks where a start is given up', async () => {
    const wrapper = picture()
    const way = () => wrapper.findAll('button').find((b) => b.text() === 'in the image')
    // What is below the picture comes a frame later.
    await expect.poll(way).toBeDefined()
    await way()?.trigger('click')
    expect(wrapper.emitted('use')).toEqual([['image']])
    const hasty = { ...talk, start: { ...talk.start!, timeoutSeconds: 20 } }
    expect(picture(hasty).text()).toContain('given up here')
    expect(picture().text()).not.toContain('given up here')
  })

  it('has its stages pulled, by key here', async () => {
    const wrapper = picture()
    const tab = wrapper.get('[aria-label="Length of the stage machine"]')
    expect(tab.attributes('aria-valuenow')).toBe('80')
    await tab.trigger('keydown', { key: 'ArrowLeft', shiftKey: true })
    await wrapper.get('[aria-label="Length of the stage warm-up"]').trigger('keydown', { key: 'ArrowRight' })
    expect(wrapper.emitted('stage')).toEqual([
      ['machine', 70],
      ['warmup', 41],
    ])
  })
})
