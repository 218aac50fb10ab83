import { BaseSequencer, type TestSpecification } from 'vitest/node'

/** What takes longest for its size: begun last, one worker computes alone at the end. */
const LONG =
  /\/(core\/test\/(analytic|property)\/|server\/src\/searchMemory|cli\/src\/(begin|cli|measure)|core\/src\/(measure\/way|answer\/openings))/

/** The tests in Vitest's order, but in a project first those that are known to be long: a fresh clone has no former times to go by. */
export class LongFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const sorted = await super.sort(files)
    const projects = [...new Set(sorted.map((f) => f.project))]
    return projects.flatMap((project) => {
      const own = sorted.filter((f) => f.project === project)
      return [...own.filter((f) => LONG.test(f.moduleId)), ...own.filter((f) => !LONG.test(f.moduleId))]
    })
  }
}
