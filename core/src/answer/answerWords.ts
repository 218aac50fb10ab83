import { worldsSeenWords } from './sureWords.ts'
import { compareQuality } from '../service/quality.ts'
import { fleetWords, takeWord } from '../explain/fleetWords.ts'
import { costWords } from '../explain/costWords.ts'
import { callersWords, unpromisedLosses } from '../explain/callersWords.ts'
import { unmeasuredWords } from '../explain/unmeasured.ts'
import { breakingSentences } from '../explain/breakingWords.ts'
import { limitWords, measureWords, spareWords, valueWords } from '../explain/targetWords.ts'
import { HOURS_PER_MONTH } from '../cost/money.ts'
import { paidWords, purchaseSuffix } from '../explain/purchaseWords.ts'
import { waysWords } from '../explain/waysWords.ts'
import type { Plan } from '../plan/schema.ts'
import { bare, percent, threeDigits } from '../units/number.ts'
import { price } from '../units/price.ts'
import type { Answer, Choice, RejectedOption, ServiceAnswer } from './answer.ts'
import { specOf } from '../run/specOf.ts'
import { guardWords } from './guardWords.ts'
import { largestBill, largestBillWords } from './largestBill.ts'
import { nearestCheaper } from './nearestCheaper.ts'
import { isSearched } from '../plan/searched.ts'
import { listWords, shortfallWords } from './shortfallWords.ts'
import { growthSentence, isOverBudget, isTie, tieWords, tightestOf, verdict } from './verdict.ts'

/** Why the answer is what it is, a paragraph a service, fit for a decision. */
export function answerWords(answer: Answer): string[] {
  const { plan } = answer
  // A fleet that turns callers away is not recommended in silence.
  const losses = answer.services.flatMap((s) => unpromisedLosses(plan, s.classes).map((w) => `${s.service}: ${w}.`))
  return [
    ...losses,
    `${metWords(answer)}.`,
    ...purseWords(answer),
    ...answer.services.map((s) => serviceWords(plan, s)),
    ...(answer.conflict ? [answer.conflict] : []),
  ]
}

/** Whether every target is met, and for what; without a full stop. */
export function metWords(answer: Answer): string {
  if (answer.meets || isOverBudget(answer)) return `Every target is met for ${costWords(answer.plan, answer.perHour)}`
  const { unserved, missing, stopped } = verdict(answer)
  if (missing.length + stopped.length === 0 || unserved.length > 0 || answer.conflict !== null) return 'Not every target can be met'
  return `${missing.length > 0 ? 'As stated ' : ''}${shortfallWords({ missing, stopped })}, for ${costWords(answer.plan, answer.perHour)}`
}

/** What is committed to together, what is paid beside machines, what a budget leaves, and when a balance is spent; a sentence each. */
export function purseWords({ money: { fixed, shared, budget, prepaid }, currency }: Answer): string[] {
  return [
    ...shared.map(
      (s) =>
        `${listWords(s.services)} commit to ${s.committedMachines} × ${s.machine} together instead of ${s.apartMachines}${s.apartMachines === s.committedMachines ? ' apart' : ''}, which saves ${price(s.savedPerMonth, currency)} a month of what they cost each by itself.`,
    ),
    ...(fixed.length > 0
      ? [
          `${price(
            fixed.reduce((sum, f) => sum + f.perMonth, 0),
            currency,
          )} a month of it ${fixed.length > 1 ? 'are' : 'is'} ${fixed.map((f) => f.name).join(' and ')}, whatever is rented.`,
        ]
      : []),
    ...(budget
      ? [
          budget.left >= 0
            ? `The budget of ${price(budget.perMonth, currency)} a month leaves ${price(budget.left, currency)}.`
            : `It is ${price(-budget.left, currency)} a month over the budget of ${price(budget.perMonth, currency)}: nothing that keeps every promise costs less.`,
        ]
      : []),
    ...(prepaid
      ? [
          `The balance of ${price(prepaid.balance, currency)} lasts ${bare(threeDigits(prepaid.days))} days and is spent on ${prepaid.runsOut}.`,
        ]
      : []),
  ]
}

