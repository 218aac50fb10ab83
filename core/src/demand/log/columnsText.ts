import { BadInput } from '../../plan/problem.ts'
import { TIME_UNITS, type TimeUnit } from './cells.ts'
import { LOG_FIELDS, type LogColumns, type LogField } from './logColumns.ts'

/**
 * Columns as they are said on a command line: field=header, and in what times are counted; what is not said stays as it was guessed.
 *
 * @param text such as "arrival=ts,input=prompt_tokens,time=milliseconds"
 * @throws BadInput for a field or a unit that there is none
 */
export function withColumns(guessed: LogColumns, text: string): LogColumns {
  const columns = { ...guessed, names: { ...guessed.names } }
  for (const part of text.split(',')) {
    const [what, ...rest] = part.split('=')
    const value = rest.join('=').trim()
    const key = what.trim()
    if (key === 'time') columns.time = unitOf(value, 'time')
    else if (key === 'duration-unit') columns.duration = unitOf(value, 'duration-unit')
    else if (Object.hasOwn(LOG_FIELDS, key) && value !== '') columns.names[key as LogField] = value
    else
      throw unknown(key, part, `must be one of ${[...Object.keys(LOG_FIELDS), 'time', 'duration-unit'].join(', ')}, with "=" and a column`)
  }
  return columns
}

function unitOf(value: string, what: string): TimeUnit {
  if (Object.hasOwn(TIME_UNITS, value)) return value as TimeUnit
  throw unknown(what, value, `must be one of ${Object.keys(TIME_UNITS).join(', ')}`)
}

const unknown = (path: string, found: string, rule: string) =>
  new BadInput('The columns of the log can not be told.', [{ path: `--columns ${path}`, found: `"${found}"`, rule }])
