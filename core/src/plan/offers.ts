import type { Machine, Plan, Sold } from './schema.ts'

/** Everything that a search may go to: machines for rent, and what is sold by tokens. */
export function offersOf({ machines, soldByTokens = [] }: Plan): (Machine | Sold)[] {
  return [...machines, ...soldByTokens]
}
