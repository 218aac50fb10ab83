// @vitest-environment happy-dom
import { MACHINE_COLUMNS, readCatalogue, readMeasurements, readModelShape, type Machine } from '@sandclock/core'
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { demoPlan } from '../../data/demo.ts'
import CataloguePart from './CataloguePart.vue'
import MachineSheet from './MachineSheet.vue'
import MeasurementPart from './MeasurementPart.vue'
import ModelWords from './ModelWords.vue'
import ShapePart from './ShapePart.vue'

const words = (text: string) => text.replaceAll(/[\u00a0\u202f\s]+/g, ' ')
const place = (head: string) => MACHINE_COLUMNS.findIndex((c) => c.head === head)
type Changes = { name: string; machine: Machine }[]

describe('MachineSheet', () => {
  const machines = demoPlan.machines.slice(0, 5)
  const sheet = () => mount(MachineSheet, { attachTo: document.body, props: { machines } })
  type Wrapper = ReturnType<typeof sheet>
  const cell = (wrapper: Wrapper, row: number, head: string) => wrapper.get(`[data-cell="${row} ${place(head)}"]`)
  const press = async (wrapper: Wrapper, key: string, more = {}) => {
    await wrapper.get('.sheet').trigger('keydown', { key, ...more })
    await nextTick()
  }
  const changes = (wrapper: Wrapper) => wrapper.emitted('change')?.at(-1)?.[0] as Changes // the sheet emits nothing else under this name

  it('takes what is typed, with its unit, and goes on to the next row', async () => {
    const wrapper = sheet()
    await cell(wrapper, 1, 'memory').trigger('mousedown')
    await press(wrapper, '4')
    await wrapper.get('td input').setValue('48 GiB')
    await press(wrapper, 'Enter')
    expect(changes(wrapper)).toEqual([{ name: machines[1].name, machine: { ...machines[1], memoryBytesPerDevice: 48 * 2 ** 30 } }])
    expect(cell(wrapper, 2, 'memory').attributes('tabindex')).toBe('0')
    wrapper.unmount()
  })

  it('keeps what can not be taken in the cell and says what to type; Esc leaves it as it was', async () => {
    const wrapper = sheet()
    await cell(wrapper, 0, 'bandwidth').trigger('mousedown')
    await press(wrapper, 'Enter')
    await wrapper.get('td input').setValue('600 gb/s')
    await press(wrapper, 'Enter')
    expect(wrapper.get('[role=alert]').text()).toContain('Write GB for bytes, Gbit for bits')
    expect((wrapper.get('td input').element as HTMLInputElement).value).toBe('600 gb/s')
    await press(wrapper, 'Escape')
    expect(wrapper.find('td input').exists()).toBe(false)
    expect(wrapper.emitted('change')).toBeUndefined()
    wrapper.unmount()
  })

  it('a block is emptied as one change; what is needed refuses', async () => {
    const wrapper = sheet()
    await cell(wrapper, 0, 'stock').trigger('mousedown')
    await press(wrapper, 'ArrowDown', { shiftKey: true })
    await press(wrapper, 'ArrowRight', { shiftKey: true })
    await press(wrapper, 'ArrowRight', { shiftKey: true })
    await press(wrapper, 'Delete')
    expect(wrapper.emitted('change')).toHaveLength(1)
    expect(changes(wrapper).map((c) => [c.machine.stock, c.machine.quota, c.machine.availability])).toEqual([
      [machines[0].stock, undefined, undefined],
      [machines[1].stock, undefined, undefined],
    ])
    expect((wrapper.emitted('refuse')?.[0][0] as string[])[0]).toContain('stock must not be empty')
    wrapper.unmount()
  })

  it('pastes a block of another sheet: good cells are taken, the others are told', async () => {
    const wrapper = sheet()
    await cell(wrapper, 1, 'price').trigger('mousedown')
    const paste = new Event('paste', { bubbles: true, cancelable: true })
    Object.assign(paste, { clipboardData: { getData: () => '$2.50/h\t1.10\n3,25\tcheap\n' } })
    wrapper.get('.sheet').element.dispatchEvent(paste)
    await nextTick()
    expect(changes(wrapper).map((c) => [c.name, c.machine.pricePerHour, c.machine.spotPerHour])).toEqual([
      [machines[1].name, 2.5, 1.1],
      [machines[2].name, 3.25, machines[2].spotPerHour],
    ])
    expect((wrapper.emitted('refuse')?.[0][0] as string[])[0]).toContain('“cheap”: Type a price')
    wrapper.unmount()
  })

  it('copies a block so that it pastes back', async () => {
    const wrapper = sheet()
    await cell(wrapper, 0, 'memory').trigger('mousedown')
    await press(wrapper, 'ArrowRight', { shiftKey: true })
    let text = ''
    const copy = new Event('copy', { bubbles: true, cancelable: true })
    Object.assign(copy, { clipboardData: { setData: (_: string, t: string) => (text = t) } })
    wrapper.get('.sheet').element.dispatchEvent(copy)
    expect(text).toBe('24 GB\t600 GB/s')
    wrapper.unmount()
  })

  it('refuses the name of another machine', async () => {
    const wrapper = sheet()
    await cell(wrapper, 0, 'name').trigger('mousedown')
    await press(wrapper, 'F2')
    await wrapper.get('td input').setValue(machines[3].name)
    await press(wrapper, 'Enter')
    expect(wrapper.get('[role=alert]').text()).toContain('another machine is called so')
    wrapper.unmount()
  })

  it('a thousand machines are there, those in sight are drawn', () => {
    const many = Array.from({ length: 1000 }, (_, i) => ({ ...machines[0], name: `m${i}` }))
    const wrapper = mount(MachineSheet, { props: { machines: many } })
    expect(wrapper.findAll('tbody tr[aria-rowindex]').length).toBeLessThan(40)
    expect(wrapper.get('table').attributes('aria-rowcount')).toBe('1001')
  })
})

