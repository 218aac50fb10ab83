import { statedCandidate } from '../candidate/named.ts'
import { AS_STATED, GIVEN_REPLICA, oneReplicaAt } from '../candidate/stated.ts'
import { peak, rateCurve } from '../demand/rate.ts'
import { waySeconds } from '../plan/way.ts'
import { withRate } from '../plan/arrivalKinds.ts'
import type { Plan, Service, Size } from '../plan/schema.ts'
import type { OneAsked } from './asked.ts'

const USUAL = { input: 600, output: 200, keptSeconds: 600, sequences: 16 }
const DEVICES = [1, 2, 4, 8]

/** A place for a replica: what is asked of it, without the request. */
export type ReplicaPlace = Pick<OneAsked, 'machine' | 'variant' | 'devices' | 'sequences'>

/**
 * Where a request to a service would likely go: as its configuration states, else the place that costs least by the hour of those that its
 * search may try and that take it, with as many side by side as it may try.
 *
 * @param on only on this machine
 * @returns undefined where nothing fits
 */
export function likelyPlace(plan: Plan, service: Service, on: Partial<ReplicaPlace> = {}): ReplicaPlace | undefined {
  const { configuration: c, search } = service
  if (c?.machine !== undefined && c.variant !== undefined && on.machine === undefined)
    return { machine: c.machine, variant: c.variant, devices: c.devices ?? 1, sequences: c.sequences, ...on }
  if (c?.profile && on.machine === undefined)
    return { machine: GIVEN_REPLICA, variant: AS_STATED, devices: 1, sequences: c.sequences, ...on }
  const model = plan.models.find((m) => m.name === service.model)
  const among = <T>(said: T | undefined, list: readonly T[]) => (said === undefined ? list : [said])
  const machines = among(on.machine, search?.machines ?? plan.machines.map((m) => m.name))
  const variants = among(on.variant, search?.variants ?? (model?.variants ?? []).map((v) => v.name))
  const devices = among(on.devices, search?.devices ?? DEVICES)
  const sequences = [...among(on.sequences, search?.sequences ?? [USUAL.sequences])].sort((a, b) => b - a)
  let best: { place: ReplicaPlace; perHour: number } | undefined
  for (const machine of machines)
    for (const variant of variants)
      for (const n of devices) {
        const place = sequences
          .map((s): ReplicaPlace => ({ machine, variant, devices: n, sequences: s }))
          .find((p) => statedCandidate(plan, service, oneReplicaAt(service, p))?.fit.fits)
        const perHour = place && (statedCandidate(plan, service, oneReplicaAt(service, place))?.prices.onDemandPerHour ?? Infinity)
        if (place && perHour !== undefined && (best === undefined || perHour < best.perHour)) best = { place, perHour }
      }
  return best?.place
}

const LN_2 = 0.6931471805599453

/** The middle of what a size draws, at least 1; that of a log is not known here. */
function median(size: Size | undefined, otherwise: number): number {
  switch (size?.kind) {
    case 'fixed':
      return size.value
    case 'lognormal':
      return Math.max(1, Math.round(size.median))
    case 'exponential':
      return Math.max(1, Math.round(size.mean * LN_2))
    case 'empirical':
      return [...size.values].sort((a, b) => a - b)[size.values.length >> 1]
    default:
      return otherwise
  }
}

/** A request as the plan's first class of a service sends it in the middle, to a replica that is ready. */
export function likelyAsked(plan: Plan, service: Service, place: ReplicaPlace): OneAsked {
  const requestClass = plan.classes.find((c) => c.service === service.name)
  return {
    service: service.name,
    ...place,
    finds: 'warm',
    input: median(requestClass?.input ?? requestClass?.work, USUAL.input),
    output: median(requestClass?.output, requestClass?.work ? 1 : USUAL.output),
    others: 0,
    ...(requestClass?.way && { way: waySeconds(requestClass) }),
    keptSeconds: service.policies?.find((p) => p.idle)?.idle?.seconds ?? USUAL.keptSeconds,
  }
}

/** Letters of an alphabet that are taken for a token; a sign of a script without one is a token by itself. */
export const LETTERS_A_TOKEN = 4
const SIGNS = /[\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af]/gu

/**
 * Tokens of a text, estimated: the model's own vocabulary alone tells how many they are.
 *
 * @example estimatedTokens('Where is berth four?') // 5
 */
export function estimatedTokens(text: string): number {
  const signs = text.match(SIGNS)?.length ?? 0
  return Math.max(1, signs + Math.ceil(([...text].length - signs) / LETTERS_A_TOKEN))
}

/** The busiest rate of a service as its classes state it, requests a second: the sum of theirs, though they may have it at other times. */
export function busiestRate(plan: Plan, service: string): number {
  return plan.classes.reduce((sum, { service: its, arrivals }) => {
    const rated = its === service ? withRate(arrivals) : undefined
    return rated ? sum + peak(rateCurve(rated, plan.horizon.seconds, 1, plan.horizon.start)).ratePerSecond : sum
  }, 0)
}
