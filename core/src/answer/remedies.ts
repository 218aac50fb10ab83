import { surcharged } from '../plan/machineSchema.ts'
import type { Misfit } from '../service/misfit.ts'
import { statedCandidate } from '../candidate/named.ts'
import { refusalOf } from '../search/refusal.ts'
import { bytesPerWeight } from '../service/variant.ts'
import { editSearch, takeIn, type Combination } from '../plan/searchChoices.ts'
import type { Model, Plan, Service } from '../plan/schema.ts'
import { percent, threeDigits } from '../units/number.ts'

/** What would make a combination fit: one change of the plan. */
export type Change =
  | { kind: 'devices'; devices: number }
  | { kind: 'variant'; variant: string }
  | { kind: 'machine'; machine: string }
  | { kind: 'context'; tokens: number }
  | { kind: 'memory-share'; share: number }
  | { kind: 'sequences'; sequences: number }
  | { kind: 'quality-floor'; floor: number }

export interface Remedy {
  change: Change
  /** what a person reads on the button: "over 2 devices" */
  words: string
  /** the combination that fits after the change */
  at: Combination
}

/** Memory beyond this share leaves a server nothing for what it did not foresee. */
const LARGEST_SHARE = 0.96
/** Device counts that are looked at, beside those that the service asks for. */
const DEVICE_COUNTS = [1, 2, 3, 4, 6, 8, 12, 16, 32, 64]

/** The plan with a change made, and the combination in its search. */
export function applyRemedy(plan: Plan, serviceName: string, { change, at }: Pick<Remedy, 'change' | 'at'>): Plan {
  const next = takeIn(plan, serviceName, at)
  switch (change.kind) {
    case 'context':
      return withLimits(next, serviceName, { contextTokens: change.tokens })
    case 'memory-share':
      return { ...next, assumptions: { ...next.assumptions, memoryShare: change.share } }
    case 'sequences':
      return editSearch(next, serviceName, (s) => ({
        ...s,
        sequences: [...new Set([...s.sequences, change.sequences])].sort((a, b) => a - b),
      }))
    case 'quality-floor':
      return editSearch(next, serviceName, (s) => ({ ...s, qualityFloor: change.floor }))
    default:
      return next
  }
}

function withLimits(plan: Plan, serviceName: string, limits: NonNullable<Service['limits']>): Plan {
  return { ...plan, services: plan.services.map((s) => (s.name === serviceName ? { ...s, limits: { ...s.limits, ...limits } } : s)) }
}

/** The nearest changes that make a combination fit, each of them tried: none is offered that would not. */
export function remediesFor(plan: Plan, service: Service, model: Model, at: Combination, misfit: Misfit): Remedy[] {
  return candidates(plan, service, model, at, misfit).flatMap((options) => options.find((r) => fitsAfter(plan, service, model, r)) ?? [])
}

/** Whether the combination of a remedy can be had and run once it is applied. */
export function fitsAfter(plan: Plan, service: Service, model: Model, remedy: Remedy): boolean {
  const next = applyRemedy(plan, service.name, remedy)
  const after = next.services.find((s) => s.name === service.name)
  if (!after || after.model !== model.name) return false
  const sequences = Math.min(...(after.search?.sequences ?? [after.configuration?.sequences ?? 1]))
  return (after.search?.purchases ?? ['on-demand']).some((purchase) => {
    const candidate = statedCandidate(next, after, { ...remedy.at, sequences, replicas: 1, purchase })
    return candidate !== undefined && refusalOf(candidate) === undefined
  })
}

/** Lists of changes, nearest first; of each list the first that helps is offered. */
function candidates(plan: Plan, service: Service, model: Model, at: Combination, misfit: Misfit): Remedy[][] {
  const memory = misfit.kind === 'memory' || misfit.kind === 'context'
  const placement =
    misfit.kind === 'split' ||
    misfit.kind === 'groups' ||
    misfit.kind === 'devices' ||
    misfit.kind === 'no-link' ||
    misfit.kind === 'no-host-link' ||
    misfit.kind === 'heads' ||
    misfit.kind === 'layers'
  return [
    ...(misfit.kind === 'context' ? [shorterContext(at, misfit.cacheTokens)] : []),
    ...(memory ? [moreMemory(plan, at)] : []),
    ...(memory || placement ? [otherDevices(service, at, memory)] : []),
    ...(memory || ['arithmetic', 'licence', 'quality', 'package', 'disk', 'no-profile'].includes(misfit.kind)
      ? [otherVariants(model, at)]
      : []),
    ...(misfit.kind === 'quality' && misfit.score
      ? [
          [
            {
              change: { kind: 'quality-floor', floor: floorBelow(misfit.score.low) },
              words: `a floor of ${percent(floorBelow(misfit.score.low))}`,
              at,
            } as const,
          ],
        ]
      : []),
    ...(misfit.kind === 'sequences' && misfit.most >= 1
      ? [[{ change: { kind: 'sequences', sequences: misfit.most }, words: `${misfit.most} side by side`, at } as const]]
      : []),
    ...(misfit.kind === 'licence' || misfit.kind === 'quality' ? [] : [otherMachines(plan, at)]),
  ]
}

/** Whole per mille below the interval's lower end. */
const floorBelow = (low: number) => Math.floor(low * 1000) / 1000

function shorterContext(at: Combination, cacheTokens: number): Remedy[] {
  const step = cacheTokens >= 2048 ? 1024 : 1
  const tokens = Math.floor(cacheTokens / step) * step
  return tokens < 2 ? [] : [{ change: { kind: 'context', tokens }, words: `no longer than ${threeDigits(tokens)} tokens`, at }]
}

function moreMemory(plan: Plan, at: Combination): Remedy[] {
  const now = Math.round(plan.assumptions.memoryShare * 100)
  const shares = Array.from({ length: Math.max(0, LARGEST_SHARE * 100 - now) }, (_, i) => (now + i + 1) / 100)
  return shares.map((share) => ({ change: { kind: 'memory-share', share }, words: `${percent(share)} of the memory for the server`, at }))
}

function otherDevices(service: Service, at: Combination, more: boolean): Remedy[] {
  const counts = [...new Set([...(service.search?.devices ?? []), ...DEVICE_COUNTS])]
    .sort((a, b) => a - b)
    .filter((d) => (more ? d > at.devices : d !== at.devices))
  const nearest = counts.sort((a, b) => Math.abs(a - at.devices) - Math.abs(b - at.devices))
  return nearest.map((devices) => ({
    change: { kind: 'devices', devices },
    words: devices === 1 ? 'on 1 device' : `over ${devices} devices`,
    at: { ...at, devices },
  }))
}

/** Of the model's other variants the largest that helps: least is lost by it. */
function otherVariants(model: Model, at: Combination): Remedy[] {
  const size = (v: Model['variants'][number]) => bytesPerWeight(v) ?? 0
  const others = model.variants.filter((v) => v.name !== at.variant).sort((a, b) => size(b) - size(a))
  return others.map((v) => ({ change: { kind: 'variant', variant: v.name }, words: `${v.name} instead`, at: { ...at, variant: v.name } }))
}

/** Of other machines the cheapest that helps. */
function otherMachines(plan: Plan, at: Combination): Remedy[] {
  const others = plan.machines
    .filter((m) => m.name !== at.machine && m.stock > 0)
    .sort((a, b) => (surcharged(a.pricePerHour, a) ?? Infinity) - (surcharged(b.pricePerHour, b) ?? Infinity))
  return others.map((m) => ({ change: { kind: 'machine', machine: m.name }, words: `on ${m.name}`, at: { ...at, machine: m.name } }))
}
