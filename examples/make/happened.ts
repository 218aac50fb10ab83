import { configured, Load, run, type Plan } from '@sandclock/core'
import { timesAsDear } from '@sandclock/core/world/worldParts'
import { oneConfiguration } from './oneConfiguration.ts'

/**
 * A log of what the one service of a plan does with the plan's own load, with how long each request took; invented, as its plan is.
 *
 * @param other what it does from then on, the same service otherwise
 */
export function happened(plan: Plan, other: Plan, fromSeconds: number): string {
  const [service] = plan.services
  const requests = new Load(plan).of(service, 0)
  const ends = (of: Plan): Float64Array => {
    const ready = configured(of, of.services[0], of.services[0].configuration!)
    if (!ready.ok) throw new Error('what is stated can be had')
    return run({ ...of, horizon: plan.horizon }, ready.spec, requests, { toTheEnd: true }).record.end
  }
  const [before, after] = [ends(plan), ends(other)]
  const rows = Array.from(requests.at, (at, i) => {
    const time = new Date(Date.parse(plan.horizon.start) + at * 1000).toISOString()
    return `${time},${requests.input[i]},${requests.output[i]},${((at < fromSeconds ? before : after)[i] - at).toFixed(4)}`
  })
  return `arrival,input,output,latency_seconds\n${rows.join('\n')}\n`
}

/** A plan whose one service, which states its own step costs, takes so many times as long for each step. */
export function withSteps(plan: Plan, factor: number): Plan {
  const [service] = plan.services
  const { configuration } = service
  const profile = timesAsDear(configuration!.profile!, factor)
  return { ...plan, services: [{ ...service, configuration: { ...configuration!, profile } }] }
}

/** An hour of the service of one-configuration.json, whose steps take longer in its last twenty minutes, as beside a neighbour. */
export const happenedExample = (): string => happened(oneConfiguration, withSteps(oneConfiguration, 1.3), 2400)
