import type { Machine } from '../plan/schema.ts'
import { readQuantity, showQuantity, type QuantityKind } from '../units/quantity.ts'

type CellKind = QuantityKind | 'text' | 'counts' | 'sizes' | 'yes-no'
type CellValue = number | string | boolean | number[]

/** One column of a catalogue: how a field of a machine is called, typed, shown and put back. */
export interface MachineColumn {
  key: string
  head: string
  kind: CellKind
  needed: boolean
  /** what the field means, for those who ask */
  means: string
  get: (machine: Machine) => CellValue | undefined
  set: (machine: Machine, value: CellValue | undefined) => Machine
}

function field(key: keyof Machine, head: string, kind: CellKind, means: string, needed = false): MachineColumn {
  return {
    key,
    head,
    kind,
    needed,
    means,
    get: (machine) => machine[key] as CellValue | undefined, // the keys below are those of plain cells
    set: (machine, value) => without({ ...machine, [key]: value }, key, value),
  }
}

function ceiling(key: keyof NonNullable<Machine['ceilings']>, head: string, kind: CellKind, means: string): MachineColumn {
  return {
    key: `ceilings.${key}`,
    head,
    kind,
    needed: false,
    means,
    get: (machine) => machine.ceilings?.[key],
    set: (machine, value) => {
      const ceilings = without({ ...machine.ceilings, [key]: value }, key, value)
      return Object.keys(ceilings).length === 0 ? without({ ...machine, ceilings }, 'ceilings', undefined) : { ...machine, ceilings }
    },
  }
}

function arithmetic(bits: number): MachineColumn {
  const key = String(bits)
  return {
    key: `arithmeticPerSecond.${key}`,
    head: `${bits}-bit arithmetic`,
    kind: 'operations',
    needed: false,
    means: `operations a second of one device with ${bits} bits`,
    get: (machine) => machine.arithmeticPerSecond[key],
    set: (machine, value) => ({
      ...machine,
      arithmeticPerSecond: without({ ...machine.arithmeticPerSecond, [key]: value as number }, key, value),
    }), // a column of operations holds numbers
  }
}

function without<T extends object>(object: T, key: keyof T, value: unknown): T {
  if (value === undefined) delete object[key]
  return object
}

