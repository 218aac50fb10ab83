import { gzipSync, strToU8 } from 'fflate'
import { parquetWriteBuffer } from 'hyparquet-writer'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../../examples/make/skerrySound.ts'
import { generateRequests } from '../generate.ts'
import { isoSeconds } from './arrivalTime.ts'
import { placeOf } from './requestLog.ts'
import { unitByName } from './cells.ts'
import { guessColumns } from './logColumns.ts'
import { replaceLoad } from './matchLog.ts'
import { peekLog, readRequestLog } from './readLog.ts'
import { textOf } from './unpack.ts'

/** A frame of the Zstandard format (RFC 8878) whose blocks are stored as they are. */
function zstd(text: string): Uint8Array {
  const bytes = strToU8(text)
  const out = [0x28, 0xb5, 0x2f, 0xfd, 0xa0, ...little(bytes.length, 4)]
  const MOST = 100_000
  for (let from = 0; from === 0 || from < bytes.length; from += MOST) {
    const block = bytes.subarray(from, from + MOST)
    out.push(...little((block.length << 3) | (from + MOST >= bytes.length ? 1 : 0), 3), ...block)
  }
  return Uint8Array.from(out)
}
const little = (value: number, bytes: number) => Array.from({ length: bytes }, (_, i) => (value >>> (8 * i)) & 255)

/** "arrival,input\n1,2\n" a thousand times, as the reference compressor makes it. */
const ZSTD_MADE = 'KLUv/WRQRdUAAJBhcnJpdmFsLGlucHV0CjEsMgoBAHaM2mcYwgLHvg=='

const file = (text: string, name = 'log.csv') => ({ name, bytes: strToU8(text) })
const read = (text: string) => readRequestLog([file(text)])

