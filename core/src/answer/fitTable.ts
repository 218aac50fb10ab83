import { surcharged } from '../plan/machineSchema.ts'
import { square } from '../arithmetic/sameBits.ts'
import type { Requests } from '../demand/requests.ts'
import { calibrationWords, foundWords } from '../explain/calibrationWords.ts'
import { misfitSentence } from '../explain/misfitSentence.ts'
import { obtainable } from '../plan/machineSchema.ts'
import type { Machine, Model, Plan, Service, Variant } from '../plan/schema.ts'
import { deviceCounts } from '../candidate/entries.ts'
import { groupOf, type Group } from '../service/host.ts'
import { isDropped } from '../service/constraints.ts'
import { fit, type Fit } from '../service/fit.ts'
import type { MemorySplit } from '../service/memory.ts'
import {
  aloneSeconds,
  batchSeconds,
  decodeStepSeconds,
  prefillStepSeconds,
  slowness,
  type Profile,
  type ProfileSource,
  type SoldProfile,
} from '../service/profile.ts'
import { wilson, type ShareInterval } from '../service/quality.ts'
import { sustainedRequestsPerSecond } from '../service/sustained.ts'
import { remediesFor, type Remedy } from './remedies.ts'

/** What one replica of a service is on one machine: how full, how fast, at what price, or why not at all. */
export interface FitRow {
  machine: string
  provider: string
  region: string
  device: string
  variant: string
  devices: number
  /** null where it is not for rent by the hour */
  pricePerHour: number | null
  /** machines that can be had, by stock and quota */
  obtainable: number
  stock: number
  quota: number | null
  availability: number | null
  /** the least that can be added to a fleet */
  group: Group
  memory: MemorySplit | null
  /** why it does not fit; null when it does */
  reason: string | null
  /** changes that make it fit, nearest first of each kind */
  remedies: Remedy[]
  /** false when the search leaves it out, though it may fit */
  searched: boolean
  source: ProfileSource | null
  /** what to know of the measurement behind it */
  notes: string[]
  quality: ShareInterval | null
  speed: Speed | null
  /**
   * answer tokens, or requests, that one unit of money sustains with every sequence busy, prompts included; 0 for what is free of charge
   * or does not fit
   */
  forMoney: number
}

export type Speed =
  | {
      kind: 'token'
      /** requests of the plan's mean length that the cache holds side by side */
      sequencesThatFit: number
      /** the largest sequence limit of the search that is used for the figures below */
      sequences: number
      aloneSecondsPerToken: number
      fullSecondsPerToken: number
      /**
       * requests, and answer tokens, per second of one replica with all its sequences busy with requests of the mean size, prompts
       * included
       */
      requestsPerSecond: number
      tokensPerSecond: number
      prefillSeconds: number
      meanTokens: number
    }
  | { kind: 'batch'; batch: number; aloneSeconds: number; fullBatchSeconds: number; requestsPerSecond: number; meanWork: number }

/** Every machine × variant × device count that the service's search may use, and those that it may not, with reasons and remedies. */
export function fitTable(plan: Plan, service: Service, requests: Requests): FitRow[] {
  const model = plan.models.find((m) => m.name === service.model)
  if (!model) return []
  const mean = meanSizes(requests)
  return plan.machines.flatMap((machine) =>
    model.variants.flatMap((variant) =>
      deviceCounts(service.search?.devices, machine, model)
        .filter((d) => d <= machine.devices || machine.hostLinkBytesPerSecond !== undefined)
        .map((devices) => fitRow(plan, service, model, variant, machine, devices, mean)),
    ),
  )
}

function fitRow(plan: Plan, service: Service, model: Model, variant: Variant, machine: Machine, devices: number, mean: Mean): FitRow {
  const fitting = capped(fit(plan, service, model, variant, machine, devices), service)
  const pricePerHour = surcharged(machine.pricePerHour, machine)
  const { name, provider, region, device, stock, quota, availability } = machine
  const at = { machine: name, variant: variant.name, devices }
  const limit = largestLimit(service, fitting)
  const group = groupOf(service, model, machine, devices, limit)
  const speed = fitting.fits ? speedOf((s) => fitting.profile({ sequences: s }), limit, mean) : null
  const replicaHour = pricePerHour === undefined ? NaN : (pricePerHour * group.machines) / group.replicas
  return {
    ...at,
    provider,
    region,
    device,
    pricePerHour: pricePerHour ?? null,
    stock,
    quota: quota ?? null,
    obtainable: obtainable(machine),
    availability: availability ?? null,
    group,
    memory: fitting.memory ?? null,
    reason: fitting.fits ? null : misfitSentence(fitting.misfit),
    remedies: fitting.fits ? [] : remediesFor(plan, service, model, at, fitting.misfit),
    searched: service.search ? !isDropped(service, machine, variant, devices) : isStated(service, machine, variant, devices),
    source: fitting.fits ? fitting.source : null,
    notes: notesOf(fitting),
    quality: variant.quality ? wilson(variant.quality.score, variant.quality.samples) : null,
    speed,
    forMoney: speed && replicaHour > 0 ? (rate(speed) * 3600) / replicaHour : 0,
  }
}

