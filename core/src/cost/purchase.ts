import type { Machine, Model, Plan, Service, Variant } from '../plan/schema.ts'
import { surcharged } from '../plan/machineSchema.ts'
import { PURCHASES, type PurchaseKind } from '../plan/ways.ts'
import { weightBytesOf } from '../service/variant.ts'
import { callPrices, type CallPrices } from './calls.ts'
import { HOURS_PER_MONTH } from './money.ts'
import { tokenPrices, type TokenPrices } from './tokens.ts'

/** How the machines of a fleet are paid. */
export interface Purchase {
  kind: PurchaseKind
  /** mixed: share of the machines, the first ones, that can not be taken away; 0 for spot, 1 for the others */
  safeShare: number
}

export const ON_DEMAND: Purchase = { kind: 'on-demand', safeShare: 1 }
const DEFAULT_SAFE_SHARE = 0.5

/**
 * Ways of paying that a search is to try and an offer has, in the order of the search. Where machines may be committed to
 * for no more than they cost on demand, on demand is not tried by itself: committing to none is one of the numbers that
 * are (`perHourByCommitted`), and what runs is the same.
 */
export function purchasesOf({ search }: Service, machine: Machine): Purchase[] {
  const shares = search?.safeShares ?? [DEFAULT_SAFE_SHARE]
  const offered = (search?.purchases ?? ['on-demand']).filter((kind) => isOffered(kind, machine))
  const covered = offered.includes('committed') && (machine.committedPerHour ?? Infinity) <= (machine.pricePerHour ?? Infinity)
  return offered
    .filter((kind) => kind !== 'on-demand' || !covered)
    .flatMap((kind): Purchase[] =>
      PURCHASES[kind].safeShare === 'stated' ? shares.map((safeShare) => purchase(kind, safeShare)) : [purchase(kind)],
    )
}

export function purchase(kind: PurchaseKind, safeShare = DEFAULT_SAFE_SHARE): Purchase {
  const share = PURCHASES[kind].safeShare
  return { kind, safeShare: share === 'stated' ? safeShare : share }
}

/** Whether an offer has the prices that a way of paying needs. */
export function isOffered(kind: PurchaseKind, machine: Machine): boolean {
  return PURCHASES[kind].needs.every((some) => some.some((field) => machine[field] !== undefined))
}

/** Whether calls are what is paid. */
export function isByCall({ kind }: Pick<Purchase, 'kind'>): boolean {
  return PURCHASES[kind].byCall
}

/** Whether nothing is rented, and tokens are what is paid. */
export function isByTokens({ kind }: Pick<Purchase, 'kind'>): boolean {
  return PURCHASES[kind].byTokens
}

/** Whether machines are what is paid: neither calls nor tokens. */
export function isRented(purchase: Pick<Purchase, 'kind'>): boolean {
  return !isByCall(purchase) && !isByTokens(purchase)
}

/** What tells one way of paying from another, for those who count or compare. */
export function purchaseKey({ kind, safeShare }: Purchase): string {
  return `${kind} ${safeShare}`
}

/** Prices of one group of machines: one machine, or those over which a replica lies. In the plan's currency. */
export interface GroupPrices {
  /** Infinity where the offer has none; the same of the next two */
  onDemandPerHour: number
  committedPerHour: number
  spotPerHour: number
  /** its disk, also while it is stopped */
  storagePerHour: number
  /** what its starts fetch */
  transferPerByte: number
  billingStepSeconds: number
  billingMinimumSeconds: number
  /** null where the offer sells no calls */
  calls: CallPrices | null
  /** null where it is not sold by tokens */
  tokens: TokenPrices | null
}

const GIGABYTE = 1e9

/** What a machine of a service keeps on its disk while it is stopped: as it states, or its image and weights. */
export const diskBytesOf = ({ nodes, start }: Service, model: Model, variant: Variant): number =>
  nodes?.diskBytes ?? (start ? start.imageBytes + weightBytesOf(model, variant) : 0)

/** By which step, and at least how long, time on a machine is billed. */
export const billingOf = ({ billingStepSeconds = 1, billingMinimumSeconds = 0 }: Machine) => ({ billingStepSeconds, billingMinimumSeconds })

export function groupPrices(
  { assumptions, classes }: Pick<Plan, 'assumptions' | 'classes'>,
  service: Service,
  model: Model,
  variant: Variant,
  machine: Machine,
  { machines, devices, sequences }: { machines: number; devices: number; sequences: number },
): GroupPrices {
  return {
    onDemandPerHour: (surcharged(machine.pricePerHour, machine) ?? Infinity) * machines,
    committedPerHour: (surcharged(machine.committedPerHour, machine) ?? Infinity) * machines,
    spotPerHour: (surcharged(machine.spotPerHour, machine) ?? Infinity) * machines,
    storagePerHour: ((machine.storagePerGigabyteMonth ?? 0) * machines * diskBytesOf(service, model, variant)) / GIGABYTE / HOURS_PER_MONTH,
    transferPerByte: (machine.transferPerGigabyte ?? 0) / GIGABYTE,
    ...billingOf(machine),
    calls: callPrices(machine, model, variant, assumptions, devices, sequences),
    tokens: tokenPrices({ classes }, machine.sold),
  }
}

/** Groups of a fleet that can not be taken away. */
export function safeGroups({ safeShare }: Purchase, groups: number): number {
  return Math.ceil(safeShare * groups - 1e-9)
}
