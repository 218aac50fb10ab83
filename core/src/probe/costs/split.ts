import type { ProbedRequest } from '../probed.ts'
import { isJudging } from '../shape.ts'
import { streamedOf } from './streamed.ts'

/** What is fitted, and what judges the fit. */
export interface Split {
  fitting: ProbedRequest[]
  judging: ProbedRequest[]
}

/**
 * Never the same: what was measured to judge by is not fitted; where nothing was, the last part is left out of the fit, if there
 * are others.
 */
export function splitOf(rows: readonly ProbedRequest[]): Split {
  const parts = [...new Set(streamedOf(rows).map((r) => r.part))]
  const last = parts.length > 1 ? parts.at(-1) : undefined
  const judges = parts.some(isJudging) ? isJudging : (part: string) => part === last
  return { fitting: rows.filter((r) => !judges(r.part)), judging: rows.filter((r) => judges(r.part)) }
}
