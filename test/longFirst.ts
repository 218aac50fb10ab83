import { readFileSync } from 'node:fs'
import { BaseSequencer, type TestSpecification } from 'vitest/node'

/** What takes longest for its size: begun last, one worker computes alone at the end. */
const LONG =
  /\/(core\/test\/(analytic|property)\/|server\/src\/searchMemory|cli\/src\/(begin|cli|measure)|core\/src\/(measure\/way|answer\/openings))/

/** What a test is run in, as its first lines say. */
const environmentOf = (test: TestSpecification) => /@vitest-environment (\S+)/.exec(readFileSync(test.moduleId, 'utf8'))?.[1] ?? 'node'

/** Items by what they are grouped by, groups in the order of their first. */
const grouped = <T>(items: T[], by: (item: T) => unknown): T[] =>
  [...new Set(items.map(by))].flatMap((group) => items.filter((item) => by(item) === group))

/**
 * The tests in Vitest's order, but first those that are known to be long: a fresh clone has no former times to go by. Those of one project
 * and environment follow each other, since a worker is kept for the next test only if that is run in the same: another one loads all
 * anew.
 */
export class LongFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const sorted = await super.sort(files)
    const longFirst = [...sorted.filter((f) => LONG.test(f.moduleId)), ...sorted.filter((f) => !LONG.test(f.moduleId))]
    return grouped(grouped(longFirst, environmentOf), (f) => f.project)
  }
}
