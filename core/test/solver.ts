import load from 'highs'
import { highsSolver } from '../src/search/solver.ts'

export const solve = highsSolver(await load())
export const solveLater = (problem: string) => Promise.resolve(solve(problem))
