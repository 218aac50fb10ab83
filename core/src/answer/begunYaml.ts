import { beginPlan } from '../begin/beginPlan.ts'
import { OPENINGS, type Figures } from '../begin/openings.ts'
import { assumedWords } from '../explain/assumedWords.ts'
import { writePlanYaml, type FieldComment } from '../files/planYaml.ts'
import { checkPlan } from '../plan/read.ts'
import type { Machine, Plan } from '../plan/schema.ts'

/**
 * A plan that is begun, as a file in which every assumption stands above its field.
 *
 * @throws BadInput when the figures make no plan
 */
export function begunYaml(
  figures: Figures,
  machines: readonly Machine[],
  currency: string,
): { plan: Plan; comments: FieldComment[]; text: string } {
  const plan = checkPlan(beginPlan(figures, machines, currency))
  const assumed = assumedWords(figures, plan)
  const comments = assumed.map(({ field, words }) => ({ field, words: `assumed: ${words}` }))
  const top = `Begun like "${OPENINGS[figures.opening].words}". What is marked as assumed was not asked for.`
  return { plan, comments, text: writePlanYaml(plan, comments, top) }
}
