// @vitest-environment happy-dom
import { readProbed, tellMeasured, type ProbedRequest, type Reached, type StatedOrder } from '@sandclock/core'
import { mount } from '@vue/test-utils'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../data/demo.ts'
import { orderOf, readKeptOrder, USUAL_ORDER } from '../../data/measureOrder.ts'
import AskWords from './AskWords.vue'
import { besideOf, stair } from './beside.ts'
import { readList, readPrompts, readSizes, SHAPE_WORDS, shapeOfKind, sizesWords, withPrompts, type ShapeKind } from './shapes.ts'
import { levels, MOST_STROKES, stretches, strokesOf, upright } from './strokes.ts'
import TakeSleep from './TakeSleep.vue'
import TakeWords from './TakeWords.vue'

const row = (number: number, part: string, due: number, first: number, end: number, more: Partial<ProbedRequest> = {}): ProbedRequest => ({
  number,
  part,
  warmUp: false,
  due,
  sent: due + 0.25,
  atOnce: 1,
  firstToken: due + first,
  end: due + end,
  outcome: 'finished',
  status: 200,
  why: '',
  input: 10,
  output: 5,
  gaps: [],
  ...more,
})
const rows = [row(0, 'a', 2, 0.5, 3), row(1, 'a', 1, 1, 2), row(3, 'b', 5, 0.5, 1, { outcome: 'failed' }), row(2, 'b', 4, 0.5, 1.5)]

describe('measured requests as strokes', () => {
  it('stand in the order in which they were due, part after part', () => {
    const strokes = strokesOf(rows)
    expect(strokes.map((s) => s.number)).toEqual([1, 0, 2, 3])
    expect(strokes[0]).toMatchObject({ firstSeconds: 1, endSeconds: 2, finished: true })
    expect(stretches(strokes)).toEqual([
      { part: 'a', from: 0, until: 2 },
      { part: 'b', from: 2, until: 4 },
    ])
    const drawn = upright(strokes, (s) => (s.finished ? [s.firstSeconds, s.endSeconds] : undefined))
    expect(drawn.filter((p) => !Number.isNaN(p.y)).map((p) => [p.x, p.y])).toEqual([
      [0.5, 1],
      [0.5, 2],
      [1.5, 0.5],
      [1.5, 3],
      [2.5, 0.5],
      [2.5, 1.5],
    ])
    const predicted = [{ number: 0, firstTokenSeconds: 0.4, latencySeconds: 2.9 }]
    expect(
      levels(strokes, predicted, (p) => p.latencySeconds)
        .filter((p) => p.y === 2.9)
        .map((p) => Math.floor(p.x)),
    ).toEqual([1, 1])
  })

  it('are one in so many of very many', () => {
    const many = Array.from({ length: 2.5 * MOST_STROKES }, (_, i) => row(i, 'a', i, 0.5, 1))
    expect(strokesOf(many)).toHaveLength(many.length / 3)
  })
})

describe('prediction beside measurement', () => {
  const predicted = [
    { number: 0, firstTokenSeconds: 0.25, latencySeconds: 2.25 },
    { number: 2, firstTokenSeconds: 0.5, latencySeconds: 1 },
  ]

  it('has those of which both are known, from when they were sent', () => {
    expect(besideOf(rows, predicted, 'first', (part) => part === 'b')).toEqual([
      { number: 0, part: 'a', due: 2, measured: 0.25, predicted: 0.25, judging: false },
      { number: 2, part: 'b', due: 4, measured: 0.25, predicted: 0.5, judging: true },
    ])
    expect(besideOf(rows, predicted, 'whole', () => true).map((b) => b.measured)).toEqual([2.75, 1.25])
    expect(besideOf(rows, predicted, 'gap', () => true).map((b) => b.measured)).toEqual([2.5 / 4, 1 / 4])
  })

  it('is a stair of shares', () =>
    expect(stair([3, 1, 2, 2]).map((p) => [p.x, p.y])).toEqual([
      [1, 0.25],
      [2, 0.5],
      [2, 0.75],
      [3, 1],
    ]))
})

