import { surcharged } from '../plan/machineSchema.ts'
import { exp, ln } from '../arithmetic/sameBits.ts'
import type { Combination } from '../plan/searchChoices.ts'
import type { Model, Plan, Service, Variant } from '../plan/schema.ts'
import { compareQuality, type QualityDifference } from '../service/quality.ts'
import { fit } from '../service/fit.ts'
import { speedOf, type Mean } from './fitTable.ts'

/** What can differ between two ways of running a model. */
export const FACTORS = ['format', 'weight bits', 'cache bits', 'arithmetic bits', 'machine', 'devices'] as const
export type Factor = (typeof FACTORS)[number]

/**
 * A figure of two combinations (seconds of a token or request alone and beside others, of a prefill; tokens or requests a
 * second, and for one unit of money): both values, and by which factor each cause multiplied it.
 */
export interface Credit {
  figure: 'alone' | 'full' | 'prefill' | 'rate' | 'for money'
  from: number
  to: number
  /** causes multiply to to/from, exactly; 1 is no effect */
  causes: { factor: Factor; times: number }[]
}

export interface Comparison {
  /** factors in which the two differ */
  differ: Factor[]
  credits: Credit[]
  /** why nothing can be credited; null when it can */
  reason: string | null
  quality: QualityDifference
  /** side by side, the same for both */
  sequences: number
}

/**
 * Credits the difference between two combinations of one model to what caused it: format, bits of weights, of cache and
 * of arithmetic, machine, devices. Each factor is changed alone, from every state of the others, and what it multiplies
 * a figure by is averaged over all orders (Shapley value of the logarithm), so that the causes multiply to the whole.
 * Costs are derived for this even where they were measured: mixed states can not be measured. Room in the cache is left
 * out: both sides have `sequences` side by side.
 */
export function creditBetween(plan: Plan, service: Service, a: Combination, b: Combination, mean: Mean, sequences: number): Comparison {
  const model = plan.models.find((m) => m.name === service.model)
  const variants = [a, b].map((c) => model?.variants.find((v) => v.name === c.variant))
  const [va, vb] = variants
  if (!model || !va || !vb) throw new Error('no such variant in this plan')
  const differ = FACTORS.filter((f) => !same(f, va, vb, a, b))
  const quality = compareQuality(vb, va)
  const states = new Map<number, number[] | undefined>()
  const valuesOf = (changed: number): number[] | undefined => {
    if (!states.has(changed)) states.set(changed, figuresOf(plan, service, model, mixed(differ, changed, va, vb, a, b), mean, sequences))
    return states.get(changed)
  }
  const all = (1 << differ.length) - 1
  const [from, to] = [valuesOf(0), valuesOf(all)]
  if (!from || !to)
    return {
      differ,
      quality,
      sequences,
      credits: [],
      reason: 'one of the two can not be derived: its coefficients are given, or its machine lacks the arithmetic',
    }
  const orders = ordersOf(differ.length).filter((order) => everyState(order, valuesOf))
  if (orders.length === 0)
    return {
      differ,
      quality,
      sequences,
      credits: [],
      reason: 'between the two lies no state that can be derived: change one thing at a time',
    }
  const credits = FIGURES.map((figure, i): Credit => ({
    figure,
    from: from[i],
    to: to[i],
    causes: differ.map((factor, f) => ({
      factor,
      times: exp(orders.reduce((sum, order) => sum + ln(step(order, f, valuesOf, i)), 0) / orders.length),
    })),
  }))
  return { differ, quality, sequences, credits, reason: null }
}

const FIGURES: readonly Credit['figure'][] = ['alone', 'full', 'prefill', 'rate', 'for money']

type State = { variant: Variant; machine: string; devices: number }