function notesOf(fitting: Fit): string[] {
  if (!fitting.fits) return []
  return fitting.calibration ? calibrationWords(fitting.calibration) : fitting.found ? [foundWords(fitting.found)] : []
}

const asked = (service: Service) => service.search?.sequences ?? [service.configuration?.sequences ?? 1]

/** A machine whose ceilings leave none of the sequence limits that are asked for does not fit as asked. */
function capped(fitting: Fit, service: Service): Fit {
  if (!fitting.fits || fitting.mostSequences >= Math.min(...asked(service))) return fitting
  return {
    fits: false,
    misfit: { kind: 'sequences', asked: Math.min(...asked(service)), most: fitting.mostSequences, boundBy: fitting.boundBy },
    ...(fitting.memory && { memory: fitting.memory }),
  }
}

/** The largest limit that is asked for and that there is room for. */
function largestLimit(service: Service, fitting: Fit): number {
  const most = fitting.fits ? fitting.mostSequences : Infinity
  return Math.max(...asked(service).filter((s) => s <= most), 1)
}

const rate = (speed: Speed) => (speed.kind === 'token' ? speed.tokensPerSecond : speed.requestsPerSecond)

export interface Mean {
  input: number
  output: number
}

export function meanSizes(requests: Requests): Mean {
  let input = 0
  let output = 0
  for (let i = 0; i < requests.count; i++) {
    input += requests.input[i]
    output += requests.output[i]
  }
  const n = Math.max(1, requests.count)
  return { input: input / n, output: output / n }
}

/** Nobody notices the others: half of the requests are no slower than this, however many there are. */
function soldSpeed({ firstToken, eachToken, secondsPerInputToken }: SoldProfile, limit: number, { input, output }: Mean): Speed {
  const prefillSeconds = firstToken.median + secondsPerInputToken * input
  const requestsPerSecond = limit / (prefillSeconds + Math.max(0, output - 1) * eachToken.median)
  return {
    kind: 'token',
    sequencesThatFit: limit,
    sequences: limit,
    meanTokens: input + output,
    fullSecondsPerToken: eachToken.median,
    aloneSecondsPerToken: eachToken.median,
    requestsPerSecond,
    tokensPerSecond: requestsPerSecond * output,
    prefillSeconds,
  }
}

/** Speed of one replica at the mean sizes, alone and with as many side by side as `limit` and its cache let in. */
export function speedOf(profileFor: (sequences: number) => Profile, limit: number, mean: Mean): Speed {
  const profile = profileFor(limit)
  if (profile.kind === 'shared') {
    const alone = aloneSeconds(profile, mean.input, Math.max(1, mean.output))
    const fullBatchSeconds = alone * slowness(profile, limit)
    return {
      kind: 'batch',
      batch: limit,
      meanWork: mean.input,
      aloneSeconds: alone,
      fullBatchSeconds,
      requestsPerSecond: limit / fullBatchSeconds,
    }
  }
  if (profile.kind === 'batch') {
    const fullBatchSeconds = batchSeconds(profile, limit, mean.input)
    return {
      kind: 'batch',
      batch: limit,
      meanWork: mean.input,
      aloneSeconds: batchSeconds(profile, 1, mean.input),
      fullBatchSeconds,
      requestsPerSecond: limit / fullBatchSeconds / Math.max(1, mean.output),
    }
  }
  const meanTokens = mean.input + mean.output
  if (profile.kind === 'sold') return soldSpeed(profile, limit, mean)
  const sequencesThatFit = Math.floor(profile.cacheTokens / Math.max(1, meanTokens))
  const sequences = Math.max(1, Math.min(limit, sequencesThatFit))
  const cachedEach = mean.input + mean.output / 2
  const fullSecondsPerToken = decodeStepSeconds(profile, sequences, sequences * cachedEach) / profile.tokensPerStep
  const requestsPerSecond = sustainedRequestsPerSecond(profile, sequences, mean)
  return {
    kind: 'token',
    sequencesThatFit,
    sequences,
    meanTokens,
    fullSecondsPerToken,
    aloneSecondsPerToken: decodeStepSeconds(profile, 1, cachedEach) / profile.tokensPerStep,
    requestsPerSecond,
    tokensPerSecond: requestsPerSecond * mean.output,
    prefillSeconds: prefillStepSeconds(profile, mean.input, square(mean.input)),
  }
}

const isStated = ({ configuration: c }: Service, machine: Machine, variant: Variant, devices: number) =>
  c !== undefined && c.machine === machine.name && c.variant === variant.name && (c.devices ?? 1) === devices
