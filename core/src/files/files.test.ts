import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { describe, expect, it, vi } from 'vitest'
import { machines } from '../../../examples/make/catalogue.ts'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { MachineSchema } from '../plan/machineSchema.ts'
import { checkPlan, writePlan } from '../plan/read.ts'
import { CATALOGUE_FORMAT, cellSentence, readCatalogue, writeCatalogue } from './catalogue.ts'
import { fileKind } from './fileKind.ts'
import { MACHINE_COLUMNS, readCell, showCell } from './machineColumns.ts'
import { readMeasurements } from './measurementTable.ts'
import { modelFromShape, readModelShape } from './modelShape.ts'

const example = (name: string) => readFileSync(`examples/${name}`, 'utf8')
const column = (head: string) => MACHINE_COLUMNS.find((c) => c.head === head)!

describe('a catalogue', () => {
  it('ships with at least 24 offers of three providers in four regions', () => {
    expect(machines.length).toBeGreaterThanOrEqual(24)
    expect(new Set(machines.map((m) => m.provider)).size).toBe(3)
    expect(new Set(machines.map((m) => m.region)).size).toBe(4)
  })

  it.each(['csv', 'json', 'yaml'] as const)('written as %s reads back as the same machines', (syntax) => {
    const { machines: back, problems } = readCatalogue(writeCatalogue(machines, syntax), syntax)
    expect(problems).toEqual([])
    expect(back).toEqual(machines.map((m) => MachineSchema.parse(m)))
  })

  it('every field of a machine has a column, so that a table loses nothing', () => {
    const keys = new Set(MACHINE_COLUMNS.map((c) => c.key))
    const shape = Object.keys(MachineSchema.shape).filter((k) => k !== 'arithmeticPerSecond' && k !== 'ceilings')
    const ceilings = Object.keys(MachineSchema.shape.ceilings.unwrap().shape).map((k) => `ceilings.${k}`)
    expect([...shape, ...ceilings].filter((k) => !keys.has(k))).toEqual([])
  })

  it('tells tags that it does not know, with their line, and prints nothing', () => {
    const print = [vi.spyOn(console, 'warn'), vi.spyOn(process, 'emitWarning')]
    const yaml = writeCatalogue(machines.slice(0, 2), 'yaml').replace(/(\n\s+provider: )/, '$1!harbour ')
    const { machines: kept, problems } = readCatalogue(yaml, 'yaml')
    expect(kept).toHaveLength(2)
    expect(problems.map((p) => [p.row, p.field, p.found, p.rule])).toEqual([
      [5, 'tag', '!harbour', 'it is passed over: unresolved tag: !harbour'],
    ])
    for (const spy of print) expect(spy).not.toHaveBeenCalled()
  })

  it('keeps the rows that are right, and says of the others what, where and what to do', () => {
    const head = 'name;provider;region;device;devices;memory;bandwidth;16-bit arithmetic;price;stock;colour'
    const rows = [
      'a;P;r;D;1;48 GiB;2 TB/s;180 T/s;$1.30/h;4;red',
      'b;P;r;D;1;48 gb;2 TB/s;180 T/s;1.30;4;',
      'c;P;r;D;;48 GB;2;180;1.3;few;',
      'a;P;r;D;1;48 GB;2 TB/s;180 T/s;1.3;1;',
    ]
    const { machines: kept, problems } = readCatalogue([head, ...rows].join('\n'), 'csv')
    expect(kept.map((m) => [m.name, m.memoryBytesPerDevice, m.pricePerHour])).toEqual([['a', 48 * 2 ** 30, 1.3]])
    expect(problems.map(cellSentence)).toEqual([
      'row 1, colour: is no column that is known; it was left out',
      'row 3, memory is "48 gb": Write GB for bytes: "gb" could be either.',
      'row 4, devices: devices must not be empty.',
      'row 4, bandwidth is "2": Say in which unit: bytes or bits a second such as 2 TB/s or 200 Gbit/s.',
      'row 4, stock is "few": Type a whole number.',
      'row 5, name is "a": stands in an earlier row already',
    ])
  })

  it.each<[string, string, 'csv' | 'json' | 'yaml', RegExp]>([
    ['a table without what is needed', 'name,price\na,1', 'csv', /column "provider": is missing/],
    ['broken JSON', '{', 'json', /is not valid JSON/],
    ['broken YAML', 'format: [', 'yaml', /is not valid YAML/],
    ['something else', '{"format":"else"}', 'json', /format is "else": it must be "sand-clock-catalogue"/],
    ['a newer one', `{"format":"${CATALOGUE_FORMAT}","version":2,"machines":[]}`, 'json', /version is 2/],
    ['no list', `format: ${CATALOGUE_FORMAT}\nversion: 1\nmachines: 3\n`, 'yaml', /machines: must be a list/],
  ])('%s is refused as a whole with a sentence', (_, text, syntax, words) => expect(() => readCatalogue(text, syntax)).toThrow(words))

  it('an entry of a list that is wrong is told by its place', () => {
    const text = JSON.stringify({ format: CATALOGUE_FORMAT, version: 1, machines: [{ ...machines[0], stock: -1 }, machines[1]] })
    const { machines: kept, problems } = readCatalogue(text, 'json')
    expect(kept).toHaveLength(1)
    expect(problems.map(cellSentence)).toEqual(['row 1, stock is "-1": it must be at least 0'])
  })
})

