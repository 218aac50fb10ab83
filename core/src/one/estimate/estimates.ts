import { statedCandidate } from '../../candidate/named.ts'
import { isPriced, oneReplicaAt } from '../../candidate/stated.ts'
import { HOURS_PER_MONTH } from '../../cost/money.ts'
import { planMoney } from '../../cost/planMoney.ts'
import { BadInput } from '../../plan/problem.ts'
import type { Plan, Variant } from '../../plan/schema.ts'
import { bytes } from '../../units/bytes.ts'
import { duration } from '../../units/duration.ts'
import { price } from '../../units/price.ts'
import type { OneAsked } from '../asked.ts'
import { oneRequest, type PartName } from '../oneRequest.ts'
import { takeApart, type Slip, type TakenApart, type Term } from './takeApart.ts'

/** What one may have estimated of a replica and its request, as it follows "I make it so much". */
export const ESTIMATES = {
  memory: { words: 'of memory that the replica takes', kind: 'bytes' },
  time: { words: 'from the call to the end of the request', kind: 'duration' },
  month: { words: 'for a month of this replica, there all the time', kind: 'money' },
} as const
export type Estimated = keyof typeof ESTIMATES

const GIBI = 1.073741824
const MEMORY_SLIPS: readonly Slip[] = [
  { words: 'counts in GiB what is read as GB', factor: 1 / GIBI },
  { words: 'counts in GB what is read as GiB', factor: GIBI },
  { words: 'takes bits for bytes', factor: 8 },
  { words: 'takes bytes for bits', factor: 1 / 8 },
]
const TIME_SLIPS: readonly Slip[] = [
  { words: 'takes minutes for seconds', factor: 1 / 60 },
  { words: 'takes seconds for minutes', factor: 60 },
  { words: 'takes milliseconds for seconds', factor: 1000 },
]
const MONTH_SLIPS: readonly Slip[] = [
  { words: 'is of a day', factor: 24 / HOURS_PER_MONTH },
  { words: 'is of a week', factor: 168 / HOURS_PER_MONTH },
  { words: 'is of four weeks', factor: 672 / HOURS_PER_MONTH },
  { words: 'is of working hours, 8 of 24 on 5 of 7 days', factor: (8 * 5) / 168 },
  { words: 'is of a year', factor: 12 },
]

/** How a value of an estimate is written. */
export function shownOf(what: Estimated, currency: string): (value: number) => string {
  return { memory: bytes, time: duration, month: (value: number) => price(value, currency) }[what]
}

/** An own estimate of one replica beside what it is made of. @throws BadInput where nothing is known of it */
export function checkEstimate(plan: Plan, asked: OneAsked, what: Estimated, estimate: number): TakenApart {
  const of = { memory: memoryOf, time: timeOf, month: monthOf }[what](plan, asked)
  return takeApart(estimate, of.terms, of.slips)
}

interface Made {
  terms: Term[]
  slips: readonly Slip[]
}

const nothing = (path: string, rule: string) => new BadInput('This estimate can not be taken apart.', [{ path, rule }])

/** Weights as their bits say, what is stored beside them, the cache of as many such requests as it takes at once, the rest. */
function memoryOf(plan: Plan, asked: OneAsked): Made {
  const candidate = candidateOf(plan, asked)
  const { fit, model, variant, devices } = candidate
  if (!fit.fits || !fit.memory) throw nothing('memory', 'is known of models by their shape alone, on a machine where they fit')
  const { weightBytes, activationBytes, reserveBytes, cacheBytesPerToken, bytesPerItem } = fit.memory
  const bare = 'parameters' in model ? bareBytes(model.parameters, variant, weightBytes) : weightBytes
  return {
    terms: [
      { name: 'the weights', value: bare },
      { name: 'scales and zero points', value: weightBytes - bare },
      {
        name: `the cache of ${asked.sequences} at once`,
        value: asked.sequences * (cacheBytesPerToken * (asked.input + asked.output) + bytesPerItem),
      },
      { name: 'working memory', value: activationBytes },
      { name: 'the reserve', value: reserveBytes },
    ],
    slips: devices > 1 ? [...MEMORY_SLIPS, { words: `is of one of ${devices} devices`, factor: 1 / devices }] : MEMORY_SLIPS,
  }
}

function bareBytes(parameters: number, { weightBits }: Variant, weightBytes: number): number {
  return weightBits === undefined ? weightBytes : Math.min(weightBytes, (parameters * weightBits) / 8)
}

const PART_TERMS: Record<Exclude<PartName, 'kept'>, string> = {
  there: 'the way to the service',
  machine: 'the wait for a machine',
  image: 'pulling the image',
  weights: 'fetching the weights',
  load: 'loading them',
  warmup: 'the warm-up',
  wait: 'the wait for its turn',
  prompt: 'the prompt',
  answer: 'the answer',
  work: 'its work',
  back: 'the way back',
}

function timeOf(plan: Plan, asked: OneAsked): Made {
  const terms = oneRequest(plan, asked).parts.flatMap(({ part, seconds }) =>
    part === 'kept' ? [] : [{ name: PART_TERMS[part], value: seconds }],
  )
  return { terms, slips: TIME_SLIPS }
}

const RENT = `the rent of ${HOURS_PER_MONTH} h`

function monthOf(plan: Plan, asked: OneAsked): Made {
  const candidate = candidateOf(plan, asked)
  const { prices, machine, devices, group } = candidate
  const perHour = prices.onDemandPerHour
  if (!Number.isFinite(perHour) || !isPriced(candidate)) throw nothing('month', `is not known: ${machine.name} is not for rent by the hour`)
  const disks = prices.storagePerHour * HOURS_PER_MONTH
  const other = [
    [prices.spotPerHour, 'takes the price on spot'],
    [prices.committedPerHour, 'takes the price of a commitment'],
  ] as const
  return {
    terms: [
      { name: RENT, value: perHour * HOURS_PER_MONTH },
      { name: 'its disk', value: disks },
      ...planMoney(plan, 0).fixed.map((f) => ({ name: f.name, value: f.perMonth })),
    ],
    slips: [
      ...MONTH_SLIPS,
      ...other.flatMap(([price, words]) => (Number.isFinite(price) && price > 0 ? [{ words, factor: price / perHour, of: RENT }] : [])),
      ...(group.machines === 1 && machine.devices > devices
        ? [
            {
              words: `is of ${devices} of its ${machine.devices} devices, where the whole machine is paid`,
              factor: devices / machine.devices,
            },
          ]
        : []),
    ],
  }
}

function candidateOf(plan: Plan, asked: OneAsked) {
  const service = plan.services.find((s) => s.name === asked.service)
  const candidate = service && statedCandidate(plan, service, oneReplicaAt(service, asked))
  if (!candidate) throw nothing('service', 'must be one of the plan, on one of its machines')
  return candidate
}
