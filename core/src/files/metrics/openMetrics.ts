import type { Problem } from '../../plan/problem.ts'
import { numberOf } from './rangeQuery.ts'
import { seriesOf, type Series } from './series.ts'

/** A sample: name, labels, value, and the time it is of. What follows a # is about one request and not read. */
const SAMPLE = /^([a-zA-Z_:][\w:]*)(\{(?:[^"}]|"(?:[^"\\]|\\.)*")*\})?\s+(\S+)(?:\s+(-?[\d.eE+]+))?\s*(?:#.*)?$/
const LABEL = /([a-zA-Z_]\w*)\s*=\s*"((?:[^"\\]|\\.)*)"/g
/** More wrong lines than these are only counted. */
const MOST_PROBLEMS = 20

/** Whether a text is in the open metrics format, by its first lines. */
export function looksLikeOpenMetrics(text: string): boolean {
  const lines = text.slice(0, 4000).split('\n').slice(0, -1)
  if (lines.some((l) => /^# (TYPE|HELP|UNIT) \S+/.test(l))) return true
  const samples = lines.map((l) => l.trim()).filter((l) => l !== '' && !l.startsWith('#'))
  return samples.length > 0 && samples.every((l) => l.includes('{') && SAMPLE.test(l))
}

/**
 * Reads the open metrics text format, with a time at every sample: a history, not one page.
 *
 * Times are seconds where the text ends with "# EOF", as the format demands; else milliseconds, as what came before it has them.
 *
 * @returns the series, and lines that were left out with why
 */
export function readOpenMetrics(text: string): { series: Series[]; problems: Problem[] } {
  const toSeconds = /^# EOF\s*$/m.test(text) ? 1 : 1e-3
  const found = new Map<string, { name: string; labels: Record<string, string>; samples: [number, number][] }>()
  const problems: Problem[] = []
  const refuse = (line: number, shown: string, rule: string) =>
    problems.length < MOST_PROBLEMS && problems.push({ path: `line ${line}`, found: shown.slice(0, 60), rule })
  text.split('\n').forEach((raw, i) => {
    const line = raw.trim()
    if (line === '' || line.startsWith('#')) return
    const [, name, braces = '', value, time] = SAMPLE.exec(line) ?? []
    if (name === undefined) return void refuse(i + 1, line, 'must be a name, labels in braces, a value and a time')
    if (Number.isNaN(numberOf(value)) && !/^nan$/i.test(value)) return void refuse(i + 1, value, 'must be a number')
    if (time === undefined) return void refuse(i + 1, line, 'must say its time: a page without times is one moment, not a history')
    const key = `${name}${braces}`
    const entry = found.get(key) ?? { name, labels: labelsOf(braces), samples: [] }
    entry.samples.push([Number(time) * toSeconds, numberOf(value)])
    found.set(key, entry)
  })
  return { series: [...found.values()].map((s) => seriesOf(s.name, s.labels, s.samples)), problems }
}

const labelsOf = (braces: string): Record<string, string> =>
  Object.fromEntries(
    [...braces.matchAll(LABEL)].map(([, key, text]) => [key, text.replaceAll(/\\(.)/g, (_, c: string) => (c === 'n' ? '\n' : c))]),
  )