describe('what is asked, in a sentence', () => {
  const words = (order: StatedOrder) =>
    mount(AskWords, { props: { modelValue: order } })
      .text()
      .replaceAll(/[\s\u00a0\u202f]+/g, ' ')

  const TIMES: Record<ShapeKind, string> = {
    'find-costs': '12 min',
    one: '10 min',
    'one-after-another': '10 min',
    'at-once': '10 min',
    rates: '13 min',
    log: '10 min beyond its own times',
    'after-idle': '55 min',
    'find-idle': '2 h 40 min',
  }
  it.each(Object.keys(SHAPE_WORDS) as ShapeKind[])('says a load of %s', (kind) => {
    const order = { ...USUAL_ORDER, shape: shapeOfKind(kind, USUAL_ORDER.shape) }
    const said = words(order)
    expect(said).toContain(`Ask http://127.0.0.1:8080/v1/chat/completions by chat completions, with ${SHAPE_WORDS[kind]}`)
    expect(said).toContain(
      kind === 'log' ? 'after one call of 200 + 60 tokens' : `of ${sizesWords(order.shape.sizes)} tokens, prompt + answer, in turn`,
    )
    expect(said).toContain(`No more than 2 000 requests and ${TIMES[kind]}.`)
    expect(said).not.toMatch(/undefined|NaN/)
  })

  it('says what is stated beside the load: sizes apart, a promise, and money where a request has a price', () => {
    const priced = { ...USUAL_ORDER, how: `${USUAL_ORDER.how}price: { currency: CRN, perInputToken: 0.000002 }\n` }
    expect(words(USUAL_ORDER)).not.toContain('money')
    expect(words(priced)).toContain('No more than 2 000 requests, 12 min and any amount of money.')
    const shape = { ...shapeOfKind('rates', USUAL_ORDER.shape), apart: true }
    const said = words({ ...priced, shape, bounds: { seconds: 300, money: 2.5 }, promise: { firstTokenSeconds: 0.8 } })
    expect(said).toContain(
      'the first token of 95 of 100 within 800 ms, of 200 + 60, 1600 + 120 tokens, prompt + answer, each apart, with made-up prompts.',
    )
    expect(said).toContain('No more than 1 000 requests, 5 min and 2.5 CRN.')
  })

  it('says which request log is sent, and which prompts of one’s own, and takes either', async () => {
    const shape = shapeOfKind('log', USUAL_ORDER.shape)
    expect(words({ ...USUAL_ORDER, shape })).toContain('with a request log: none is kept here: drop one into Load, at its own times')
    const wrapper = mount(AskWords, { props: { modelValue: { ...USUAL_ORDER, shape, log: 'a.csv' }, logs: ['a.csv', 'b.csv'] } })
    expect(wrapper.text().replaceAll(/\s+/g, ' ')).toContain('with a request log: a.csv, at its own times')
    // What is asked of the server has its requests, from the first on, none without a token.
    const requests = { at: Float64Array.of(5, 7, 90), input: Int32Array.of(10, 0, 30), output: Int32Array.of(0, 4, 5) }
    expect(orderOf({ ...USUAL_ORDER, shape, log: 'a.csv' }, requests)).toEqual({
      ...USUAL_ORDER,
      shape: {
        ...shape,
        at: [0, 2, 85],
        asking: [
          { input: 10, output: 1 },
          { input: 1, output: 4 },
          { input: 30, output: 5 },
        ],
      },
    })
    const own = withPrompts(USUAL_ORDER.shape.sizes, readPrompts('Which berth?\n\nWhen is high water?\r\nWho pilots?'))
    expect(own).toEqual([
      { input: 200, output: 60, prompt: 'Which berth?' },
      { input: 1600, output: 120, prompt: 'When is high water?' },
      { input: 200, output: 60, prompt: 'Who pilots?' },
    ])
    expect(withPrompts(own, [])).toEqual(USUAL_ORDER.shape.sizes)
    const asked = mount(AskWords, { props: { modelValue: { ...USUAL_ORDER, shape: { ...USUAL_ORDER.shape, sizes: own } } } })
    expect(asked.text().replaceAll(/\s+/g, ' ')).toContain('of 200 + 60, 1600 + 120 tokens, prompt + answer, in turn')
    const box = asked.get('textarea')
    expect((box.element as HTMLTextAreaElement).value.split('\n')).toHaveLength(3)
    await box.setValue('Only this?')
    await box.trigger('change')
    expect((asked.emitted('update:modelValue')!.at(-1)![0] as StatedOrder).shape.sizes).toEqual([
      { input: 200, output: 60, prompt: 'Only this?' },
    ])
  })

  it('takes sizes and lists that are some, and says what others should be', () => {
    expect(readSizes('200+60, 1600 + 120')).toEqual(USUAL_ORDER.shape.sizes)
    expect(readSizes('200')).toContain('such as 200 + 60')
    expect(readSizes('0+5')).toContain('such as 200 + 60')
    expect(readList('1, 4 16', [1, 1024], true)).toEqual([1, 4, 16])
    expect(readList('1.5', [1, 1024], true)).toContain('whole numbers from 1 to 1024')
    expect(readList('', [0.1, 5], false)).toContain('numbers from 0.1 to 5')
  })

  it('is the usual one where what was kept is none', () => {
    expect(readKeptOrder(undefined)).toBe(USUAL_ORDER)
    expect(readKeptOrder({ how: 'x', shape: { kind: 'one', sizes: [] } })).toBe(USUAL_ORDER)
    const own = { how: 'x', shape: { kind: 'one', sizes: [{ input: 1, output: 1 }] } }
    expect(readKeptOrder(own)).toBe(own)
  })
})