/** Every column of a catalogue, in the order in which people read one. */
export const MACHINE_COLUMNS: readonly MachineColumn[] = [
  field('name', 'name', 'text', 'what the offer is called; no two are called the same', true),
  field('provider', 'provider', 'text', 'who rents it out', true),
  field('region', 'region', 'text', 'where it stands', true),
  field('zone', 'zone', 'text', 'the part of the region'),
  field('device', 'device', 'text', 'the accelerator, or the processor where there is none', true),
  field('devices', 'devices', 'count', 'devices in one machine', true),
  field('splits', 'splits', 'counts', 'devices per replica that the machine allows, such as 1, 2, 4'),
  field('memoryBytesPerDevice', 'memory', 'bytes', 'memory of one device', true),
  field('bandwidthBytesPerSecond', 'bandwidth', 'byteRate', 'memory bandwidth of one device', true),
  ...[32, 16, 8, 4].map(arithmetic),
  field('linkBytesPerSecond', 'link', 'byteRate', 'between devices of one machine'),
  field('hopSeconds', 'hop', 'duration', 'latency of one exchange between devices'),
  field('hostLinkBytesPerSecond', 'host link', 'byteRate', 'between machines, for replicas over several'),
  field('hostHopSeconds', 'host hop', 'duration', 'latency of one exchange between machines'),
  field('hostCores', 'cores', 'number', 'cores of the host'),
  field('coreSpeed', 'core speed', 'number', 'speed of a core against those that CPU models are stated for'),
  field('hostMemoryBytes', 'host memory', 'bytes', 'memory of the host'),
  field('diskBytes', 'disk', 'bytes', 'local disk'),
  field('networkBytesPerSecond', 'network', 'byteRate', 'from outside to the machine'),
  field('pricePerHour', 'price', 'hourly', 'on demand, for the whole machine; empty where it is not for rent by the hour'),
  field('spotPerHour', 'spot price', 'hourly', 'where it may be taken away at any time'),
  field('spotMeanSeconds', 'spot mean time', 'duration', 'mean time until a spot machine is taken away'),
  field('spotNoticeSeconds', 'spot notice', 'duration', 'how long before it is told'),
  field('committedPerHour', 'committed price', 'hourly', 'paid always, used or not'),
  field('surchargeShare', 'surcharge', 'percent', 'of a managed service, on top of each of these prices'),
  field('surchargePerHour', 'surcharge an hour', 'hourly', 'and for every hour of a machine'),
  field('pricePerRequest', 'price a call', 'money', 'where calls are what is sold'),
  field('storagePerGigabyteMonth', 'disk price', 'money', 'a GB a month, also while stopped'),
  field('transferPerGigabyte', 'transfer price', 'money', 'a GB that a start fetches'),
  field('pricePerGigabyteSecond', 'memory time price', 'money', 'of calls: a GB for a second'),
  field('freeRequestsPerMonth', 'free calls', 'number', 'calls a month that cost nothing'),
  field('freeGigabyteSecondsPerMonth', 'free memory time', 'number', 'of calls: GB seconds a month'),
  field('keptSeconds', 'kept', 'duration', 'how long an instance without calls stays'),
  field('startIsPaid', 'start is paid', 'yes-no', 'yes: an instance that starts up is paid like a call'),
  field('billingStepSeconds', 'billing step', 'duration', 'paid time is rounded up to this'),
  field('billingMinimumSeconds', 'billing minimum', 'duration', 'paid at least'),
  field('provisioningSeconds', 'provisioning', 'duration', 'from the order until it is ready'),
  field('stock', 'stock', 'count', 'machines that can be had at once', true),
  field('quota', 'quota', 'count', 'machines that the account may have'),
  field('availability', 'availability', 'percent', 'share of the attempts to get one that succeed'),
  field('retrySeconds', 'retry', 'duration', 'between two attempts'),
  field('trust', 'trust', 'count', 'how far its host is to be trusted, on your own scale'),
  ceiling('packageBytes', 'package ceiling', 'bytes', 'largest files of a variant'),
  ceiling('memoryStepsBytes', 'memory steps', 'sizes', 'sizes in which memory is sold'),
  ceiling('concurrency', 'concurrency ceiling', 'count', 'requests side by side in a replica'),
  ceiling('replicas', 'replica ceiling', 'count', 'replicas of one service'),
  ceiling('accelerator', 'accelerator', 'yes-no', 'no: there is none behind the offer'),
  ceiling('oneModel', 'one model', 'yes-no', 'yes: only one service may use it'),
]

/** A cell that was read, emptied, or what is wrong with it. */
export type CellReading = { value: CellValue | undefined } | { complaint: string }

/** Reads the text of a cell; an empty one means that the field is left out. */
export function readCell({ kind, needed, head }: MachineColumn, text: string): CellReading {
  const words = text.trim()
  if (words === '') return needed ? { complaint: `${head} must not be empty.` } : { value: undefined }
  if (kind === 'text') return words.length <= 80 ? { value: words } : { complaint: 'At most 80 characters.' }
  if (kind === 'yes-no')
    return /^(yes|true|1)$/i.test(words)
      ? { value: true }
      : /^(no|false|0)$/i.test(words)
        ? { value: false }
        : { complaint: 'Type yes or no.' }
  if (kind === 'counts' || kind === 'sizes') return list(words, kind === 'counts' ? 'count' : 'bytes')
  const reading = readQuantity(words, kind)
  if ('value' in reading && reading.value < 0) return { complaint: 'Not below 0.' }
  return reading
}

function list(words: string, kind: QuantityKind): CellReading {
  const readings = words.split(/[,;]\s*/).map((part) => readQuantity(part, kind))
  const bad = readings.find((r) => 'complaint' in r)
  return bad ?? { value: readings.flatMap((r) => ('value' in r ? [r.value] : [])) }
}

/** What a cell shows: normalised, with its unit, exact enough to read back as itself. */
export function showCell({ kind, get }: MachineColumn, machine: Machine): string {
  const value = get(machine)
  if (value === undefined) return ''
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'string' || kind === 'text') return String(value)
  if (Array.isArray(value)) return value.map((v) => showQuantity(v, kind === 'sizes' ? 'bytes' : 'count')).join(', ')
  return showQuantity(value, kind as QuantityKind) // texts, lists and yes-no are done
}
