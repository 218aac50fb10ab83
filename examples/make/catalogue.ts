import type { Machine } from '@sandclock/core'

const GB = 1e9
const TB = 1e12

/** Accelerators are rocks. The first series of Gabbro 24 is older: slower, and without 8-bit arithmetic. */
const DEVICES = {
  'Gabbro 24': {
    memoryBytesPerDevice: 24 * GB,
    bandwidthBytesPerSecond: 0.6 * TB,
    arithmeticPerSecond: { '16': 120e12, '8': 240e12 },
    linkBytesPerSecond: 25 * GB,
    hopSeconds: 8e-6,
  },
  'Gabbro 24, first series': {
    memoryBytesPerDevice: 24 * GB,
    bandwidthBytesPerSecond: 0.45 * TB,
    arithmeticPerSecond: { '16': 70e12 },
    linkBytesPerSecond: 16 * GB,
    hopSeconds: 1e-5,
  },
  'Gabbro 48': {
    memoryBytesPerDevice: 48 * GB,
    bandwidthBytesPerSecond: 0.87 * TB,
    arithmeticPerSecond: { '16': 180e12, '8': 360e12 },
    linkBytesPerSecond: 30 * GB,
    hopSeconds: 8e-6,
  },
  'Dolerite 96': {
    memoryBytesPerDevice: 96 * GB,
    bandwidthBytesPerSecond: 3.2 * TB,
    arithmeticPerSecond: { '16': 850e12, '8': 1700e12, '4': 3400e12 },
    linkBytesPerSecond: 400 * GB,
    hopSeconds: 4e-6,
  },
  'Slate CPU': { memoryBytesPerDevice: 256 * GB, bandwidthBytesPerSecond: 0.3 * TB, arithmeticPerSecond: { '16': 5e12 } },
}
type Device = keyof typeof DEVICES

interface Place {
  provider: string
  region: string
  zone?: string
}
const NORTH: Place = { provider: 'Northquay', region: 'north', zone: 'north a' }
const FIRTH: Place = { provider: 'Northquay', region: 'firth', zone: 'firth a' }
const WASH: Place = { provider: 'Fenland', region: 'wash' }
const UPLAND: Place = { provider: 'Tarn', region: 'upland' }

const machine = (
  name: string,
  place: Place,
  device: Device,
  devices: number,
  pricePerHour: number,
  stock: number,
  more: Partial<Machine> = {},
): Machine => ({ name, ...place, device, devices, ...DEVICES[device], ...DISK[place.provider], pricePerHour, stock, ...more })

const host = (hostCores: number, gigabytes: number, networkGigabits: number): Partial<Machine> => ({
  hostCores,
  hostMemoryBytes: gigabytes * GB,
  diskBytes: gigabytes * 4 * GB,
  networkBytesPerSecond: (networkGigabits * GB) / 8,
})
/** Machines that can be joined over a fast network. */
const joined = (gigabits: number): Partial<Machine> => ({ hostLinkBytesPerSecond: (gigabits * GB) / 8, hostHopSeconds: 2.5e-5 })
/** A disk and what crosses the border of a region, as each provider prices them. */
const DISK: Record<string, Partial<Machine>> = {
  Northquay: { storagePerGigabyteMonth: 0.09, transferPerGigabyte: 0.01 },
  Fenland: { storagePerGigabyteMonth: 0.05 },
  Tarn: { storagePerGigabyteMonth: 0.12, transferPerGigabyte: 0.02 },
}
/** Spot machines by how often they are taken away. */
const spot = (spotPerHour: number, meanHours: number): Partial<Machine> => ({
  spotPerHour,
  spotMeanSeconds: meanHours * 3600,
  spotNoticeSeconds: 120,
})
const minute = { billingStepSeconds: 60, billingMinimumSeconds: 600 }

