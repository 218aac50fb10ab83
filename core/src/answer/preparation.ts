import type { Candidate } from '../candidate/candidate.ts'
import { costPerHour } from '../candidate/candidate.ts'
import { billedSeconds } from '../cost/bill.ts'
import { billingOf } from '../cost/purchase.ts'
import { isPriced } from '../candidate/stated.ts'
import { surcharged } from '../plan/machineSchema.ts'
import type { Plan } from '../plan/schema.ts'
import { startRulesOf } from '../scaling/ofPlan.ts'
import { duration } from '../units/duration.ts'
import { price } from '../units/price.ts'
import type { DetailTable } from './detailTable.ts'
import { startLine } from './startBudget.ts'

/** One thing that has to be done before a start-up. */
export interface PreparedStep {
  name: string
  when: 'once' | 'each-version'
  seconds: number
  /** the machine that is rented for it; null where nothing is paid */
  on: string | null
  cost: number
}

/** What stands before the first request: at the very first go, and when the model changes. */
export interface Preparation {
  steps: PreparedStep[]
  /** of one copy from nothing, with its machine */
  start: { seconds: number; cost: number }
  firstGo: { seconds: number; cost: number }
  newVersion: { seconds: number; cost: number }
}

/** Undefined where a service states nothing that is to be done before. */
export function preparationOf(plan: Plan, candidate: Candidate): Preparation | undefined {
  const { service, model, variant, machine } = candidate
  if (!service.preparation) return undefined
  const steps = service.preparation.map(({ name, when, seconds, bytes = 0, bytesPerSecond = Infinity, on }): PreparedStep => {
    const takes = seconds + bytes / bytesPerSecond
    return { name, when, seconds: takes, on: on ?? null, cost: on === undefined ? 0 : rented(plan, on, takes) }
  })
  const perHour = isPriced(candidate) ? costPerHour(candidate, 1) / candidate.group.replicas : 0
  const line = startLine(startRulesOf(service, model, variant, machine), 'nothing', 1, Number.isFinite(perHour) ? perHour : 0)
  const start = { seconds: line.readySeconds, cost: line.paid }
  const after = (of: readonly PreparedStep[]) => ({
    seconds: of.reduce((sum, s) => sum + s.seconds, start.seconds),
    cost: of.reduce((sum, s) => sum + s.cost, start.cost),
  })
  return { steps, start, firstGo: after(steps), newVersion: after(steps.filter((s) => s.when === 'each-version')) }
}

/** On demand, by the step that the offer bills. */
function rented({ machines }: Plan, name: string, seconds: number): number {
  const offer = machines.find((m) => m.name === name)
  const perHour = offer && surcharged(offer.pricePerHour, offer)
  if (!offer || perHour === undefined) throw new Error('serviceChecks let a machine through that is not for rent by the hour')
  return (billedSeconds(seconds, billingOf(offer), false) / 3600) * perHour
}

const WHEN = { once: 'once', 'each-version': 'for each version of the model' } as const

/** From when on the first request can be answered, at the very first go and at a change of the model: a sentence without a full stop. */
export function preparationWords({ firstGo, newVersion }: Preparation, service: string, currency: string): string {
  const said = ({ seconds, cost }: { seconds: number; cost: number }) => `${duration(seconds)} and ${price(cost, currency)}`
  return `Before ${service} answers its very first request lie ${said(firstGo)}, and at each change of the model ${said(newVersion)}: what has to be prepared, and one start-up from nothing`
}

export function preparationTable({ steps, start, firstGo, newVersion }: Preparation, currency: string): DetailTable {
  const row = (name: string, when: string, on: string, seconds: number, cost: number) => [
    name,
    when,
    on,
    duration(seconds),
    price(cost, currency),
  ]
  return {
    title: 'before the first request',
    header: ['what', 'when', 'on', 'takes', 'costs'],
    rows: [
      ...steps.map((s) => row(s.name, WHEN[s.when], s.on ?? 'a machine of one’s own', s.seconds, s.cost)),
      row('a start-up from nothing', 'each time', 'its own machine', start.seconds, start.cost),
      row('at the very first go', '', '', firstGo.seconds, firstGo.cost),
      row('at a change of the model', '', '', newVersion.seconds, newVersion.cost),
    ],
  }
}
