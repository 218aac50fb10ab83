import type { LogField } from './requestLog.ts'

/** Names under which a column may appear, compared without case, spaces, dots, dashes and underscores. */
const ALIASES: Record<LogField, readonly string[]> = {
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
}

const plain = (header: string) => header.toLowerCase().replace(/[^a-z0-9]/g, '')

export interface HeaderMap {
  columns: Partial<Record<LogField, number>>
  names: Partial<Record<LogField, string>>
}

/**
 * Finds which column holds which field. Aliases earlier in a list win over later ones.
 *
 * @example mapHeaders(['Timestamp', 'prompt_tokens', 'completion_tokens']).columns // { arrival: 0, input: 1, output: 2 }
 */
export function mapHeaders(headers: readonly string[]): HeaderMap {
  const found = headers.map(plain)
  const map: HeaderMap = { columns: {}, names: {} }
  for (const field of ['arrival', 'input', 'output', 'class'] as const) {
    const alias = ALIASES[field].find((a) => found.includes(a))
    if (alias === undefined) continue
    const column = found.indexOf(alias)
    map.columns[field] = column
    map.names[field] = headers[column].trim()
  }
  return map
}

/** The usual spelling of a field's header, for sentences about one that is missing. */
export const USUAL_HEADER: Record<LogField, string> = { arrival: 'arrival', input: 'input_tokens', output: 'output_tokens', class: 'class' }
