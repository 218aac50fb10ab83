import { costParts } from '../explain/costWords.ts'
import { percent } from '../units/number.ts'
import type { Answer } from './answer.ts'
import { isOverBudget, verdict } from './verdict.ts'

/** Below this a price is the same. */
const SAME_PER_MONTH = 0.005

/**
 * What a change of the plan did to its verdict, in so few words that they fit beside the figure that was changed: whether it holds, what
 * it costs, and where that is the same, what is to spare.
 *
 * @example '3 142 → 2 904 EUR a month', '3 142 EUR as before; 12 % to spare, was 15 %', 'nothing holds any more'
 */
export function effectWords(before: Answer, after: Answer): string {
  const amount = (a: Answer) => costParts(a.plan, a.perHour).amount
  const { of } = costParts(after.plan, after.perHour)
  if (!after.meets) return before.meets ? `${failing(after)}; held before` : `${failing(after)}, as before`
  if (!before.meets) return `holds now, for ${amount(after)} ${of}`
  const moved = Math.abs(after.perMonth - before.perMonth) > SAME_PER_MONTH
  if (moved) return `${amount(before)} → ${amount(after)} ${of}`
  const [was, is] = [before, after].map((a) => verdict(a).tightest?.headRoom ?? null)
  const spare =
    is === null
      ? ''
      : was === null || percent(was) === percent(is)
        ? `; ${percent(is)} to spare`
        : `; ${percent(is)} to spare, was ${percent(was)}`
  return `${amount(after)} as before${spare}`
}

/** What of a plan's promises is not kept, in a few words. */
export function missingWords(answer: Answer): string {
  const { stopped, missing, unserved } = verdict(answer)
  if (stopped.length > 0 && missing.length + unserved.length === 0) return 'stopped by its guard'
  return isOverBudget(answer) ? 'over the budget' : 'not every target holds'
}

function failing(answer: Answer): string {
  const nobody = verdict(answer).unserved
  if (nobody.length > 0) return `nothing holds for ${nobody.join(' and ')}`
  return missingWords(answer)
}
