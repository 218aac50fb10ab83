import { HOURS_PER_MONTH } from '../cost/money.ts'
import { purchase } from '../cost/purchase.ts'
import type { Plan } from '../plan/schema.ts'
import type { Missed } from '../search/order.ts'
import type { Rejection } from '../search/rejection.ts'
import { duration } from '../units/duration.ts'
import { grouped, percent } from '../units/number.ts'
import { price } from '../units/price.ts'
import { LIMIT_WORDS } from './limitWords.ts'
import { misfitSentence } from './misfitSentence.ts'
import { purchaseName } from './purchaseWords.ts'
import { limitWords, measureWords, valueWords } from './targetWords.ts'
import { waysWords } from './waysWords.ts'

/** Why an option was rejected, as a sentence with its figure. */
export function rejectionSentence(rejection: Rejection, plan: Plan): string {
  const month = (perHour: number) => `${price(perHour * HOURS_PER_MONTH, plan.currency)} a month`
  switch (rejection.kind) {
    case 'misfit':
      return misfitSentence(rejection.misfit)
    case 'hopeless': {
      const { className, target, aloneSeconds } = rejection.hopeless
      return `${className}: ${measureWords(target)} is ${duration(aloneSeconds)} even alone on an idle replica, target ${limitWords(target)}${marginWords(plan)}`
    }
    case 'no-stock':
      return rejection.has === 0
        ? `no ${rejection.machine} can be had: the ${LIMIT_WORDS[rejection.limitedBy].name} is 0`
        : `a replica takes ${machines(rejection.needed)}, the ${LIMIT_WORDS[rejection.limitedBy].name} is ${rejection.has}`
    case 'not-sold':
      return `${rejection.machine} is not sold ${purchaseName(rejection.purchase)}; it is sold ${rejection.sold.map((kind) => purchaseName(purchase(kind))).join(', ')}`
    case 'too-many':
      return `it takes ${machines(rejection.wantedMachines)}, the ${LIMIT_WORDS[rejection.limitedBy].name} is ${machines(rejection.mostMachines)} (${replicas(rejection.mostReplicas)})`
    case 'work':
      return `the work alone keeps ${machines(rejection.machinesNeeded)} busy all the time, the ${LIMIT_WORDS[rejection.limitedBy].name} is ${rejection.maxMachines}`
    case 'limit':
      if (rejection.limitedBy === 'one key') return `${missedWords(rejection.missed, plan)}, and there is no more of it to be had`
      return `${missedWords(rejection.missed, plan)} with ${machines(rejection.machines)} (${replicas(rejection.replicas)}), the ${LIMIT_WORDS[rejection.limitedBy].name}`
    case 'dearer-bound':
      return `at least ${machines(rejection.machines)}, ${month(rejection.perHour)}: no cheaper than ${month(rejection.thanPerHour)}, which the options above cost at most`
    case 'dearer':
      return `${missedWords(rejection.missed, plan)} with ${machines(rejection.machines)} (${replicas(rejection.replicas)}, ${month(rejection.perHour)}); one more makes ${month(rejection.leastPerHour)}, no cheaper than the options above`
    case 'no-saving':
      return `following the load costs at least ${month(rejection.perHour)} here, ${machines(rejection.machines)} all the time ${rejection.machines === 1 ? 'holds' : 'hold'} for ${month(rejection.fixedPerHour)}`
    case 'same-option':
      return `with ${waysWords(rejection)} it costs at least ${month(rejection.perHour)}, with ${waysWords({ sequences: rejection.bestSequences, setting: rejection.bestSetting })} ${month(rejection.bestPerHour)}`
  }
}

const machines = (n: number) => (n === 1 ? '1 machine' : `${n} machines`)
const replicas = (n: number) => (n === 1 ? '1 replica' : `${n} replicas`)

function marginWords(plan: Plan): string {
  return plan.margin > 0 ? ` with ${percent(plan.margin)} head-room` : ''
}

const worldsWords = ({ broken, run, of }: NonNullable<Missed['worlds']>): string =>
  run < of ? `${broken} of the ${run} hardest of ${of} worlds` : `${broken} of ${of} worlds`

function missedWords(missed: Missed, plan: Plan): string {
  const { className, target } = missed
  const goal = `target ${limitWords(target)}${target.measure === 'lost' || target.measure === 'throughput' ? '' : marginWords(plan)}`
  if (missed.worlds)
    return `${worldsWords(missed.worlds)} break a promise, such as ${className}: ${measureWords(target)}, target ${limitWords(target)}`
  if (missed.likely) return `${className}: ${measureWords(target)} may reach ${valueWords(target, missed.value)} by chance, ${goal}`
  if (missed.value !== undefined) return `${className}: ${measureWords(target)} ${valueWords(target, missed.value)}, ${goal}`
  const counted =
    missed.considered > 0
      ? `: ${grouped(missed.misses, 0)} of ${grouped(missed.considered, 0)} requests were late or lost when it could not be kept any more${missed.inBusiest ? ', in the busiest stretch alone,' : ''}`
      : ''
  return `${className}: ${measureWords(target)} misses its ${goal}${counted}`
}
