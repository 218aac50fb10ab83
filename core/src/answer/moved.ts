import { HOURS_PER_MONTH } from '../cost/money.ts'
import { fleetWords } from '../explain/fleetWords.ts'
import { purchaseName, purchaseSuffix } from '../explain/purchaseWords.ts'
import { price } from '../units/price.ts'
import type { Answer, Choice, ServiceAnswer } from './answer.ts'
import { isSame } from '../candidate/optionName.ts'

/**
 * Why the answer for a service is another one than before a change of the plan, in a sentence: what became of the option
 * that was chosen before. Undefined where there is nothing to say: no answer before, or nothing moved.
 */
export function movedSentence(before: Answer, after: Answer, serviceName: string): string | undefined {
  const [old, now] = [before, after].map((a) => a.services.find((s) => s.service === serviceName))
  if (!old || !now) return undefined
  if (!old.chosen) return now.chosen ? 'Before your change nothing held; now something does' : undefined
  const was = `Before your change it was ${choiceWords(old.chosen)} for ${price(old.chosen.money.perMonth, before.currency)} a month`
  if (now.chosen && isSame(old.chosen, now.chosen)) return sameOption(old.chosen, now.chosen, was, after.currency)
  if (now.chosen && isSame({ ...old.chosen, purchase: now.chosen.purchase }, now.chosen)) {
    const more = now.chosen.money.perMonth - old.chosen.money.perMonth
    return `${was}; now the same is paid ${purchaseName(now.chosen.purchase)}, ${price(Math.abs(more), after.currency)} ${more > 0 ? 'more' : 'less'}`
  }
  return `${was}; ${fateOf(old.chosen, now, after.currency)}`
}

function sameOption(old: Choice, now: Choice, was: string, currency: string): string | undefined {
  const more = now.money.perMonth - old.money.perMonth
  if (Math.abs(more) < 0.005 && old.machines === now.machines) return undefined
  const machines = old.machines === now.machines ? 'the same machines' : `${now.machines} instead of ${old.machines} of the same machines`
  return `${was}; now ${machines}${Math.abs(more) < 0.005 ? '' : `, ${price(Math.abs(more), currency)} ${more > 0 ? 'more' : 'less'}`}`
}

/** What is said now of an option that was chosen before. */
function fateOf(old: Choice, { chosen, runnersUp, rejected }: ServiceAnswer, currency: string): string {
  const ranked = runnersUp.find((c) => isSame(old, c))
  if (ranked && chosen) {
    const more = ranked.money.perMonth - chosen.money.perMonth
    return `${ranked.machines === old.machines ? 'it still holds' : `it holds with ${ranked.machines} instead of ${old.machines} machines`}, for ${price(ranked.money.perMonth, currency)}: ${price(Math.abs(more), currency)} ${more >= 0 ? 'more than what is cheapest now' : 'less, but its machines serve the plan better elsewhere'}`
  }
  const out = rejected.find((r) => isSame(old, r)) ?? rejected.find((r) => isSame({ ...old, sequences: r.sequences }, r))
  if (!out) return 'it is not among the options any more'
  const least =
    'leastPerHour' in out.rejection ? out.rejection.leastPerHour : 'perHour' in out.rejection ? out.rejection.perHour : undefined
  const dearer = out.rejection.kind === 'dearer-bound' && least !== undefined
  return dearer
    ? `it costs at least ${price(least * HOURS_PER_MONTH, currency)} now`
    : `now it ${out.rejection.kind === 'misfit' ? 'does not fit' : 'fails'}: ${out.reason}`
}

function choiceWords(c: Choice): string {
  return `${fleetWords(c)}${purchaseSuffix(c.purchase)} with ${c.variant}`
}
