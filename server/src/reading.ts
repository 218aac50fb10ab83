import { BadInput } from '@sandclock/core'

/** Why something that was sent is not taken: a sentence, and each problem of it. */
export interface Refusal {
  message: string
  problems: BadInput['problems']
}

export const refusal = (message: string): Refusal => ({ message, problems: [] })

/** What was read, or what is wrong with it. */
export function readOr<T>(read: () => T | Refusal): T | Refusal {
  try {
    return read()
  } catch (error) {
    if (error instanceof BadInput) return { message: error.message, problems: error.problems }
    throw error
  }
}
