import { BadInput, type Problem } from '../../plan/problem.ts'
import { looksLikeOpenMetrics, readOpenMetrics } from './openMetrics.ts'
import { looksLikeHistory, readRangeQueries } from './rangeQuery.ts'
import { metricsOf, type Metric } from './roles.ts'

/** Whether a text may be one by its beginning: what is no history may be long. */
export const beginsLikeHistory = (text: string): boolean =>
  /^\s*[{[]/.test(text) ? /"(resultType|errorType)"\s*:/.test(text.slice(0, 2000)) : looksLikeOpenMetrics(text)

/** Whether a text is a metrics history: answers to range queries as JSON, or the open metrics format. */
export function isHistory(text: string): boolean {
  if (!beginsLikeHistory(text)) return false
  if (!/^\s*[{[]/.test(text)) return true
  try {
    return looksLikeHistory(JSON.parse(text))
  } catch {
    return false
  }
}

/**
 * Reads metrics histories, several files as one.
 *
 * @throws BadInput for what is none, and for one without two samples of anything
 */
export function readHistory(files: readonly { name: string; text: string }[]): { metrics: Metric[]; problems: Problem[] } {
  const problems: Problem[] = []
  const series = files.flatMap(({ name, text }) => {
    if (/^\s*[{[]/.test(text)) return readRangeQueries(parsed(name, text))
    const read = readOpenMetrics(text)
    problems.push(...read.problems.map((p) => ({ ...p, path: files.length > 1 ? `${name}, ${p.path}` : p.path })))
    return read.series
  })
  if (!series.some((s) => s.at.length > 1))
    throw new BadInput('This history says nothing of a load.', [
      ...problems.slice(0, 3),
      {
        path: files[0]?.name ?? '',
        rule: 'must have at least two samples of a metric, with their times: ask for a range, not for one moment',
      },
    ])
  return { metrics: metricsOf(series), problems }
}

function parsed(name: string, text: string): unknown {
  try {
    return JSON.parse(text)
  } catch (error) {
    throw new BadInput('This history can not be read.', [
      { path: name, rule: `is not valid JSON (${error instanceof Error ? error.message : ''})` },
    ])
  }
}