describe('cells', () => {
  it('read back what they show, whatever the machine and column', () => {
    fc.assert(
      fc.property(fc.constantFrom(...machines), fc.constantFrom(...MACHINE_COLUMNS), (machine, c) => {
        const reading = readCell(c, showCell(c, machine))
        expect('value' in reading ? c.set(machine, reading.value) : reading).toEqual(machine)
      }),
      { numRuns: 400, seed: 8 },
    )
  })

  it('emptied they leave their field out, and take it in again', () => {
    const [pebble] = machines
    for (const head of ['spot price', 'zone', 'cores', 'concurrency ceiling', '8-bit arithmetic']) {
      const c = column(head)
      const emptied = c.set(pebble, undefined)
      expect(c.get(emptied)).toBeUndefined()
      expect(() =>
        checkPlan({ ...skerrySound, machines: skerrySound.machines.map((m) => (m.name === pebble.name ? emptied : m)) }),
      ).not.toThrow()
      expect(c.set(emptied, c.get(pebble))).toEqual(pebble)
    }
    expect('ceilings' in pebble || 'ceilings' in column('concurrency ceiling').set(pebble, undefined)).toBe(false)
  })

  it.each([
    ['accelerator', 'maybe', /yes or no/],
    ['splits', '1, two', /whole number/],
    ['name', '', /must not be empty/],
    ['price', '-1', /Not below 0/],
  ] as const)('%s refuses "%s"', (head, text, words) => {
    expect(readCell(column(head), text)).toMatchObject({ complaint: expect.stringMatching(words) as string })
  })
})

describe('a published shape file', () => {
  it('is understood; what follows from it is marked as reckoned', () => {
    const shape = readModelShape(example('avocet-shape.json'), 'avocet-shape.json')
    expect(shape.kind).toBe('experts')
    const fact = (field: string) => shape.facts.find((f) => f.field === field)
    expect(fact('layers')).toEqual({ field: 'layers', value: 32, from: 'read', how: 'num_hidden_layers' })
    expect(fact('headSize')).toMatchObject({ value: 128, from: 'reckoned', how: 'width 4096 / 32 heads' })
    // 2·32,000·4096 + 32·(2·4096·4096 + 2·4096·1024) + 32·8·3·4096·11,520
    expect(fact('parameters')?.value).toBe(2 * 32_000 * 4096 + 32 * (2 * 4096 * 4096 + 2 * 4096 * 1024) + 32 * 8 * 3 * 4096 * 11_520)
    expect(fact('activeParameters')?.value).toBe((fact('parameters')?.value ?? 0) - 32 * 6 * 3 * 4096 * 11_520)
    const model = modelFromShape(shape)
    expect(() => checkPlan({ ...skerrySound, models: [...skerrySound.models.filter((m) => m.name !== model.name), model] })).not.toThrow()
  })

  it('asks for what is missing and guesses nothing', () => {
    const shape = readModelShape(JSON.stringify({ n_layer: 12, n_embd: 768 }), 'small.json')
    expect(shape).toMatchObject({ kind: 'dense', name: 'small' })
    const missing = shape.facts.filter((f) => f.from === 'missing').map((f) => f.field)
    expect(missing).toEqual(['parameters', 'keyValueHeads', 'headSize', 'contextTokens'])
    expect(() => modelFromShape(shape)).toThrow(/asked for/)
  })

  it('looks into the part of a model of several kinds that reads text, and takes what is stated over what could be reckoned', () => {
    const shape = readModelShape(
      JSON.stringify({ text_config: { num_layers: 4, hidden_size: 64, num_attention_heads: 4, num_parameters: 1e6 } }),
      'x.json',
    )
    expect(shape.facts.find((f) => f.field === 'parameters')).toEqual({
      field: 'parameters',
      value: 1e6,
      from: 'read',
      how: 'num_parameters',
    })
    expect(shape.facts.find((f) => f.field === 'keyValueHeads')).toMatchObject({ value: 4, from: 'reckoned' })
  })

  it.each([
    ['{', /not valid JSON/],
    ['{"colour": 3}', /tells no shape/],
    ['[]', /tells no shape/],
  ])('%s is refused', (text, words) => expect(() => readModelShape(text, 'x')).toThrow(words))
})