describe('readRequestLog', () => {
  it('reads seconds, in order of arrival whatever the order of rows, ties in the order of the file', async () => {
    const log = await read('arrival,input_tokens,output_tokens\n5,10,1\n2,20,2\n2,30,3\n')
    expect([...log.requests.at]).toEqual([0, 0, 3])
    expect([...log.requests.input]).toEqual([20, 30, 10])
    expect([...log.requests.id]).toEqual([2, 3, 1])
    expect(log.startSeconds).toBe(2)
  })

  it.each([
    ['Timestamp;prompt_tokens;completion_tokens', { arrival: 'Timestamp', input: 'prompt_tokens', output: 'completion_tokens' }],
    [
      'id;Request Time;Input-Tokens;Tokens.Out;Request Class',
      { arrival: 'Request Time', input: 'Input-Tokens', output: 'Tokens.Out', class: 'Request Class' },
    ],
    ['ts;input;generated_tokens;route', { arrival: 'ts', input: 'input', output: 'generated_tokens', class: 'route' }],
    [
      'at;work;latency_ms;status_code;session_id',
      { arrival: 'at', input: 'work', duration: 'latency_ms', status: 'status_code', caller: 'session_id' },
    ],
  ])('understands the header %s', (header, names) => {
    expect(guessColumns(header.split(';'), []).names).toEqual(names)
  })

  it('reads ISO times with or without zone, and keeps microseconds', async () => {
    const log = await read(
      'time,input,output\n2027-03-01T09:00:00.000001Z,5,5\n2027-03-01 10:00:00.25,5,5\n2027-03-01T12:00:01+02:00,5,5\n',
    )
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

  it('keeps bad rows out and says which, what and why', async () => {
    const log = await read('arrival,input,output\n1,10,5\nsoon,10,5\n3,-4,5\n4,10,\n5,1.5,2\n\n6,10,5\n')
    expect(log.requests.count).toBe(2)
    expect(log.badRowCount).toBe(4)
    expect(log.badRows).toEqual([
      { line: 3, field: 'arrival', found: '"soon"', rule: 'must be a number of seconds' },
      { line: 4, field: 'input', found: '"-4"', rule: 'must be a whole number of at least 1' },
      { line: 5, field: 'output', found: 'empty', rule: 'must be a whole number of at least 1' },
      { line: 6, field: 'input', found: '"1.5"', rule: 'must be a whole number of at least 1' },
    ])
  })

  it('refuses a file without a usable header or row with a sentence', async () => {
    await expect(read('a,b\n1,2\n')).rejects.toThrow('line 1 is "a,b": it must name a column such as "arrival"')
    await expect(read('arrival,input\nx,y\n')).rejects.toThrow('line 2, arrival is "x": it must be a number of seconds')
    await expect(read('arrival,input\n')).rejects.toThrow('No request could be read')
    await expect(read('')).rejects.toThrow('No request could be read')
  })

  it('opens gzip and zstd, and says when one is damaged or ends too early', () => {
    const text = 'arrival,input\n1,2\n'.repeat(1000)
    for (const [name, packed] of [
      ['x.gz', gzipSync(strToU8(text))],
      ['x.zst', zstd(text)],
      ['made.zst', Uint8Array.from(atob(ZSTD_MADE), (c) => c.charCodeAt(0))],
    ] as const) {
      expect(textOf(packed, name)).toBe(text)
      expect(() => textOf(packed.slice(0, packed.length - 9), name)).toThrow(`${name} can not be opened.`)
    }
  })

  it('reads 1,000,000 rows whole', async () => {
    const lines = ['arrival,class,input_tokens,output_tokens']
    for (let i = 0; i < 1_000_000; i++)
      lines.push(`${(i * 0.6).toFixed(3)},${i % 3 === 0 ? 'pilot desk' : 'manifest reader'},${100 + (i % 900)},${1 + (i % 400)}`)
    const log = await read(lines.join('\n'))
    expect(log.requests.count).toBe(1_000_000)
    expect(log.requests.id[999_999]).toBe(1_000_000)
    expect(log.classNames).toEqual(['pilot desk', 'manifest reader'])
  })
})

/** Rows of a log, written in every format that is read. */
const Rows = fc.array(
  fc.record({
    seconds: fc.integer({ min: 0, max: 10_000_000 }).map((ms) => 1_803_891_600 + ms / 1000),
    input: fc.integer({ min: 1, max: 200_000 }),
    output: fc.integer({ min: 1, max: 8000 }),
    kind: fc.constantFrom('pilot desk', 'say "aye", twice', 'two\nlines'),
    tookMs: fc.integer({ min: 1, max: 100_000 }),
    status: fc.constantFrom(200, 429, 500),
  }),
  { minLength: 1, maxLength: 60 },
)
type Row = (typeof Rows extends fc.Arbitrary<infer T> ? T : never)[number]

const HEADERS = ['time', 'input_tokens', 'output_tokens', 'class', 'latency_ms', 'status']
const iso = (r: Row) => new Date(r.seconds * 1000).toISOString()
const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`
const lined = (rows: readonly Row[], by: string, time: (r: Row) => string | number) =>
  [HEADERS.join(by), ...rows.map((r) => [time(r), r.input, r.output, quoted(r.kind), r.tookMs, r.status].join(by))].join('\r\n')
const json = (rows: readonly Row[]) =>
  rows
    .map((r) =>
      JSON.stringify({
        time: iso(r),
        class: r.kind,
        usage: { input_tokens: r.input, output_tokens: r.output },
        latency_ms: r.tookMs,
        status: r.status,
      }),
    )
    .join('\n')

function parquet(rows: readonly Row[], time: (r: Row) => Date | bigint): Uint8Array {
  const type = time(rows[0]) instanceof Date ? 'TIMESTAMP' : 'INT64'
  return new Uint8Array(
    parquetWriteBuffer({
      columnData: [
        { name: 'time', data: rows.map(time), type },
        { name: 'input_tokens', data: rows.map((r) => r.input), type: 'INT32' },
        { name: 'output_tokens', data: rows.map((r) => BigInt(r.output)), type: 'INT64' },
        { name: 'class', data: rows.map((r) => r.kind), type: 'STRING' },
        { name: 'latency_ms', data: rows.map((r) => r.tookMs), type: 'DOUBLE' },
        { name: 'status', data: rows.map((r) => r.status), type: 'INT32' },
      ],
      rowGroupSize: 17,
    }),
  )
}

const WAYS: [string, (rows: readonly Row[]) => Uint8Array][] = [
  ['commas, ISO times', (rows) => strToU8(lined(rows, ',', iso))],
  ['semicolons, seconds since 1970', (rows) => strToU8(lined(rows, ';', (r) => r.seconds))],
  ['tabs, milliseconds, gzip', (rows) => gzipSync(strToU8(lined(rows, '\t', (r) => Math.round(r.seconds * 1000))))],
  ['commas, microseconds, zstd', (rows) => zstd(lined(rows, ',', (r) => Math.round(r.seconds * 1e6)))],
  ['a mark of byte order', (rows) => strToU8(`\ufeff${lined(rows, ',', iso)}`)],
  ['JSON lines with fields within fields', (rows) => strToU8(json(rows))],
  ['JSON lines, gzip', (rows) => gzipSync(strToU8(json(rows)))],
  ['Parquet, times', (rows) => parquet(rows, (r) => new Date(r.seconds * 1000))],
  ['Parquet, milliseconds', (rows) => parquet(rows, (r) => BigInt(Math.round(r.seconds * 1000)))],
]

describe('a log in any format', () => {
  it.each(WAYS)('%s: the same load', async (_, write) => {
    await fc.assert(
      fc.asyncProperty(Rows, async (rows) => {
        const bytes = write(rows)
        const peek = await peekLog([{ name: 'log', bytes }])
        const log = await readRequestLog([{ name: 'log', bytes }], peek.columns)
        const order = rows.map((_, i) => i).sort((a, b) => rows[a].seconds - rows[b].seconds || a - b)
        const first = rows[order[0]].seconds
        expect(log.isCalendar).toBe(true)
        expect(log.badRows).toEqual([])
        expect(log.startSeconds).toBeCloseTo(first, 5)
        order.forEach((r, i) => expect(log.requests.at[i]).toBeCloseTo(rows[r].seconds - first, 5))
        expect([...log.requests.input]).toEqual(order.map((r) => rows[r].input))
        expect([...log.requests.output]).toEqual(order.map((r) => rows[r].output))
        expect([...log.requests.id]).toEqual(order.map((r) => r + 1))
        expect([...log.requests.classIndex].map((c) => log.classNames[c])).toEqual(order.map((r) => rows[r].kind))
        expect([...log.requests.id].map((id) => log.happened?.seconds[id])).toEqual(order.map((r) => rows[r].tookMs / 1000))
        expect([...log.requests.id].map((id) => log.happened?.failed[id])).toEqual(order.map((r) => (rows[r].status >= 400 ? 1 : 0)))
      }),
      { numRuns: 40, seed: 5 },
    )
  })

  it.each([
    ['latencyMs', 'milliseconds'],
    ['latency_ms', 'milliseconds'],
    ['DURATIONMS', 'milliseconds'],
    ['elapsed (ms)', 'milliseconds'],
    ['took_us', 'microseconds'],
    ['durationSeconds', 'seconds'],
    ['duration', undefined],
  ])('the header %s counts in %s', (header, unit) => expect(unitByName(header)).toBe(unit))

  it('in several files is one log, whatever the order of columns, and a bad row says of which file it is', async () => {
    const log = await readRequestLog([
      file('arrival,input,output\n5,10,1\nsoon,1,1\n', 'monday.csv'),
      file('output,arrival,input\n2,3,20\n', 'tuesday.csv'),
    ])
    expect(log.name).toBe('monday.csv and 1 more')
    expect([...log.requests.at]).toEqual([0, 2])
    expect([...log.requests.input]).toEqual([20, 10])
    expect([...log.requests.id]).toEqual([3, 1])
    expect(log.badRows.map(placeOf)).toEqual(['monday.csv, line 3, arrival'])
    await expect(readRequestLog([file('arrival,input\n1,2\n'), file('when,input\n1,2\n', 'b.csv')])).rejects.toThrow(
      'b.csv does not have the columns that the log is read by.\n  line 1 is "when,input": it must name a column "arrival".',
    )
  })

  it('says which line is no JSON object, and keeps the rest', async () => {
    const log = await read('{"ts":1,"input":2}\nnonsense\n[1]\n{"ts":2,"input":3}\n')
    expect(log.requests.count).toBe(2)
    expect(log.badRows.map((b) => [placeOf(b), b.found, b.rule])).toEqual([
      ['line 2, row', '"nonsense"', 'must be a JSON object'],
      ['line 3, row', '"[1]"', 'must be a JSON object'],
    ])
  })

  it('takes no words of requests for a number of tokens, does not show them, and finds sizes by what is in their columns', async () => {
    const text = `when,prompt,n1,n2\n${Array.from({ length: 30 }, (_, i) => `2027-03-01T09:00:${10 + i}Z,"Where is berth ${i}, and when does the tide turn?",${600 + i * 7},${30 + (i % 5)}`).join('\n')}`
    const { columns, words, rows, headers } = await peekLog([file(text)])
    expect(columns.names).toEqual({ arrival: 'when', input: 'n1', output: 'n2' })
    expect(words).toEqual([false, true, false, false])
    expect(rows[0]).toEqual(['2027-03-01T09:00:10Z', '', '600', '30'])
    expect(headers[1]).toBe('prompt')
    expect((await read(text)).requests.count).toBe(30)
  })

  it('survives a quote that never ends: the rest is told as bad rows or read, and nothing hangs', async () => {
    const log = await read(`arrival,class,input\n1,a,5\n2,"b,6\n${'3,c,7\n'.repeat(5)}`)
    expect(log.requests.count).toBe(1)
    expect(log.badRowCount).toBe(1)
  })

  it('damaged Parquet is said to be', async () => {
    const bytes = parquet([{ seconds: 1, input: 1, output: 1, kind: 'pilot desk', tookMs: 1, status: 200 } as Row], (r) =>
      BigInt(r.seconds),
    )
    await expect(readRequestLog([{ name: 'x.parquet', bytes: bytes.slice(0, bytes.length - 7) }])).rejects.toThrow(
      /x.parquet can not be opened.\n {2}The file: is a damaged Parquet file/,
    )
  })
})

