import { capital } from '../../units/capital.ts'
import type { Plan } from '../../plan/schema.ts'
import { duration } from '../../units/duration.ts'
import { listed } from '../../units/listed.ts'
import { bare, grouped, percent } from '../../units/number.ts'
import { price } from '../../units/price.ts'
import { TIMED_STARTS } from './probeCost.ts'
import type { Worth, WorthReport } from './worth.ts'

/** What measuring next is worth for a configuration that is rented: sentences. */
export function worthWords({ currency }: Pick<Plan, 'currency'>, report: WorthReport): string[] {
  const { settled, of, certainty, chosen, sure, most, dearerPerMonth, worth } = report
  if (settled < of) return []
  const worlds = `${bare(percent(certainty))} of the worlds`
  const number =
    sure === null
      ? `Not even ${machines(most)} hold in ${worlds}: a plan that asks for so much certainty finds what does.`
      : sure > chosen
        ? `To hold in ${worlds} it takes ${machines(sure)} in place of ${chosen}, ${price(dearerPerMonth, currency)} a month more.`
        : sure < chosen
          ? `In ${worlds} ${machines(sure)} hold as well: what asks for ${chosen} is the plan as it stands, with its head-room and the doubt that its draws leave.`
          : chosen === 1
            ? `One machine holds in ${worlds} as well.`
            : `${capital(machines(chosen))} are also the fewest that hold in ${worlds}.`
  if (worth.length === 0) return [number, 'No measurement would change the number of machines by more than chance does.']
  return [number, ...worth.map((w, i) => oneWorth(currency, w, most, i === 0))]
}

function oneWorth(currency: string, worth: Worth, most: number, isFirst: boolean): string {
  const { savedPerMonth, then } = worth
  const counts = then.map((t) => (t.machines === null ? `more than ${most}` : String(t.machines)))
  const cases = then.map((t, i) => `${counts[i]} in ${bare(percent(t.share))}`)
  const settles =
    then.length > 1
      ? `would decide between ${listed(counts)} machines (${cases.join(', ')} of what it may show)`
      : `would say that ${counts[0]} ${counts[0] === '1' ? 'does' : 'do'}`
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