describe('a table of load tests', () => {
  it('is grouped by what it names', () => {
    const { groups, problems } = readMeasurements(example('curlew-load-test.csv'))
    expect(problems).toEqual([])
    expect(groups).toHaveLength(1)
    expect(groups[0]).toMatchObject({ model: 'Curlew 14B', variant: '8-bit', measurement: { machine: 'Northquay ledge' } })
    expect(groups[0].measurement.rows[0]).toMatchObject({ concurrency: 1, input: 180, output: 200, count: 40 })
    expect(groups[0].measurement.rows[0].ttftSeconds).toBeCloseTo(0.0274, 2)
  })

  it('takes units from header or cell, and refuses to guess them', () => {
    const { groups, problems } = readMeasurements('batch,work,latency\n1,20,85 ms\n2,20,0.1\n4,20,0.2 s\n1.5,20,1 s\n3,20,')
    expect(groups[0].measurement.rows).toEqual([
      { concurrency: 1, work: 20, latencySeconds: 0.085 },
      { concurrency: 4, work: 20, latencySeconds: 0.2 },
    ])
    expect(problems.map((p) => [p.row, p.field])).toEqual([
      [3, 'latency'],
      [5, 'batch'],
      [6, 'latency'],
    ])
    expect(problems[0].rule).toMatch(/seconds or milliseconds/)
  })

  it('a table that does not say how many were side by side is marked so', () => {
    const { groups } = readMeasurements('prompt tokens,answer tokens,TTFT (ms)\n100,50,80')
    expect(groups[0].measurement).toMatchObject({
      concurrencyStated: false,
      rows: [{ concurrency: 1, input: 100, output: 50, ttftSeconds: 0.08 }],
    })
    expect(() => readMeasurements('a,b\n1,2')).toThrow(/must name a time/)
  })
})

describe('what a file holds', () => {
  it.each([
    ['plan.json', writePlan(skerrySound), { kind: 'plan' }],
    ['m.csv', example('harbour-market.csv'), { kind: 'catalogue', syntax: 'csv' }],
    ['m.yaml', example('harbour-market.yaml'), { kind: 'catalogue', syntax: 'yaml' }],
    ['m.txt', example('harbour-market.yaml'), { kind: 'catalogue', syntax: 'yaml' }],
    ['m.json', writeCatalogue(machines, 'json'), { kind: 'catalogue', syntax: 'json' }],
    ['shape.json', example('avocet-shape.json'), { kind: 'model' }],
    ['t.csv', example('curlew-load-test.csv'), { kind: 'measurements' }],
    ['log.csv', 'arrival,class,input_tokens,output_tokens\n0,a,1,1', { kind: 'log' }],
    ['broken.json', '{', { kind: 'plan' }],
    ['plan.yaml', '# begun\n\nformat: sand-clock-plan\nversion: 1\n', { kind: 'plan' }],
    ['pasted', 'format: "sand-clock-plan"\nversion: 1\n', { kind: 'plan' }],
  ])('%s', (name, text, expected) => expect(fileKind(text, name)).toEqual(expected))
})