describe('replaceLoad', () => {
  it('takes arrivals and sizes from the log, drops classes that it does not have, reports those that the plan does not', async () => {
    const log = await read('arrival,class,input,output\n10,Pilot Desk,100,7\n12,gulls,1,1\n20,pilot desk,200,9\n')
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

  it('under a larger load replays the log faster and again until the horizon is full', async () => {
    const rows = Array.from({ length: 1000 }, (_, i) => `${i},pilot desk,10,5`)
    const { plan, log } = replaceLoad(skerrySound, await read(['arrival,class,input,output', ...rows].join('\n')))
    const more = generateRequests(plan, { seed: 1, log, loadFactor: 1.5 })
    expect(more.count / 1000).toBeCloseTo(1.5, 1)
    expect(more.at[more.count - 1]).toBeLessThan(plan.horizon.seconds)
  })

  it('says when no row belongs to the plan', async () => {
    const log = await read('arrival,class,input\n1,gulls,2\n')
    expect(() => replaceLoad(skerrySound, log)).toThrow('must be one of "pilot desk", "manifest reader", "hull watch"')
  })
})

describe('what is no table of requests', () => {
  const bytes = (...codes: number[]) => Uint8Array.from([...codes, ...Array.from({ length: 300 }, () => 7)])
  const text = (words: string) => new TextEncoder().encode(words)

  it.each<[string, Uint8Array, string]>([
    ['a.png', bytes(0x89, 0x50, 0x4e, 0x47), 'The file: is a picture'],
    ['a.jpg', bytes(0xff, 0xd8, 0xff), 'is a picture'],
    ['a.pdf', text('%PDF-1.7\n'), 'is a PDF; have what it shows as CSV or JSON'],
    ['a.xlsx', bytes(0x50, 0x4b, 0x03, 0x04), 'is a ZIP archive or a spreadsheet; unpack it, or save the sheet as CSV'],
    ['a.csv', bytes(0xff, 0xfe, 0x61, 0), 'is text in UTF-16; save it as UTF-8'],
    ['a.html', text('\n<!DOCTYPE html><p>hi'), 'is a web page'],
    ['a.tar.gz', gzipSync(Uint8Array.from([...Array.from({ length: 257 }, () => 48), ...text('ustar')])), 'is a tar archive; unpack it'],
    ['a.csv.bz2', bytes(0x42, 0x5a, 0x68), 'is packed with bzip2; pack it with gzip or zstd'],
  ])('is said to be what it is: %s', async (name, content, words) => {
    await expect(readRequestLog([{ name, bytes: content }])).rejects.toThrow(new RegExp(`^${name} holds no requests.\\n.*${words}`))
  })
})
