import { answerDigests } from './answers.ts'
import { elementaryDigests } from './elementary.ts'
import { runDigests } from './runs.ts'

export type Bits = Record<'elementary' | 'runs' | 'answers', Record<string, string>>

/** Digests of everything whose bits have to be the same wherever it is computed. They are kept in kept.json. */
export const bits = (): Bits => ({ elementary: elementaryDigests(), runs: runDigests(), answers: answerDigests() })
