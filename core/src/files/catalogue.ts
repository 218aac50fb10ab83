import Papa from 'papaparse'
import { LineCounter, parseDocument, stringify as writeYaml } from 'yaml'
import { MachineSchema } from '../plan/machineSchema.ts'
import { BadInput, shown } from '../plan/problem.ts'
import type { Machine } from '../plan/schema.ts'
import { zodProblems } from '../plan/zodProblems.ts'
import { MACHINE_COLUMNS, readCell, showCell, type MachineColumn } from './machineColumns.ts'

export const CATALOGUE_FORMAT = 'sand-clock-catalogue'
export const CATALOGUE_VERSION = 1
export type CatalogueSyntax = 'csv' | 'json' | 'yaml'

/** One cell or row of a table that could not be used. */
export interface CellProblem {
  /** line of a table (the header is 1), or place in a list from 1 */
  row: number
  field: string
  found: string
  rule: string
}

export interface CatalogueReading {
  machines: Machine[]
  /** rows with a problem are left out; the rest is kept */
  problems: CellProblem[]
}

export const cellSentence = ({ row, field, found, rule }: CellProblem) =>
  `row ${row}, ${field}${found === '' ? '' : ` is "${found}"`}: ${rule}`

/** A machine that nothing is known of; needed cells fill it. */
const BLANK: Machine = {
  name: 'x',
  provider: 'x',
  region: 'x',
  device: 'x',
  devices: 1,
  memoryBytesPerDevice: 1,
  bandwidthBytesPerSecond: 1,
  arithmeticPerSecond: {},
  stock: 0,
}

/**
 * Reads a catalogue: a table (comma, semicolon or tab) whose header names columns as we write them, or JSON or YAML with
 * `format: sand-clock-catalogue`.
 *
 * @throws BadInput when the file as a whole is no catalogue; single rows are told in `problems`
 */
export function readCatalogue(text: string, syntax: CatalogueSyntax): CatalogueReading {
  return syntax === 'csv' ? readTable(text) : readList(text, syntax)
}

const plainHead = (head: string) =>
  head
    .toLowerCase()
    .replace(/\(.*?\)/g, '')
    .replace(/[_\s]+/g, ' ')
    .trim()

/** The column that a header names; undefined for a stranger. */
export function columnOf(head: string): MachineColumn | undefined {
  return MACHINE_COLUMNS.find((c) => c.head === plainHead(head) || c.key.toLowerCase() === head.trim().toLowerCase())
}

function readTable(text: string): CatalogueReading {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' })
  const [heads = [], ...rows] = data
  const columns = heads.map(columnOf)
  const lacking = MACHINE_COLUMNS.filter((c) => c.needed && !columns.includes(c))
  if (lacking.length > 0) {
    throw new BadInput(
      'This table is no catalogue of machines.',
      lacking.map((c) => ({ path: `column "${c.head}"`, rule: `is missing; it holds ${c.means}` })),
    )
  }
  const problems: CellProblem[] = heads.flatMap((head, i) =>
    columns[i] ? [] : [{ row: 1, field: head, found: '', rule: 'is no column that is known; it was left out' }],
  )
  const machines: Machine[] = []
  rows.forEach((cells, i) => {
    const bad: CellProblem[] = []
    let machine = BLANK
    columns.forEach((column, c) => {
      if (!column) return
      const reading = readCell(column, cells[c] ?? '')
      if ('complaint' in reading)
        bad.push({ row: i + 2, field: column.head, found: (cells[c] ?? '').slice(0, 40), rule: reading.complaint })
      else machine = column.set(machine, reading.value)
    })
    keep(machine, i + 2, bad, machines, problems)
  })
  return { machines, problems }
}

function readList(text: string, syntax: 'json' | 'yaml'): CatalogueReading {
  let value: unknown
  const problems: CellProblem[] = []
  try {
    value = syntax === 'json' ? JSON.parse(text) : yamlValue(text, problems)
  } catch (error) {
    throw new BadInput('This catalogue can not be read.', [
      { path: '', rule: `is not valid ${syntax.toUpperCase()} (${error instanceof Error ? error.message.split('\n')[0] : String(error)})` },
    ])
  }
  // Unknown until compared below.
  const { format, version, machines: list } = (value ?? {}) as { format?: unknown; version?: unknown; machines?: unknown }
  if (format !== CATALOGUE_FORMAT)
    throw new BadInput('This file is no catalogue.', [
      { path: 'format', ...(format !== undefined && { found: shown(format) }), rule: `must be "${CATALOGUE_FORMAT}"` },
    ])
  if (version !== CATALOGUE_VERSION)
    throw new BadInput('This catalogue can not be read.', [
      { path: 'version', found: shown(version), rule: `must be ${CATALOGUE_VERSION}; a newer one needs a newer Sand Clock` },
    ])
  if (!Array.isArray(list)) throw new BadInput('This catalogue can not be read.', [{ path: 'machines', rule: 'must be a list' }])
  const machines: Machine[] = []
  list.forEach((entry, i) => keep(entry, i + 1, [], machines, problems))
  return { machines, problems }
}

/** The value of a YAML text; tags that are not known are told, and their values taken without them. @throws Error for what is none */
function yamlValue(text: string, problems: CellProblem[]): unknown {
  const lineCounter = new LineCounter()
  const document = parseDocument(text, { lineCounter, logLevel: 'silent' })
  if (document.errors.length > 0) throw document.errors[0]
  for (const { message, pos } of document.warnings)
    problems.push({
      row: lineCounter.linePos(pos[0]).line,
      field: 'tag',
      found: text.slice(pos[0], pos[1]),
      rule: `it is passed over: ${message.split(/ at line|\n/)[0].toLowerCase()}`,
    })
  return document.toJS({ maxAliasCount: 100 }) as unknown
}

/** Keeps an entry that is a machine and has a name of its own; says what is wrong otherwise. */
function keep(entry: unknown, row: number, bad: CellProblem[], machines: Machine[], problems: CellProblem[]): void {
  if (bad.length === 0) {
    const parsed = MachineSchema.safeParse(entry)
    if (!parsed.success)
      bad = zodProblems(parsed.error.issues, entry).map((p) => ({ row, field: headOf(p.path), found: p.found ?? '', rule: `it ${p.rule}` }))
    else if (machines.some((m) => m.name === parsed.data.name))
      bad = [{ row, field: 'name', found: parsed.data.name, rule: 'stands in an earlier row already' }]
    else return void machines.push(parsed.data)
  }
  problems.push(...bad)
}

const headOf = (path: string) => MACHINE_COLUMNS.find((c) => c.key === path)?.head ?? path

/** Writes a catalogue; all three forms read back as the same machines. */
export function writeCatalogue(machines: readonly Machine[], syntax: CatalogueSyntax): string {
  if (syntax === 'csv') {
    const used = MACHINE_COLUMNS.filter((c) => c.needed || machines.some((m) => c.get(m) !== undefined))
    return `${Papa.unparse([used.map((c) => c.head), ...machines.map((m) => used.map((c) => showCell(c, m).replaceAll('\u00a0', ' ').replaceAll('\u202f', '')))], { newline: '\n' })}\n`
  }
  const whole = { format: CATALOGUE_FORMAT, version: CATALOGUE_VERSION, machines }
  return syntax === 'json' ? `${JSON.stringify(whole, null, 2)}\n` : writeYaml(whole)
}
