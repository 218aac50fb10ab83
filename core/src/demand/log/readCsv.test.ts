import { gzipSync, strToU8 } from 'fflate'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../../examples/make/skerrySound.ts'
import { generateRequests } from '../generate.ts'
import { isoSeconds } from './arrivalTime.ts'
import { textOf } from './decompress.ts'
import { mapHeaders } from './headers.ts'
import { replaceLoad } from './matchLog.ts'
import { readRequestLog } from './readCsv.ts'

const read = (text: string) => readRequestLog(text, 'log.csv')

describe('readRequestLog', () => {
  it('reads seconds, in order of arrival whatever the order of rows, ties in the order of the file', () => {
    const log = read('arrival,input_tokens,output_tokens\n5,10,1\n2,20,2\n2,30,3\n')
    expect([...log.requests.at]).toEqual([0, 0, 3])
    expect([...log.requests.input]).toEqual([20, 30, 10])
    expect([...log.requests.id]).toEqual([2, 3, 1])
    expect(log.startSeconds).toBe(2)
  })

  it.each([
    ['Timestamp;prompt_tokens;completion_tokens', { arrival: 0, input: 1, output: 2 }],
    ['id;Request Time;Input-Tokens;Tokens.Out;Request Class', { arrival: 1, input: 2, output: 3, class: 4 }],
    ['ts;input;generated_tokens;route', { arrival: 0, input: 1, output: 2, class: 3 }],
  ])('understands the header %s', (header, columns) => {
    expect(mapHeaders(header.split(';')).columns).toEqual(columns)
  })

  it('reads ISO times with or without zone, and keeps microseconds', () => {
    const log = read('time,input,output\n2027-03-01T09:00:00.000001Z,5,5\n2027-03-01 10:00:00.25,5,5\n2027-03-01T12:00:01+02:00,5,5\n')
    expect(log.requests.at[1]).toBeCloseTo(3600.249999, 6)
    expect(log.requests.at[2]).toBeCloseTo(3600.999999, 6)
  })

  it.each([
    ['2027-03-01T09:00:00Z', 1803891600],
    ['2027-03-01 09:00', 1803891600],
    ['2027-03-01T09:00:00.5', 1803891600.5],
    ['2027-03-01T11:30:00+02:30', 1803891600],
    ['2027-03-01T04:00:00-0500', 1803891600],
    ['2028-02-29T00:00:00z', 1835395200],
    ['2027-02-29T00:00:00Z', NaN],
    ['2027-03-01', NaN],
    ['2027-13-01T00:00:00Z', NaN],
    ['2027-03-01T09:00:00.Z', NaN],
    ['2027-03-01T25:00:00Z', NaN],
    ['2027-03-01T09:00:00 UTC', NaN],
    ['1803891600', NaN],
    ['', NaN],
  ])('the time "%s" is %d s', (text, seconds) => expect(isoSeconds(text)).toBe(seconds))

  it('agrees with the platform on any time to the millisecond', () => {
    fc.assert(
      fc.property(fc.date({ min: new Date(0), max: new Date('2099-12-31'), noInvalidDate: true }), (date) => {
        expect(isoSeconds(date.toISOString())).toBeCloseTo(date.getTime() / 1000, 3)
      }),
      { numRuns: 500, seed: 31 },
    )
  })

  it('keeps bad rows out and says which, what and why', () => {
    const log = read('arrival,input,output\n1,10,5\nsoon,10,5\n3,-4,5\n4,10,\n5,1.5,2\n\n6,10,5\n')
    expect(log.requests.count).toBe(2)
    expect(log.badRowCount).toBe(4)
    expect(log.badRows).toEqual([
      { line: 3, field: 'arrival', found: '"soon"', rule: 'must be a number of seconds' },
      { line: 4, field: 'input', found: '"-4"', rule: 'must be a whole number of at least 1' },
      { line: 5, field: 'output', found: 'empty', rule: 'must be a whole number of at least 1' },
      { line: 6, field: 'input', found: '"1.5"', rule: 'must be a whole number of at least 1' },
    ])
  })

  it('refuses a file without a usable header or row with a sentence', () => {
    expect(() => read('a,b\n1,2\n')).toThrow('line 1 is "a,b": it must name a column such as "arrival"')
    expect(() => read('arrival,input\nx,y\n')).toThrow('line 2, arrival is "x": it must be a number of seconds')
    expect(() => read('arrival,input\n')).toThrow('No request could be read')
    expect(() => read('')).toThrow('No request could be read')
  })

  it('opens gzip, and says when it is damaged', () => {
    const packed = gzipSync(strToU8('arrival,input\n1,2\n'))
    const decode = (bytes: Uint8Array) => new TextDecoder().decode(bytes)
    expect(textOf(packed, 'x', decode)).toBe('arrival,input\n1,2\n')
    expect(() => textOf(packed.slice(0, 15), 'x.gz', decode)).toThrow('x.gz can not be opened.')
  })

  it('reads 1,000,000 rows whole', () => {
    const lines = ['arrival,class,input_tokens,output_tokens']
    for (let i = 0; i < 1_000_000; i++)
      lines.push(`${(i * 0.6).toFixed(3)},${i % 3 === 0 ? 'pilot desk' : 'manifest reader'},${100 + (i % 900)},${1 + (i % 400)}`)
    const log = read(lines.join('\n'))
    expect(log.requests.count).toBe(1_000_000)
    expect(log.requests.id[999_999]).toBe(1_000_000)
    expect(log.classNames).toEqual(['pilot desk', 'manifest reader'])
  })
})

describe('replaceLoad', () => {
  it('takes arrivals and sizes from the log, drops classes that it does not have, reports those that the plan does not', () => {
    const log = read('arrival,class,input,output\n10,Pilot Desk,100,7\n12,gulls,1,1\n20,pilot desk,200,9\n')
    const { plan, log: matched, unknown, absent } = replaceLoad(skerrySound, log)
    expect(plan.classes.map((c) => c.name)).toEqual(['pilot desk'])
    expect(plan.services.map((s) => s.name)).toEqual(['pilot talk'])
    expect(unknown).toEqual([{ name: 'gulls', rows: 1 }])
    expect(absent).toEqual(['manifest reader', 'hull watch'])
    const requests = generateRequests(plan, { seed: 1, log: matched })
    expect([...requests.at]).toEqual([0, 10])
    expect([...requests.input]).toEqual([100, 200])
    expect([...requests.id]).toEqual([1, 3])
  })

  it('under a larger load replays the log faster and again until the horizon is full', () => {
    const rows = Array.from({ length: 1000 }, (_, i) => `${i},pilot desk,10,5`)
    const { plan, log } = replaceLoad(skerrySound, read(['arrival,class,input,output', ...rows].join('\n')))
    const more = generateRequests(plan, { seed: 1, log, loadFactor: 1.5 })
    expect(more.count / 1000).toBeCloseTo(1.5, 1)
    expect(more.at[more.count - 1]).toBeLessThan(plan.horizon.seconds)
  })

  it('says when no row belongs to the plan', () => {
    expect(() => replaceLoad(skerrySound, read('arrival,class,input\n1,gulls,2\n'))).toThrow(
      'must be one of "pilot desk", "manifest reader", "hull watch"',
    )
  })
})
