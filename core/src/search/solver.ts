/** The least of an objective, and where it is. */
export interface Solution {
  objective: number
  /** by the name of the variable */
  values: Readonly<Record<string, number>>
}

/** Solves linear programs with integers, exactly; undefined where nothing satisfies all constraints. Given in the CPLEX LP format. */
export type Solver = (problem: string) => Solution | undefined

/** As much of a HiGHS module as is used: who drives a search loads it where he runs. */
interface Highs {
  solve: (
    problem: string,
    options: { mip_rel_gap: number; mip_abs_gap: number },
  ) => { Status: string; ObjectiveValue: number; Columns: Record<string, object> }
}

/** @throws Error when neither a solution is found nor that there is none */
export function highsSolver(highs: Highs): Solver {
  return (problem) => {
    const { Status, ObjectiveValue, Columns } = highs.solve(problem, { mip_rel_gap: 0, mip_abs_gap: 0 })
    if (Status === 'Infeasible') return undefined
    if (Status !== 'Optimal') throw new Error(`the solver ended with "${Status}"`)
    return {
      objective: ObjectiveValue,
      values: Object.fromEntries(
        Object.entries(Columns).map(([name, column]) => [
          name,
          'Primal' in column && typeof column.Primal === 'number' ? column.Primal : 0,
        ]),
      ),
    }
  }
}