const WEIGHT_FIELDS = ['weightBits', 'groupSize', 'scaleBits', 'zeroPointBits', 'bytesPerWeight'] as const
const CACHE_FIELDS = ['cacheBits', 'bytesPerCacheElement'] as const
const FIELDS: Record<Exclude<Factor, 'machine' | 'devices'>, readonly (keyof Variant)[]> = {
  format: ['format', 'efficiency'],
  'weight bits': WEIGHT_FIELDS,
  'cache bits': CACHE_FIELDS,
  'arithmetic bits': ['arithmeticBits'],
}

function same(factor: Factor, va: Variant, vb: Variant, a: Combination, b: Combination): boolean {
  if (factor === 'machine') return a.machine === b.machine
  if (factor === 'devices') return a.devices === b.devices
  return FIELDS[factor].every((field) => JSON.stringify(va[field]) === JSON.stringify(vb[field]))
}

/** The state in which the factors whose bits are set in `changed` are those of b, the others those of a. */
function mixed(differ: readonly Factor[], changed: number, va: Variant, vb: Variant, a: Combination, b: Combination): State {
  const state: State = { variant: { ...va }, machine: a.machine, devices: a.devices }
  differ.forEach((factor, f) => {
    if (((changed >> f) & 1) === 0) return
    if (factor === 'machine') state.machine = b.machine
    else if (factor === 'devices') state.devices = b.devices
    else for (const field of FIELDS[factor]) Object.assign(state.variant, { [field]: vb[field] })
  })
  return state
}

function figuresOf(
  plan: Plan,
  service: Service,
  model: Model,
  { variant, machine: name, devices }: State,
  mean: Mean,
  sequences: number,
): number[] | undefined {
  const machine = plan.machines.find((m) => m.name === name)
  if (!machine) return undefined
  // Every mixed state has room and may run anywhere: only its speed is asked.
  const roomy = {
    ...machine,
    devices: Math.max(machine.devices, devices),
    memoryBytesPerDevice: 1e15,
    linkBytesPerSecond: machine.linkBytesPerSecond ?? machine.hostLinkBytesPerSecond ?? 0,
  }
  if (devices > 1 && roomy.linkBytesPerSecond === 0) return undefined
  const { splits: _, ceilings: __, ...free } = roomy
  const { search: ___, ...anywhere } = service
  const fitting = fit(plan, anywhere, model, variant, free, devices, 'derived')
  if (!fitting.fits) return undefined
  const speed = speedOf((s) => fitting.profile({ sequences: s }), sequences, mean)
  const perReplicaHour = ((surcharged(machine.pricePerHour, machine) ?? Infinity) * devices) / machine.devices
  if (speed.kind !== 'token')
    return [
      speed.aloneSeconds,
      speed.fullBatchSeconds,
      speed.fullBatchSeconds,
      speed.requestsPerSecond,
      (speed.requestsPerSecond * 3600) / Math.max(1e-9, perReplicaHour),
    ]
  return [
    speed.aloneSecondsPerToken,
    speed.fullSecondsPerToken,
    speed.prefillSeconds,
    speed.tokensPerSecond,
    (speed.tokensPerSecond * 3600) / Math.max(1e-9, perReplicaHour),
  ]
}

function ordersOf(count: number): number[][] {
  if (count === 0) return [[]]
  return ordersOf(count - 1).flatMap((order) =>
    Array.from({ length: count }, (_, i) => [...order.slice(0, i), count - 1, ...order.slice(i)]),
  )
}

/** Bits of the factors that come before a place in an order. */
const before = (order: readonly number[], place: number) => order.slice(0, place).reduce((sum, f) => sum | (1 << f), 0)

const everyState = (order: readonly number[], valuesOf: (changed: number) => number[] | undefined) =>
  order.every((_, i) => valuesOf(before(order, i)) !== undefined)

/** By which factor a figure changes where an order changes factor f. */
function step(order: readonly number[], f: number, valuesOf: (changed: number) => number[] | undefined, figure: number): number {
  const place = order.indexOf(f)
  const [was, is] = [valuesOf(before(order, place)), valuesOf(before(order, place + 1))]
  if (!was || !is) throw new Error('orders with missing states were left out')
  return is[figure] / was[figure]
}