function serviceWords(plan: Plan, s: ServiceAnswer): string {
  const { chosen } = s
  const searched = isSearched(plan, s.service)
  if (!chosen && !searched) return `${s.service}: what is stated can not be had or run: ${s.rejected.map((r) => r.reason).join('; ')}.`
  if (!chosen) return `${s.service}: nothing of ${s.candidates} options keeps every promise. ${commonest(s.rejected)}`
  const tightest = tightestOf(chosen.targets)
  const parts = [
    `${s.service}: ${searched ? takeWord([chosen.purchase]) : 'as stated,'} ${fleetWords(chosen)} (${chosen.variant}${chosen.devices > 1 ? ` over ${chosen.devices} devices` : ''}, ${waysWords(chosen)}${chosen.policy ? `, by “${chosen.policy}”` : ''}${paidWords(chosen)}) for ${costWords(plan, chosen.money.perHour, s.service)}.`,
    ...(chosen.profileSource === 'derived' ? [] : [`Of its figures: ${chosen.reliance.join('; ')}.`]),
    ...qualityWords(plan, s.service, chosen),
    ...unmeasuredWords(chosen.targets),
    ...(tightest
      ? [
          `Tightest is ${tightest.className}: ${measureWords(tightest.target)} ${valueWords(tightest.target, tightest.interval?.mean)} of ${limitWords(tightest.target)}, ${spareWords(tightest.headRoom)}.`,
        ]
      : []),
    ...(chosen.worlds ? [`It holds ${worldsSeenWords(chosen)}.`] : []),
    ...callersWords(plan, s.met).map((w) => `${w}.`),
    ...(s.breaking ? breakingSentences(s.breaking) : []).map((w) => `${w}.`),
    ...(growthSentence(plan, s) ? [`${growthSentence(plan, s)}.`] : []),
    ...(searched ? cheaperWords(plan, s) : []),
    ...mostWords(plan, s.service, chosen).map((w) => `${w}.`),
    ...(s.guard ? guardWords(s.guard, plan.horizon.start, plan.currency) : []).map((w) => `${w}.`),
    ...nextWords(plan, chosen, s.runnersUp),
  ]
  return parts.join(' ')
}

/** What is given up where another variant of the model has a better score; nothing where none has. */
export function qualityWords(plan: Plan, serviceName: string, chosen: Pick<Choice, 'variant'>): string[] {
  const service = plan.services.find((s) => s.name === serviceName)
  const variants = plan.models.find((m) => m.name === service?.model)?.variants ?? []
  const rented = variants.find((v) => v.name === chosen.variant)
  const best = variants.reduce((a, b) => ((b.quality?.score ?? -1) > (a?.quality?.score ?? -1) ? b : a), rented)
  if (!rented?.quality || !best?.quality || best.name === rented.name) return []
  const { verdict, low, high } = compareQuality(rented, best)
  const doubt =
    verdict === 'undecided'
      ? `, which ${rented.quality.samples} samples leave undecided (between ${percent(low)} and ${percent(high)})`
      : ''
  return [`${rented.name} scores ${percent(rented.quality.score)} where ${best.name} has ${percent(best.quality.score)}${doubt}.`]
}

/** The largest bill that the chosen option can come to. */
export function mostWords(plan: Plan, serviceName: string, chosen: Choice): string[] {
  const spec = specOf(plan, serviceName, chosen, chosen.machines)
  return spec ? largestBillWords(largestBill(plan, spec.candidate, spec.groups), chosen.money.perMonth, plan.currency) : []
}

function cheaperWords(plan: Plan, s: ServiceAnswer): string[] {
  const nearest = nearestCheaper(s)
  if (!nearest) return ['Nothing that costs less came near enough to be run and missed.']
  const { option, machines, perHour } = nearest
  return [
    `The nearest that costs less is ${machines} × ${option.machine}${purchaseSuffix(option.purchase)} with ${option.variant} at ${price(perHour * HOURS_PER_MONTH, plan.currency)}: ${option.reason}.`,
  ]
}

function nextWords(plan: Plan, chosen: Choice, runnersUp: readonly Choice[]): string[] {
  const [next] = runnersUp
  if (!next) return []
  const more = next.money.perMonth - chosen.money.perMonth
  const dearer = isTie(next)
    ? `as good as the same money: ${tieWords(next)}`
    : `${price(more, plan.currency)} more${tieWords(next) && ` (${tieWords(next)})`}`
  return [`Next best is ${fleetWords(next)}${purchaseSuffix(next.purchase)} with ${next.variant}, for ${dearer}.`]
}

/** The rule that ruled out most, with an example. */
function commonest(rejected: readonly RejectedOption[]): string {
  const by = new Map<string, RejectedOption[]>()
  for (const r of rejected) by.set(r.rejection.kind, [...(by.get(r.rejection.kind) ?? []), r])
  const [most] = [...by.values()].sort((a, b) => b.length - a.length)
  if (!most) return ''
  return `${most.length} of them fail alike, such as ${most[0].machine} with ${most[0].variant}: ${most[0].reason}.`
}
