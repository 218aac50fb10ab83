import type { Machine, Plan, Service } from '../plan/schema.ts'
import { misfitSentence } from '../explain/misfitSentence.ts'
import { fit } from '../service/fit.ts'
import type { MemorySplit } from '../service/memory.ts'
import { aloneSeconds, batchSeconds, decodeStepSeconds, prefillStepSeconds, slowness, type Profile } from '../service/profile.ts'
import type { Requests } from '../demand/requests.ts'

/** What one replica of a service is on one machine: how full, how fast, at what price, or why not at all. */
export interface FitRow {
  machine: string
  provider: string
  region: string
  device: string
  variant: string
  devices: number
  pricePerHour: number
  stock: number
  /** replicas that one machine holds */
  perMachine: number
  memory: MemorySplit | null
  /** why it does not fit; null when it does */
  reason: string | null
  speed: Speed | null
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
      /** answer tokens per second of one replica with all its sequences busy */
      tokensPerSecond: number
      prefillSeconds: number
      meanTokens: number
    }
  | { kind: 'batch'; batch: number; aloneSeconds: number; fullBatchSeconds: number; requestsPerSecond: number; meanWork: number }

/** Every machine × variant × device count that the service's search may use, and those that it may not, with reasons. */
export function fitTable(plan: Plan, service: Service, requests: Requests): FitRow[] {
  const model = plan.models.find((m) => m.name === service.model)
  if (!model) return []
  const mean = meanSizes(requests)
  const asked = service.search?.devices ?? [1, 2, 4, 8]
  const sequences = service.search?.sequences ?? [service.configuration?.sequences ?? 1]
  return plan.machines.flatMap((machine) =>
    model.variants.flatMap((variant) =>
      asked.filter((d) => d <= machine.devices).map((devices): FitRow => {
        const fitting = fit(plan, service, model, variant, machine, devices)
        return {
          ...names(machine), variant: variant.name, devices, perMachine: Math.max(1, Math.floor(machine.devices / devices)),
          memory: fitting.memory ?? null,
          reason: fitting.fits ? null : misfitSentence(fitting.misfit),
          speed: fitting.fits ? speed((s) => fitting.profile({ sequences: s }), Math.max(...sequences), mean) : null,
        }
      }),
    ),
  )
}

function names(machine: Machine) {
  const { name, provider, region, device, pricePerHour, stock } = machine
  return { machine: name, provider, region, device, pricePerHour, stock }
}

interface Mean {
  input: number
  output: number
}

function meanSizes(requests: Requests): Mean {
  let input = 0
  let output = 0
  for (let i = 0; i < requests.count; i++) {
    input += requests.input[i]
    output += requests.output[i]
  }
  const n = Math.max(1, requests.count)
  return { input: input / n, output: output / n }
}

function speed(profileFor: (sequences: number) => Profile, limit: number, mean: Mean): Speed {
  const profile = profileFor(limit)
  if (profile.kind === 'shared') {
    const alone = aloneSeconds(profile, mean.input, Math.max(1, mean.output))
    const fullBatchSeconds = alone * slowness(profile, limit)
    return { kind: 'batch', batch: limit, meanWork: mean.input, aloneSeconds: alone, fullBatchSeconds, requestsPerSecond: limit / fullBatchSeconds }
  }
  if (profile.kind === 'batch') {
    const fullBatchSeconds = batchSeconds(profile, limit, mean.input)
    return { kind: 'batch', batch: limit, meanWork: mean.input, aloneSeconds: batchSeconds(profile, 1, mean.input), fullBatchSeconds, requestsPerSecond: limit / fullBatchSeconds / Math.max(1, mean.output) }
  }
  const meanTokens = mean.input + mean.output
  const sequencesThatFit = Math.floor(profile.cacheTokens / Math.max(1, meanTokens))
  const sequences = Math.max(1, Math.min(limit, sequencesThatFit))
  const cachedEach = mean.input + mean.output / 2
  const fullSecondsPerToken = decodeStepSeconds(profile, sequences, sequences * cachedEach) / profile.tokensPerStep
  return {
    kind: 'token', sequencesThatFit, sequences, meanTokens, fullSecondsPerToken,
    aloneSecondsPerToken: decodeStepSeconds(profile, 1, cachedEach) / profile.tokensPerStep,
    tokensPerSecond: sequences / fullSecondsPerToken,
    prefillSeconds: prefillStepSeconds(profile, mean.input, mean.input ** 2),
  }
}
