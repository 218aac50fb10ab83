import { isHistory } from './metrics/readHistory.ts'
import { PLAN_FORMAT } from '../plan/schema.ts'
import { CATALOGUE_FORMAT, columnOf, type CatalogueSyntax } from './catalogue.ts'
import { looksLikeMeasurements } from './measurementTable.ts'
import { looksLikeStarts } from './startLog.ts'
import { looksLikeShape } from './modelShape.ts'
import { HOW_TO_ASK_FORMAT, PROBED_HEADER, PROBED_HEADER_AT_FIRST } from './probeFormats.ts'

/** What a file holds, by its text: nobody has to say what they drop. */
export type FileKind =
  | { kind: 'plan' }
  | { kind: 'catalogue'; syntax: CatalogueSyntax }
  | { kind: 'model' }
  | { kind: 'measurements' }
  /** start-ups that were timed */
  | { kind: 'starts' }
  /** measured requests, one by one */
  | { kind: 'measured' }
  /** how to ask an endpoint */
  | { kind: 'how-to-ask' }
  | { kind: 'history' }
  | { kind: 'log' }

/** Columns of ours in a header from which on a table is a catalogue. */
const ENOUGH_COLUMNS = 4

export function fileKind(text: string, fileName: string): FileKind {
  if (isHistory(text)) return { kind: 'history' }
  if (isYamlOf(text, PLAN_FORMAT)) return { kind: 'plan' }
  if (isYamlOf(text, HOW_TO_ASK_FORMAT)) return { kind: 'how-to-ask' }
  if (/\.ya?ml$/i.test(fileName) || isYamlOf(text, CATALOGUE_FORMAT)) return { kind: 'catalogue', syntax: 'yaml' }
  if (/^\s*[{[]/.test(text)) return jsonKind(text)
  const header = text.slice(0, 4000).split(/\r?\n/, 1)[0]
  if (header === PROBED_HEADER || header === PROBED_HEADER_AT_FIRST) return { kind: 'measured' }
  if (looksLikeStarts(header)) return { kind: 'starts' }
  if (header.split(/[,;\t]/).filter((h) => columnOf(h.replaceAll('"', ''))).length >= ENOUGH_COLUMNS)
    return { kind: 'catalogue', syntax: 'csv' }
  return looksLikeMeasurements(header) ? { kind: 'measurements' } : { kind: 'log' }
}

/** Whether a text says in YAML, near its beginning, of which format it is. */
function isYamlOf(text: string, format: string): boolean {
  return new RegExp(`^format:\\s*["']?${format}`, 'm').test(text.slice(0, 2000))
}

/** Whether the first line is an object by itself, and another begins the next. */
function isJsonLines(text: string): boolean {
  const [first, second = ''] = text.split('\n', 2)
  try {
    JSON.parse(first)
    return second.trim() === '' || second.startsWith('{')
  } catch {
    return false
  }
}

function jsonKind(text: string): FileKind {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return { kind: isJsonLines(text) ? 'log' : 'plan' } // whose reader says what is wrong with it
  }
  const format = typeof value === 'object' && value !== null && 'format' in value ? value.format : undefined
  if (format === PLAN_FORMAT) return { kind: 'plan' }
  if (format === CATALOGUE_FORMAT) return { kind: 'catalogue', syntax: 'json' }
  return looksLikeShape(value) ? { kind: 'model' } : { kind: 'plan' }
}