/** The made-up market of the demo: three providers, four regions. Large against small, old against new, spot where machines are scarce. */
export const machines: Machine[] = [
  machine('Northquay pebble', NORTH, 'Gabbro 24', 1, 1.12, 40, {
    ...host(8, 64, 10),
    ...spot(0.46, 30),
    committedPerHour: 0.71,
    availability: 0.98,
  }),
  machine('Northquay cairn', NORTH, 'Gabbro 24', 4, 4.3, 10, {
    ...host(32, 256, 25),
    splits: [1, 2, 4],
    ...spot(1.8, 40),
    committedPerHour: 2.75,
    availability: 0.95,
  }),
  machine('Northquay ledge', NORTH, 'Gabbro 48', 1, 1.94, 24, {
    ...host(12, 96, 10),
    ...spot(0.84, 18),
    committedPerHour: 1.22,
    availability: 0.97,
  }),
  machine('Northquay stack', NORTH, 'Dolerite 96', 1, 4.9, 8, {
    ...host(24, 192, 50),
    ...joined(200),
    quota: 8,
    committedPerHour: 3.1,
    availability: 0.7,
  }),
  machine('Northquay headland', NORTH, 'Dolerite 96', 8, 37, 2, {
    ...host(192, 1500, 400),
    ...joined(1600),
    splits: [1, 2, 4, 8],
    quota: 2,
    committedPerHour: 23.5,
    availability: 0.45,
  }),
  machine('Northquay gravel', NORTH, 'Slate CPU', 1, 0.44, 80, {
    ...host(32, 256, 10),
    coreSpeed: 1,
    committedPerHour: 0.28,
    availability: 1,
  }),
  machine('Northquay call', NORTH, 'Gabbro 24', 1, 2.35, 12, {
    ...host(4, 32, 5),
    pricePerRequest: 0.00002,
    pricePerGigabyteSecond: 0.000034,
    freeRequestsPerMonth: 100_000,
    freeGigabyteSecondsPerMonth: 50_000,
    keptSeconds: 300,
    startIsPaid: true,
    billingStepSeconds: 1,
    availability: 1,
    ceilings: { packageBytes: 16 * GB, concurrency: 8, replicas: 12, oneModel: true },
  }),
  machine('Firth pebble', FIRTH, 'Gabbro 24', 1, 1.06, 14, { ...host(8, 64, 10), ...spot(0.39, 9), availability: 0.9 }),
  machine('Firth ledge', FIRTH, 'Gabbro 48', 1, 1.86, 6, { ...host(12, 96, 10), quota: 4, ...spot(0.72, 7), availability: 0.75 }),
  machine('Firth stack', FIRTH, 'Dolerite 96', 1, 5.2, 3, { ...host(24, 192, 50), quota: 2, ...spot(1.9, 4), availability: 0.3 }),
  machine('Fenland single', WASH, 'Gabbro 24', 1, 0.89, 3, { ...host(6, 48, 5), ...minute, availability: 0.85 }),
  machine('Fenland twin', WASH, 'Gabbro 24', 2, 1.78, 9, { ...host(12, 96, 10), ...minute, committedPerHour: 1.15, availability: 0.85 }),
  machine('Fenland old eight', WASH, 'Gabbro 24, first series', 8, 4.1, 5, {
    ...host(64, 256, 10),
    ...minute,
    splits: [1, 2, 4, 8],
    availability: 0.99,
  }),
  machine('Fenland old single', WASH, 'Gabbro 24, first series', 1, 0.55, 30, { ...host(6, 32, 2), ...minute, availability: 1 }),
  machine('Fenland pair', WASH, 'Gabbro 48', 2, 3.5, 12, { ...host(24, 192, 10), ...minute, availability: 0.9 }),
  machine('Fenland quad', WASH, 'Gabbro 48', 4, 6.8, 6, { ...host(48, 384, 25), ...minute, splits: [1, 2, 4], availability: 0.9 }),
  machine('Fenland tower', WASH, 'Dolerite 96', 4, 17.6, 2, {
    ...host(96, 768, 100),
    ...joined(400),
    ...minute,
    ...spot(6.9, 6),
    availability: 0.25,
  }),
  machine('Fenland spade', WASH, 'Slate CPU', 1, 0.39, 20, { ...host(24, 128, 5), ...minute, coreSpeed: 0.85, availability: 1 }),
  machine('Tarn one', UPLAND, 'Gabbro 48', 1, 1.71, 2, { ...host(12, 96, 10), availability: 0.6 }),
  machine('Tarn tiny', UPLAND, 'Gabbro 24', 1, 0.98, 5, { ...host(6, 48, 5), availability: 0.7 }),
  machine('Tarn four', UPLAND, 'Gabbro 48', 4, 6.5, 2, { ...host(48, 384, 25), ...joined(100), availability: 0.6 }),
  machine('Tarn great', UPLAND, 'Dolerite 96', 2, 8.6, 4, {
    ...host(48, 384, 100),
    ...joined(200),
    committedPerHour: 6,
    availability: 0.5,
  }),
  machine('Tarn summit', UPLAND, 'Dolerite 96', 8, 34.5, 1, {
    ...host(192, 1500, 200),
    ...joined(800),
    splits: [2, 4, 8],
    availability: 0.2,
  }),
  machine('Tarn plain', UPLAND, 'Slate CPU', 1, 0.42, 60, { ...host(48, 256, 10), coreSpeed: 0.9, availability: 1 }),
  machine('Tarn call', UPLAND, 'Slate CPU', 1, 0.61, 200, {
    ...host(6, 10, 2),
    coreSpeed: 0.9,
    pricePerRequest: 0.0000004,
    pricePerGigabyteSecond: 0.000015,
    freeRequestsPerMonth: 1_000_000,
    freeGigabyteSecondsPerMonth: 400_000,
    keptSeconds: 420,
    billingStepSeconds: 0.001,
    availability: 1,
    ceilings: { packageBytes: 10 * GB, memoryStepsBytes: [1 * GB, 2 * GB, 4 * GB, 8 * GB, 10 * GB], concurrency: 1, accelerator: false },
  }),
]
