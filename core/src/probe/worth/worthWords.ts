import { optionNameKey, type OptionName } from '../../candidate/optionName.ts'
import { purchaseSuffix } from '../../explain/purchaseWords.ts'
import type { Plan } from '../../plan/schema.ts'
import { capital } from '../../units/capital.ts'
import { duration } from '../../units/duration.ts'
import { listed } from '../../units/listed.ts'
import { bare, grouped, percent } from '../../units/number.ts'
import { price } from '../../units/price.ts'
import { TIMED_STARTS } from './probeCost.ts'
import type { Rung } from './rungs.ts'
import type { Worth, WorthReport } from './worth.ts'

/** What measuring next is worth for a configuration that is rented: sentences. */
export function worthWords({ currency }: Pick<Plan, 'currency'>, report: WorthReport): string[] {
  const { settled, of, worth } = report
  if (settled < of) return []
  const name = namesOf(report)
  const sure = sureWords(currency, report, name)
  if (worth.length === 0) return [sure, `No measurement would change ${name.what} by more than chance does.`]
  return [sure, ...worth.map((w, i) => oneWorth(currency, w, name, i === 0))]
}

/** What may be rented, by name: by the number of its machines where only that differs. */
interface Names {
  what: string
  of: (rung: Rung | null) => string
  /** after several of them */
  all: string
}

function namesOf({ chosen, sure, most, worth }: WorthReport): Names {
  const named = [sure, ...worth.flatMap((w) => w.then.map((t) => t.rung))]
  const isChosen = (rung: Rung | null) => rung === null || optionNameKey(rung.option) === optionNameKey(chosen.option)
  if (most !== null && named.every(isChosen))
    return { what: 'the number of machines', of: (r) => (r === null ? `more than ${most}` : String(r.machines)), all: ' machines' }
  return { what: 'what is rented', of: (r) => (r === null ? 'none of what was looked at' : rungName(r, chosen.option)), all: '' }
}

/** @example 'up to 3 × Fenland twin, on spot, 4-bit' */
function rungName({ option, machines }: Rung, chosen: OptionName): string {
  const { policy, machine, purchase, variant } = option
  const isAlike = optionNameKey(option) === optionNameKey(chosen)
  return `${policy === null ? '' : 'up to '}${machines} × ${machine}${purchaseSuffix(purchase)}${isAlike || variant === chosen.variant ? '' : `, ${variant}`}${isAlike || policy === null || policy === chosen.policy ? '' : ` (${policy})`}`
}

function sureWords(currency: string, { certainty, chosen, sure, most, dearerPerMonth }: WorthReport, name: Names): string {
  const worlds = `${bare(percent(certainty))} of the worlds`
  const isNumber = name.all !== ''
  if (sure === null)
    return isNumber
      ? `Not even ${machines(most ?? 0)} hold in ${worlds}: a plan that asks for so much certainty finds what does.`
      : `Neither what is chosen nor what comes next to it holds in ${worlds}: a plan that asks for so much certainty finds what does.`
  const [sureName, chosenName] = isNumber ? [machines(sure.machines), String(chosen.machines)] : [name.of(sure), name.of(chosen)]
  if (dearerPerMonth > 0)
    return `To hold in ${worlds} it takes ${sureName} in place of ${chosenName}, ${price(dearerPerMonth, currency)} a month more.`
  if (dearerPerMonth < 0)
    return `In ${worlds} ${sureName} ${sure.machines === 1 || !isNumber ? 'holds' : 'hold'} as well: what asks for ${chosenName} is the plan as it stands, with its head-room and the doubt that its draws leave.`
  if (!isNumber) return `${capital(sureName)}${sureName.includes(',') ? ',' : ''} is also the cheapest that holds in ${worlds}.`
  return chosen.machines === 1
    ? `One machine holds in ${worlds} as well.`
    : `${capital(sureName)} are also the fewest that hold in ${worlds}.`
}

function oneWorth(currency: string, worth: Worth, name: Names, isFirst: boolean): string {
  const { savedPerMonth, then } = worth
  const names = then.map((t) => name.of(t.rung))
  const cases = then.map((t, i) => `${names[i]} in ${bare(percent(t.share))}`)
  const one = then[0].rung
  const settles =
    then.length > 1
      ? `would decide between ${listed(names)}${name.all} (${cases.join(', ')} of what it may show)`
      : `would say that ${names[0]} ${one && one.machines > 1 && name.all !== '' ? 'do' : 'does'}`
  return `${isFirst ? 'Worth most is to' : 'Then'} ${measureWords(currency, worth)}: it ${settles}, worth ${price(savedPerMonth, currency)} a month in the mean.`
}

function measureWords(currency: string, { what, machine, cost }: Worth): string {
  const calls = cost && cost.requests > 0 ? `${grouped(cost.requests, 0)} calls, up to ${cost.atOnce} at once, ` : ''
  const takes = cost ? `, about ${duration(cost.seconds)}${cost.money === null ? '' : ` and ${price(cost.money, currency)}`}` : ''
  switch (what) {
    case 'step costs':
      return `measure step costs (${calls}on one ${machine}${takes})`
    case 'start-up':
      return `time ${TIMED_STARTS} start-ups (of one ${machine}${takes})`
    case 'load':
      return 'take the load from a log or a metrics history (for which nothing is rented)'
  }
}

const machines = (n: number) => (n === 1 ? '1 machine' : `${n} machines`)
