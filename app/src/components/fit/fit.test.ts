// @vitest-environment happy-dom
import { creditBetween, fitDetail, fitTable, Load, type FitRow, type Plan } from '@sandclock/core'
import { mount } from '@vue/test-utils'
import { beforeAll, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { inOrder, matching, rowKey } from '../../composables/fitOrder.ts'
import { demoPlan } from '../../data/demo.ts'
import CreditPicture from './CreditPicture.vue'
import FitDerivation from './FitDerivation.vue'
import FitRows from './FitRows.vue'
import RoomPicture from './RoomPicture.vue'

const plan: Plan = {
  ...demoPlan,
  horizon: { ...demoPlan.horizon, seconds: 3600, warmupSeconds: 0 },
  classes: demoPlan.classes.map((c) => ({ ...c, arrivals: { kind: 'steady' as const, ratePerSecond: 0.1 } })),
}
const words = (text: string) => text.replaceAll(/[\u00a0\u202f\s]+/g, ' ')
const frames = async (n: number) => {
  for (let i = 0; i < n; i++) await new Promise((resolve) => requestAnimationFrame(resolve))
}
let rows: FitRow[]
beforeAll(() => {
  rows = fitTable(plan, plan.services[0], new Load(plan).of(plan.services[0], 0))
})

describe('FitRows', () => {
  const some = () => rows.filter((r) => r.machine === 'Northquay pebble')
  const table = (list: readonly FitRow[] = some()) =>
    mount(FitRows, {
      attachTo: document.body,
      props: { rows: list, currency: 'EUR', chosen: 'Northquay pebble 8-bit 1', pinned: '', modelValue: rowKey(list[0]) },
    })

  it('shows memory by parts, what does not fit and why, what would mend it, and which one is chosen', async () => {
    const wrapper = table()
    await frames(2)
    const text = words(wrapper.text())
    expect(text).toContain('weights 28.0 GB, memory 24.0 GB; needs 2 devices. Would fit 8-bit instead')
    expect(text).toContain('chosen: 5.38 GB for the cache, of 24.0 GB')
    expect(wrapper.find('.over').exists()).toBe(true)
    const parts = wrapper.findAll('.vessel')[1].attributes('title') ?? ''
    for (const part of ['weights', 'activations and reserve', 'cache in use when full', 'withheld']) expect(parts).toContain(part)
    await wrapper
      .findAll('button')
      .find((b) => b.text() === '8-bit instead')
      ?.trigger('click')
    expect(wrapper.emitted('remedy')?.[0]).toEqual([expect.objectContaining({ change: { kind: 'variant', variant: '8-bit' } })])
    wrapper.unmount()
  })

  it('is walked by keys: arrows look, Space takes out of the search, P pins, / filters', async () => {
    const wrapper = table()
    await frames(2)
    const first = wrapper.get('tr[tabindex="0"]')
    await first.trigger('keydown', { key: 'ArrowDown' })
    expect(wrapper.emitted('update:modelValue')?.at(-1)).toEqual([rowKey(some()[1])])
    await first.trigger('keydown', { key: ' ' })
    expect(wrapper.emitted('search')?.[0]).toEqual([[some()[0]], false])
    await first.trigger('keydown', { key: 'p' })
    expect(wrapper.emitted('pin')?.[0]).toEqual([some()[0]])
    await first.trigger('keydown', { key: '/' })
    expect(document.activeElement?.getAttribute('aria-label')).toBe('Show rows with these words')
    await wrapper.get('input[type=search]').setValue('4-bit -tuned')
    expect(wrapper.findAll('tr.fit-row')).toHaveLength(1)
    await wrapper.get('input[type=search]').setValue('nothing like it')
    expect(wrapper.text()).toContain('No row has all of these words')
    wrapper.unmount()
  })

  it.each([
    ['gives a row that a key goes to the focus once it is there, if the rows still come', false],
    ['leaves the focus where somebody has gone on to before that', true],
  ])('%s', async (_, goesOn) => {
    const wrapper = mount(FitRows, {
      attachTo: document.body,
      props: {
        rows,
        currency: 'EUR',
        chosen: '',
        pinned: '',
        modelValue: rowKey(rows[0]),
        'onUpdate:modelValue': (key: string) => wrapper.setProps({ modelValue: key }),
      },
    })
    const last = () => wrapper.find(`tr[aria-rowindex="${rows.length + 1}"]`)
    const first = wrapper.get<HTMLElement>('tr[aria-rowindex="2"]')
    first.element.focus()
    void first.trigger('keydown', { key: 'End' })
    await nextTick()
    expect(last().exists()).toBe(false)
    const filter = wrapper.get<HTMLElement>('input[type=search]').element
    if (goesOn) filter.focus()
    await frames(12)
    expect(last().exists()).toBe(true)
    expect(document.activeElement).toBe(goesOn ? filter : last().element)
    wrapper.unmount()
  })
})

describe('orders and filters of the rows', () => {
  it('sort by what they say, fitting rows first by speed', () => {
    const money = inOrder(rows, 'speed for the money')
    expect(money[0].forMoney).toBe(Math.max(...rows.map((r) => r.forMoney)))
    expect(inOrder(rows, 'time of a token').at(-1)?.reason).not.toBeNull()
    expect(inOrder(rows, 'as listed')).toEqual(rows)
    const free = inOrder(rows, 'free memory')
    expect(free[0].memory?.cacheBytes).toBe(Math.max(...rows.filter((r) => r.reason === null).map((r) => r.memory?.cacheBytes ?? 0)))
  })
  it('every word has to stand in the row, none with a minus', () => {
    expect(matching(rows, 'fits tarn -one').every((r) => r.reason === null && r.provider === 'Tarn' && r.machine !== 'Tarn one')).toBe(true)
    expect(matching(rows, 'measured')).toHaveLength(1)
    expect(matching(rows, '')).toHaveLength(rows.length)
  })
})

describe('RoomPicture', () => {
  const ledge = () => rows.find((r) => r.machine === 'Northquay ledge' && r.variant === '16-bit')!
  const picture = () =>
    mount(RoomPicture, {
      props: {
        row: ledge(),
        share: 0.9,
        reserveBytesPerDevice: 0.8e9,
        contextTokens: 32_768,
        mostContext: 32_768,
        sequences: 64,
        height: 212,
      },
    })

  it('says how many of the longest requests there is room for', () => {
    expect(words(picture().text())).toContain(
      'Room for 80 566 tokens: 2 requests of the longest kind (32 768 tokens) against the 64 that may come side by side',
    )
  })

  it('share, reserve, context and concurrency move by key', async () => {
    const wrapper = picture()
    const slider = (label: string) => wrapper.get(`[role=slider][aria-label="${label}"]`)
    await slider('Share of the memory given to the server').trigger('keydown', { key: 'ArrowDown' })
    expect(wrapper.emitted('share')?.[0]).toEqual([0.89])
    await slider('Reserve of a device').trigger('keydown', { key: 'ArrowUp' })
    expect(wrapper.emitted('reserve')?.[0]).toEqual([0.9e9])
    await slider('Longest request, tokens').trigger('keydown', { key: 'ArrowDown' })
    expect(wrapper.emitted('context')?.[0]).toEqual([26_240])
    await slider('Requests side by side').trigger('keydown', { key: 'ArrowLeft' })
    expect(wrapper.emitted('sequences')?.[0]).toEqual([51])
  })
})

describe('FitDerivation', () => {
  it('lays derived beside measured, with coefficients, their intervals and formulas', () => {
    const detail = fitDetail(
      plan,
      plan.services[0],
      { machine: 'Northquay ledge', variant: '8-bit', devices: 1 },
      new Load(plan).of(plan.services[0], 0),
    )!
    const wrapper = mount(FitDerivation, { props: { detail } })
    const text = words(wrapper.text())
    expect(text).toMatch(/derived.*measured, relied on/)
    expect(text).toContain('Harbour office trial of February 2027')
    expect(text).toMatch(/P1 ?seconds for each prompt token/)
    expect(text).toContain('2·L·d·b·max(g, D)')
    expect(wrapper.findAll('figure [title]').length).toBe(detail.measured?.calibration.residuals.length)
  })
})

describe('CreditPicture', () => {
  it('names each cause with its multiple, in the picture and in the table', async () => {
    const [from, to] = ['16-bit', '4-bit'].map((v) => rows.find((r) => r.machine === 'Northquay ledge' && r.variant === v)!)
    const comparison = creditBetween(plan, plan.services[0], from, to, { input: 600, output: 400 }, 32)
    const wrapper = mount(CreditPicture, { props: { comparison, from, to, currency: 'EUR' } })
    await nextTick()
    const text = words(wrapper.text())
    expect(text).toContain(
      'From Northquay ledge, 16-bit to Northquay ledge, 4-bit: format, weight bits differ. Whether its answers are better or worse is undecided',
    )
    expect(text).toMatch(/weight bits × 0\.\d+/)
    expect(text).toMatch(/format × 1\.\d+/)
    expect(wrapper.findAll('tbody tr').length).toBe(5)
  })
})
