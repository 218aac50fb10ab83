import { highsSolver, type Solver } from '@sandclock/core'

let loaded: Promise<Solver> | undefined

/** The solver, loaded when it is first asked for: few searches need it. */
export function solver(): Promise<Solver> {
  return (loaded ??= import('highs').then(async ({ default: load }) => highsSolver(await load())))
}
