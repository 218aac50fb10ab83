import Papa from 'papaparse'
import { BadInput } from '../plan/problem.ts'
import type { Measurement, MeasurementRow } from '../plan/schema.ts'
import { readQuantity } from '../units/quantity.ts'
import type { CellProblem } from './catalogue.ts'

type Field =
  'model' | 'variant' | 'machine' | 'devices' | 'concurrency' | 'input' | 'output' | 'work' | 'ttft' | 'tpot' | 'latency' | 'count'

/** Words in a header that mean a field, tried in this order. */
const WORDS: [Field, RegExp][] = [
  ['ttft', /ttft|first.?token/],
  ['tpot', /tpot|per.?output|inter.?token|per.?token/],
  ['latency', /latency|e2e|end.?to.?end|duration/],
  ['concurrency', /concurren|batch|parallel|clients|side.?by.?side/],
  ['devices', /devices/],
  ['machine', /machine|hardware|offer/],
  ['variant', /variant|precision/],
  ['model', /model/],
  ['input', /input|prompt/],
  ['output', /output|answer|completion/],
  ['work', /work|steps|units/],
  ['count', /count|samples|requests|^n$/],
]

/** Load tests that a table holds, one for each variant, machine and device count that it names. */
export interface MeasuredGroup {
  model?: string
  variant?: string
  measurement: Omit<Measurement, 'machine'> & { machine?: string }
}

export interface MeasurementReading {
  groups: MeasuredGroup[]
  problems: CellProblem[]
}

const fieldOf = (head: string): Field | undefined => WORDS.find(([, words]) => words.test(head.toLowerCase()))?.[0]

/** Whether a header line looks like that of a load test. */
export function looksLikeMeasurements(header: string): boolean {
  const fields = header.split(/[,;\t]/).map((h) => fieldOf(h.replaceAll('"', '')))
  return (
    fields.some((f) => f === 'ttft' || f === 'tpot' || f === 'latency') &&
    fields.some((f) => f === 'concurrency' || f === 'input' || f === 'work')
  )
}

/**
 * Reads a table of load tests: batch or concurrency, input, output (or work), TTFT, TPOT or latency, count. Times carry
 * their unit in the cell or in the header ("ttft_ms", "latency (s)").
 *
 * @throws BadInput when there is no column with a time
 */
export function readMeasurements(text: string): MeasurementReading {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' })
  const [heads = [], ...rows] = data
  const fields = heads.map(fieldOf)
  if (!fields.some((f) => f === 'ttft' || f === 'tpot' || f === 'latency')) {
    throw new BadInput('This table holds no load test.', [
      { path: 'header', rule: 'must name a time: a column such as "ttft_ms", "tpot_ms" or "latency_s"' },
    ])
  }
  const problems: CellProblem[] = heads.flatMap((head, i) =>
    fields[i] ? [] : [{ row: 1, field: head, found: '', rule: 'is no column of a load test; it was left out' }],
  )
  const groups = new Map<string, MeasuredGroup>()
  const stated = fields.includes('concurrency')
  rows.forEach((cells, i) => {
    const row = new TableRow(heads, fields, cells, i + 2)
    const read = row.measured()
    if (row.problems.length > 0) return void problems.push(...row.problems)
    const [model, variant, machine] = (['model', 'variant', 'machine'] as const).map((f) => row.text(f) || undefined)
    const devices = row.count('devices')
    const key = JSON.stringify([model, variant, machine, devices])
    const group = groups.get(key) ?? {
      ...(model && { model }),
      ...(variant && { variant }),
      measurement: {
        ...(machine && { machine }),
        ...(devices !== undefined && { devices }),
        ...(!stated && { concurrencyStated: false }),
        rows: [],
      },
    }
    group.measurement.rows.push(read)
    groups.set(key, group)
  })
  return { groups: [...groups.values()], problems }
}

class TableRow {
  readonly problems: CellProblem[] = []
  private readonly heads: readonly string[]
  private readonly fields: readonly (Field | undefined)[]
  private readonly cells: readonly string[]
  private readonly line: number

  constructor(heads: readonly string[], fields: readonly (Field | undefined)[], cells: readonly string[], line: number) {
    this.heads = heads
    this.fields = fields
    this.cells = cells
    this.line = line
  }

  measured(): MeasurementRow {
    const times = { ttftSeconds: this.seconds('ttft'), tpotSeconds: this.seconds('tpot'), latencySeconds: this.seconds('latency') }
    const row: MeasurementRow = { concurrency: this.count('concurrency') ?? 1 }
    const rest = {
      input: this.count('input'),
      output: this.count('output'),
      work: this.number('work'),
      count: this.count('count'),
      ...times,
    }
    for (const [key, value] of Object.entries(rest)) if (value !== undefined) row[key as keyof typeof rest] = value
    if (this.problems.length === 0 && Object.values(times).every((t) => t === undefined))
      this.complain('latency', '', 'needs a TTFT, a TPOT or a latency')
    return row
  }

  text(field: Field): string {
    return (this.cells[this.fields.indexOf(field)] ?? '').trim()
  }

  count(field: Field): number | undefined {
    const value = this.number(field)
    if (value === undefined || (Number.isInteger(value) && value >= 1)) return value
    this.complain(field, this.text(field), 'must be a whole number of at least 1')
    return undefined
  }

  number(field: Field): number | undefined {
    const text = this.text(field)
    if (text === '') return undefined
    const reading = readQuantity(text, 'number')
    if ('value' in reading && reading.value >= 0) return reading.value
    this.complain(field, text, 'must be a number, not below 0')
    return undefined
  }

  /** Seconds, by the unit of the cell or else of the header; a bare number under a bare header is refused. */
  private seconds(field: Field): number | undefined {
    const text = this.text(field)
    if (text === '') return undefined
    const bare = /^[\d.,\s]+(e-?\d+)?$/i.test(text)
    const unit = /(?:^|[\s_([])(µs|us|ms|s|sec|seconds|milliseconds)[\])]?\s*$/i
      .exec(this.heads[this.fields.indexOf(field)] ?? '')?.[1]
      ?.toLowerCase()
    if (bare && unit === undefined)
      return this.complain(field, text, 'say whether that is seconds or milliseconds: in the header ("ttft_ms") or in the cell ("85 ms")')
    const reading = readQuantity(bare ? `${text} ${unit === 'milliseconds' ? 'ms' : (unit ?? 's')}` : text, 'duration')
    if ('value' in reading && reading.value > 0) return reading.value
    return this.complain(field, text, 'must be a duration above 0')
  }

  private complain(field: Field, found: string, rule: string): undefined {
    this.problems.push({ row: this.line, field: this.heads[this.fields.indexOf(field)] ?? field, found: found.slice(0, 40), rule })
  }
}
