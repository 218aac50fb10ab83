// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import EditableFigure from './EditableFigure.vue'

const figure = (props: Partial<InstanceType<typeof EditableFigure>['$props']> = {}) =>
  mount(EditableFigure, { props: { value: 0.6, kind: 'duration', label: 'TTFT target', min: 0.001, ...props }, attachTo: document.body })

async function type(wrapper: ReturnType<typeof figure>, text: string): Promise<void> {
  await wrapper.get('button').trigger('click')
  await wrapper.get('input').setValue(text)
  await wrapper.get('input').trigger('keydown', { key: 'Enter' })
}

describe('EditableFigure', () => {
  it('reads as prose and says what it is', () => {
    const button = figure().get('button')
    expect(button.text()).toBe('600\u00a0ms')
    expect(button.attributes('aria-label')).toBe('TTFT target: 600\u00a0ms. Change it.')
  })

  it('takes a figure as people type it', async () => {
    const wrapper = figure()
    await type(wrapper, '1.2 s')
    expect(wrapper.emitted('commit')).toEqual([[1.2]])
    expect(wrapper.find('input').exists()).toBe(false)
  })

  it('refuses what is none, or out of bounds, with a sentence, and keeps what was typed', async () => {
    const wrapper = figure({ max: 60 })
    await type(wrapper, 'soon')
    expect(wrapper.get('[role=alert]').text()).toBe('Type a duration such as 600 ms or 4 h 30 min.')
    await wrapper.get('input').setValue('2 min')
    await wrapper.get('input').trigger('keydown', { key: 'Enter' })
    expect(wrapper.get('[role=alert]').text()).toBe('At most 60.0\u00a0s.')
    expect(wrapper.emitted('commit')).toBeUndefined()
    await wrapper.get('input').trigger('keydown', { key: 'Escape' })
    expect(wrapper.get('button').text()).toBe('600\u00a0ms')
  })

  it('says nothing when the figure stays the same', async () => {
    const wrapper = figure()
    await type(wrapper, '600 ms')
    expect(wrapper.emitted('commit')).toBeUndefined()
  })

  it('does not lose digits that are not shown when it is opened and left', async () => {
    const wrapper = figure({ value: 1.23456, kind: 'number' })
    await wrapper.get('button').trigger('click')
    await wrapper.get('input').trigger('blur')
    expect(wrapper.emitted('commit')).toBeUndefined()
  })

  it('commits once, though Enter takes the field away and so leaves it', async () => {
    const wrapper = figure()
    await wrapper.get('button').trigger('click')
    const input = wrapper.get('input')
    await input.setValue('2 s')
    input.element.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }))
    input.element.dispatchEvent(new FocusEvent('blur'))
    expect(wrapper.emitted('commit')).toEqual([[2]])
  })

  it('is nudged by arrows, whole numbers by at least one, never past a bound', async () => {
    const wrapper = figure({ value: 3, kind: 'count', min: 1, max: 4 })
    await wrapper.get('button').trigger('keydown', { key: 'ArrowUp' })
    await wrapper.get('button').trigger('keydown', { key: 'ArrowDown' })
    expect(wrapper.emitted('commit')).toEqual([[4], [2]])
    await wrapper.setProps({ value: 4 })
    await wrapper.get('button').trigger('keydown', { key: 'ArrowUp' })
    expect(wrapper.emitted('commit')).toHaveLength(2)
  })
})
