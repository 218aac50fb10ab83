import type { RunRecord } from '../engine/record.ts'
import { Stage, type LifeRecord } from '../life/startRules.ts'
import type { Assumptions, Machine, Model, Variant } from '../plan/schema.ts'
import { cpuBytes } from '../service/host.ts'
import { memorySplit, memoryStepBytes, needsOf } from '../service/memory.ts'
import { bitsOf } from '../service/variant.ts'
import { HOURS_PER_MONTH } from './money.ts'

/** What calls cost where calls are what is sold: each by itself, and the time of an instance by its memory. In the plan's currency. */
export interface CallPrices {
  perCall: number
  perGigabyteSecond: number
  /** memory of an instance that is paid */
  gigabytes: number
  freeCallsPerMonth: number
  freeGigabyteSecondsPerMonth: number
  /** the time of a start-up, from the image on, is paid as well */
  startIsPaid: boolean
  /** a stretch of paid time is rounded up to this */
  stepSeconds: number
}

/** What was called in a run, over its horizon. */
export interface Calls {
  calls: number
  /** in which instances had calls, each stretch rounded up, and in which they started up */
  busySeconds: number
  startSeconds: number
}

const GIGABYTE = 1e9

/** @param sequences calls side by side in one instance */
export function callPrices(
  machine: Machine,
  model: Model,
  variant: Variant,
  assumptions: Assumptions,
  devices: number,
  sequences: number,
): CallPrices | null {
  if (machine.pricePerRequest === undefined) return null
  return {
    perCall: machine.pricePerRequest,
    perGigabyteSecond: machine.pricePerGigabyteSecond ?? 0,
    gigabytes: instanceBytes(machine, model, variant, assumptions, devices, sequences) / GIGABYTE,
    freeCallsPerMonth: machine.freeRequestsPerMonth ?? 0,
    freeGigabyteSecondsPerMonth: machine.freeGigabyteSecondsPerMonth ?? 0,
    startIsPaid: machine.startIsPaid ?? false,
    stepSeconds: machine.billingStepSeconds ?? 1,
  }
}

/**
 * Memory of an instance. Where it is sold in steps the smallest that is enough: for a model with a cache what its devices
 * have, for others what it needs with all its requests side by side. Elsewhere all of the devices, or of the host.
 */
function instanceBytes(
  machine: Machine,
  model: Model,
  variant: Variant,
  assumptions: Assumptions,
  devices: number,
  sequences: number,
): number {
  const inSteps = machine.ceilings?.memoryStepsBytes !== undefined
  if (model.kind === 'cpu')
    return inSteps ? memoryStepBytes(machine, cpuBytes(model, sequences)) : (machine.hostMemoryBytes ?? cpuBytes(model, sequences))
  const hasCache = model.kind === 'dense' || model.kind === 'experts'
  const ofDevices = machine.memoryBytesPerDevice * devices
  if (!inSteps || hasCache) return memoryStepBytes(machine, ofDevices)
  const memory = memorySplit(needsOf(model, model.kind === 'given' ? undefined : bitsOf(variant, false)), machine, devices, assumptions)
  return memoryStepBytes(
    machine,
    (memory.weightBytes + memory.activationBytes + memory.reserveBytes + sequences * memory.bytesPerItem) / assumptions.memoryShare,
  )
}

/** Counts what a run called. The time from when an instance has a call until it has none is one stretch, rounded up as one. */
export function callsOf(record: RunRecord, life: LifeRecord, { stepSeconds }: CallPrices): Calls {
  const { replica, start, end, endSeconds } = record
  const order = inOrderOfStart(start)
  const instances = replica.reduce((most, r) => Math.max(most, r + 1), 0)
  const since = new Float64Array(instances)
  const until = new Float64Array(instances).fill(-Infinity)
  let busySeconds = 0
  const close = (r: number) => (busySeconds += Math.ceil((until[r] - since[r]) / stepSeconds - 1e-9) * stepSeconds)
  for (const i of order) {
    const r = replica[i]
    const stop = end[i] === end[i] ? end[i] : endSeconds
    if (start[i] > until[r]) {
      if (until[r] > -Infinity) close(r)
      since[r] = start[i]
    }
    if (stop > until[r]) until[r] = stop
  }
  for (let r = 0; r < instances; r++) if (until[r] > -Infinity) close(r)
  return { calls: order.length, busySeconds, startSeconds: startSecondsOf(life, endSeconds) }
}

/** Who comes so many places late on the average is not worth moving one place at a time. */
const FEW_MOVES = 16

/**
 * Requests that were started, by their start, ties by number. They begin nearly in the order in which they come: few have to move, and not
 * far.
 */
function inOrderOfStart(start: Float64Array): Int32Array {
  const order = new Int32Array(start.length)
  let count = 0
  let moves = FEW_MOVES * start.length
  for (let i = 0; i < start.length; i++) {
    const at = start[i]
    if (at !== at) continue
    let place = count++
    for (; moves > 0 && place > 0 && start[order[place - 1]] > at; place--, moves--) order[place] = order[place - 1]
    order[place] = i
  }
  const started = order.subarray(0, count)
  return moves > 0 ? started : started.sort((a, b) => start[a] - start[b] || a - b)
}

/** From the image to ready, or to where a start-up ended before it was. */
function startSecondsOf(life: LifeRecord, endSeconds: number): number {
  const since = new Map<number, number>()
  let total = 0
  for (const { replica, stage, seconds } of life.events) {
    if (stage === Stage.image && !since.has(replica)) since.set(replica, seconds)
    else if (since.has(replica) && (stage === Stage.ready || stage === Stage.none)) {
      total += seconds - (since.get(replica) ?? seconds)
      since.delete(replica)
    }
  }
  for (const from of since.values()) total += endSeconds - from
  return total
}

/** What calls cost an hour, the month's free allowance taken off. */
export function callsPerHour({ calls, busySeconds, startSeconds }: Calls, prices: CallPrices, horizonSeconds: number): number {
  const months = horizonSeconds / 3600 / HOURS_PER_MONTH
  const gigabyteSeconds = (busySeconds + (prices.startIsPaid ? startSeconds : 0)) * prices.gigabytes
  const paidCalls = Math.max(0, calls / months - prices.freeCallsPerMonth)
  const paidSeconds = Math.max(0, gigabyteSeconds / months - prices.freeGigabyteSecondsPerMonth)
  return (paidCalls * prices.perCall + paidSeconds * prices.perGigabyteSecond) / HOURS_PER_MONTH
}