describe('taking costs in', () => {
  const told = tellMeasured(readProbed(readFileSync('examples/curlew-measured.csv', 'utf8')), {
    replicas: 1,
    sequences: 64,
    prompts: 'whole',
  })
  const at = { machine: 'Northquay cairn', variant: '8-bit', devices: 2 }
  const mounted = (reached: Reached | undefined) =>
    mount(TakeWords, {
      props: { plan: demoPlan, services: [demoPlan.services[0]], chosenOf: () => at, fitted: told.fitted!, reachedAt: () => reached },
    })

  it('is proposed where the answer runs the service, and assumes the same of others only where somebody says so', async () => {
    const wrapper = mounted({ memory: 0.6, arithmetic: 0.4, doubt: 0.17 })
    expect((wrapper.get('select[aria-label="Machine of the replica that was asked"]').element as HTMLSelectElement).value).toBe(at.machine)
    expect(wrapper.text()).toMatch(/with a doubt of 17\.0\s%/)
    await wrapper.get('button').trigger('click')
    await wrapper.get('input[type="checkbox"]').setValue(true)
    await wrapper.get('button').trigger('click')
    expect(wrapper.emitted('take')).toEqual([
      [demoPlan.services[0], at, undefined],
      [demoPlan.services[0], at, { memory: 0.6, arithmetic: 0.4, doubt: 0.17 }],
    ])
  })

  it('says no share where costs are not told apart', async () => {
    const wrapper = mounted({ memory: 27, arithmetic: 14, doubt: 1 })
    expect(wrapper.text()).toContain('Which share of its rates it reaches this does not tell.')
    expect(wrapper.text()).not.toContain('catalogue')
    expect(wrapper.find('input[type="checkbox"]').exists()).toBe(false)
    await wrapper.get('button').trigger('click')
    expect(wrapper.emitted('take')).toEqual([[demoPlan.services[0], at, undefined]])
  })

  it('says it where more is reached than there is, and proposes nothing for others', () => {
    const wrapper = mounted({ memory: 1.3, arithmetic: 0.4, doubt: 0.17 })
    expect(wrapper.text()).toContain('more than there is')
    expect(wrapper.find('input[type="checkbox"]').exists()).toBe(false)
  })
})

describe('letting a service sleep as it was found to', () => {
  const idle = { seconds: 285, firstCaller: 'hold' as const }

  it('is proposed by the policy that sleeps already, or by a new one, and says which', async () => {
    const [talk, ...others] = demoPlan.services
    const [first] = talk.policies!
    const sleeping = { ...talk, policies: [first, { name: 'naps', min: 0, max: 2, idle: { seconds: 60, firstCaller: 'hold' as const } }] }
    const wrapper = mount(TakeSleep, { props: { services: [sleeping, ...others], idle } })
    expect(wrapper.text().replaceAll(/\s+/g, ' ')).toContain(
      'sleep after 4 min 45 s without a call, its first caller held until it is ready, by the policy',
    )
    await wrapper.findAll('button').at(-1)!.trigger('click')
    expect(wrapper.emitted('take')).toEqual([[sleeping, 'naps']])
    const alone = mount(TakeSleep, { props: { services: [{ ...talk, policies: undefined }], idle: { ...idle, firstCaller: 'refuse' } } })
    expect(alone.text().replaceAll(/\s+/g, ' ')).toMatch(/turned away, by the new policy sleeps as measured/)
    await alone.findAll('button').at(-1)!.trigger('click')
    expect(alone.emitted('take')![0][1]).toBeUndefined()
  })
})