describe('files on their way in', () => {
  it('a catalogue says what is new and what could not be used', async () => {
    const head = 'name,provider,region,device,devices,memory,bandwidth,price,stock'
    const reading = readCatalogue(
      `${head}\nTarn one,T,r,D,1,24 GB,1 TB/s,1,2\nnew,T,r,D,1,24,1 TB/s,1,2\nfresh,T,r,D,1,24 GB,1 TB/s,1,2`,
      'csv',
    )
    const wrapper = mount(CataloguePart, { props: { reading, fileName: 'm.csv', known: ['Tarn one'] } })
    expect(words(wrapper.text())).toContain('m.csv: 2 machines, 1 new and 1 that has the name of one in this plan')
    expect(words(wrapper.text())).toContain('row 3, memory is "24": Say in which unit')
    await wrapper.findAll('button')[1].trigger('click')
    expect(wrapper.emitted('take')).toEqual([[true]])
  })

  it('a shape is taken in only when what it does not say has been answered', async () => {
    const wrapper = mount(ShapePart, {
      props: {
        shape: readModelShape('{"num_hidden_layers":12,"hidden_size":768,"num_attention_heads":12}', 'small.json'),
        fileName: 'small.json',
        taken: [],
      },
    })
    const take = wrapper.findAll('button')[0]
    expect(take.attributes('disabled')).toBeDefined()
    expect(wrapper.text()).toContain('2 figures are asked for')
    await wrapper.get('input[aria-label=parameters]').setValue('0.12 B')
    await wrapper.get('input[aria-label="longest prompt and answer, tokens"]').setValue('2048')
    await take.trigger('click')
    expect(wrapper.emitted('take')?.[0][0]).toMatchObject({
      kind: 'dense',
      name: 'small',
      parameters: 120e6,
      layers: 12,
      keyValueHeads: 12,
      headSize: 64,
      contextTokens: 2048,
    })
  })

  it('a load test asks where it belongs when the table does not say', async () => {
    const reading = readMeasurements('concurrency,input,output,ttft_ms,tpot_ms\n1,500,100,50,20\n8,500,100,60,25')
    const wrapper = mount(MeasurementPart, { props: { reading, fileName: 't.csv', plan: demoPlan } })
    expect(wrapper.findAll('button')[0].attributes('disabled')).toBeDefined()
    await wrapper.get('select[aria-label="Model of load test 1"]').setValue('Curlew 14B')
    await wrapper.get('select[aria-label="Variant of load test 1"]').setValue('16-bit')
    await wrapper.get('select[aria-label="Machine of load test 1"]').setValue('Tarn one')
    await wrapper.findAll('button')[0].trigger('click')
    expect(wrapper.emitted('take')?.[0][0]).toMatchObject([
      {
        model: 'Curlew 14B',
        variant: '16-bit',
        measurement: { machine: 'Tarn one', source: 't.csv', rows: [{ concurrency: 1 }, { concurrency: 8 }] },
      },
    ])
  })
})

describe('ModelWords', () => {
  it('tells shape and variants, and leaves small differences of quality undecided', () => {
    const text = words(mount(ModelWords, { props: { taken: [], model: demoPlan.models[0], usedBy: ['pilot talk'] } }).text())
    expect(text).toContain('Curlew 14B, dense, serves pilot talk. 14 B parameters, 40 layers 5 120 wide')
    expect(text).toContain('undecided against 16-bit')
    expect(text).toContain('measured on Northquay ledge, 10 rows')
  })
  it.each(demoPlan.models.map((m) => [m.kind, m] as const))('has words for a model that is %s', (_, model) => {
    const text = words(mount(ModelWords, { props: { taken: [], model, usedBy: [] } }).text())
    expect(text).toContain(model.name)
    expect(text).not.toContain('undefined')
  })
})
