import { isoSeconds } from './arrivalTime.ts'
import { CALENDAR_FROM_SECONDS, numberOf, sizeOf, textOfCell, timeUnitOf, unitByName, type TimeUnit } from './cells.ts'
import type { Cell } from './tables/table.ts'

/** What a column of a log may be. */
export const LOG_FIELDS = {
  arrival: 'arrival',
  input: 'prompt tokens or work',
  output: 'answer tokens',
  class: 'class',
  caller: 'who asked',
  duration: 'how long it took',
  status: 'whether it went well',
} as const
export type LogField = keyof typeof LOG_FIELDS

/** Which column of a log is what, by its header, and in what its times are counted. */
export interface LogColumns {
  names: Partial<Record<LogField, string>>
  time: TimeUnit
  duration: TimeUnit
}

/** Names under which a column may appear, compared without case, spaces, dots, dashes and underscores. */
export const ALIASES: Record<LogField, readonly string[]> = {
  arrival: [
    'arrival',
    'arrivals',
    'arrivaltime',
    'arrivedat',
    'arrivalseconds',
    'time',
    'timestamp',
    'ts',
    'at',
    'start',
    'starttime',
    'requesttime',
    'requestedat',
    'receivedat',
    'created',
    'createdat',
    'date',
    'datetime',
  ],
  input: [
    'input',
    'inputtokens',
    'inputtoken',
    'prompt',
    'prompttokens',
    'promptlength',
    'inputlength',
    'tokensin',
    'intokens',
    'contexttokens',
    'ninput',
    'nprompt',
    'requesttokens',
    'work',
    'workunits',
  ],
  output: [
    'output',
    'outputtokens',
    'outputtoken',
    'completion',
    'completiontokens',
    'generatedtokens',
    'generated',
    'answertokens',
    'responsetokens',
    'outputlength',
    'tokensout',
    'outtokens',
    'noutput',
    'newtokens',
  ],
  class: ['class', 'requestclass', 'kind', 'type', 'route', 'endpoint', 'category', 'workload'],
  caller: [
    'caller',
    'session',
    'sessionid',
    'conversation',
    'conversationid',
    'threadid',
    'user',
    'userid',
    'client',
    'clientid',
    'customer',
  ],
  duration: [
    'duration',
    'durationms',
    'durationseconds',
    'latency',
    'latencyms',
    'latencyseconds',
    'elapsed',
    'elapsedms',
    'responsetime',
    'responsetimems',
    'totaltime',
    'took',
    'tookms',
    'timetaken',
  ],
  status: ['status', 'statuscode', 'httpstatus', 'responsecode', 'code', 'outcome', 'result', 'ok', 'success'],
}

/** The usual spelling of a header, for sentences about one that is missing. */
export const USUAL_HEADER = { arrival: 'arrival', input: 'input_tokens' } as const

/** More letters than this in a cell, on average, are words that somebody wrote. */
const WORDS_FROM = 24

/** Whether a column holds what somebody wrote: it is not read. */
export function holdsWords(cells: readonly Cell[]): boolean {
  const texts = cells.filter((c): c is string => typeof c === 'string' && c !== '')
  const letters = texts.reduce((sum, text) => sum + text.length, 0)
  return letters > WORDS_FROM * texts.length && texts.some((text) => /\s/.test(text.trim()) && Number.isNaN(isoSeconds(text.trim())))
}

const plain = (header: string) => header.toLowerCase().replace(/[^a-z0-9]/g, '')

const isTime = (cell: Cell) =>
  cell instanceof Date || numberOf(cell) >= CALENDAR_FROM_SECONDS || (typeof cell === 'string' && !Number.isNaN(isoSeconds(cell.trim())))
const isNumber = (cell: Cell) => !Number.isNaN(numberOf(cell))
const isSize = (cell: Cell) => sizeOf(cell) > 0

/** What the cells of a column have to be that is taken for a field by its name. */
const MAY_BE: Partial<Record<LogField, (cell: Cell) => boolean>> = {
  arrival: (cell) => isTime(cell) || isNumber(cell),
  input: isNumber,
  output: isNumber,
  duration: isNumber,
}

/**
 * Which column is what: by its name where what is in it agrees (a "prompt" of words is no number of tokens), else by what is in it.
 * Names earlier in a list win over later ones.
 *
 * @param sample some rows, cells by column
 * @example guessColumns(['Timestamp', 'prompt_tokens'], []).names // { arrival: 'Timestamp', input: 'prompt_tokens' }
 */
export function guessColumns(headers: readonly string[], sample: readonly (readonly Cell[])[]): LogColumns {
  const cellsOf = (column: number) => sample.map((row) => row[column]).filter((cell) => textOfCell(cell) !== '')
  const mostly = (column: number, is: (cell: Cell) => boolean) => {
    const cells = cellsOf(column)
    return cells.length === 0 || 2 * cells.filter(is).length > cells.length
  }
  const spelled = headers.map(plain)
  // Of a field within a field its own name counts too.
  const ends = headers.map((header) => plain(header.split('.').at(-1) ?? ''))
  const called = (alias: string) => (spelled.includes(alias) ? spelled.indexOf(alias) : ends.indexOf(alias))
  const found: Partial<Record<LogField, number>> = {}
  const isFree = (column: number) => !Object.values(found).includes(column)
  const named = (field: LogField) => ALIASES[field].map(called).filter((c) => c >= 0 && isFree(c) && !holdsWords(cellsOf(c)))
  const fields = Object.keys(LOG_FIELDS) as LogField[]
  for (const field of fields) {
    const column = named(field).find((c) => mostly(c, MAY_BE[field] ?? (() => true)))
    if (column !== undefined) found[field] = column
  }
  const byContent = (is: (column: number) => boolean) => headers.findIndex((_, c) => isFree(c) && cellsOf(c).length > 0 && is(c))
  const take = (field: LogField, column: number) => {
    if (column >= 0) found[field] = column
  }
  if (found.arrival === undefined)
    take(
      'arrival',
      byContent((c) => mostly(c, isTime)),
    )
  const isSizes = (c: number) => mostly(c, isSize) && !mostly(c, isTime) && !isCounter(cellsOf(c))
  if (found.input === undefined) {
    take('input', byContent(isSizes))
    if (found.input !== undefined && found.output === undefined) take('output', byContent(isSizes))
  }
  // A column whose name is right and whose rows are not is told row by row.
  for (const field of fields) if (found[field] === undefined && named(field).length > 0) found[field] = named(field)[0]
  const at = (field: LogField) => cellsOf(found[field] ?? -1)
  const name = (field: LogField) => headers[found[field] ?? -1] ?? ''
  return {
    names: Object.fromEntries(fields.filter((field) => found[field] !== undefined).map((field) => [field, name(field)])),
    time: timeUnitOf(at('arrival'), name('arrival')),
    duration: unitByName(name('duration')) ?? 'seconds',
  }
}

/** Numbers of rows: each one more than the one before. */
function isCounter(cells: readonly Cell[]): boolean {
  return cells.length > 1 && cells.every((cell, i) => i === 0 || numberOf(cell) === numberOf(cells[i - 1]) + 1)
}
