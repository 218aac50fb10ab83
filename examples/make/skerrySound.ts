import { PLAN_FORMAT, PLAN_VERSION, type Machine, type Plan } from '@sandclock/core'

/** The week of the demo: Monday to Sunday. */
const HOURS = 168
/** High water comes about 12 h 25 min apart, so 50 minutes later every day. */
const TIDE_HOURS = 12 + 25 / 60
const FIRST_HIGH_WATER_HOUR = 4.5

/** 0…1: how near the middle of an hour is to high water; ships move in a window of about two hours. */
function tide(hour: number): number {
  const phase = (((hour + 0.5 - FIRST_HIGH_WATER_HOUR) % TIDE_HOURS) + TIDE_HOURS) % TIDE_HOURS
  const away = Math.min(phase, TIDE_HOURS - phase)
  return Math.exp(-((away / 1.1) ** 2))
}

/** 0…1: office hours of a working day, low on the week-end. */
function office(hour: number): number {
  const day = Math.floor(hour / 24)
  const clock = hour % 24
  const open = clock >= 7 && clock < 18 ? Math.sin((Math.PI * (clock - 6.5)) / 12) : 0
  return open * (day < 5 ? 1 : 0.25)
}

const round = (x: number) => Math.round(x * 1000) / 1000
const hourly = (rate: (hour: number) => number) => Array.from({ length: HOURS }, (_, h) => round(rate(h)))

/** Thursday 18:00 until 22:30, over the evening's high water: the storm. */
const storm = (factor: number) => [{ startSeconds: (3 * 24 + 18) * 3600, durationSeconds: 4.5 * 3600, factor }]

const machine = (
  name: string, provider: string, region: string, device: keyof typeof DEVICES, devices: number, pricePerHour: number, stock: number,
): Machine => ({ name, provider, region, device, devices, ...DEVICES[device], pricePerHour, stock })

const DEVICES = {
  'Gabbro 24': {
    memoryBytesPerDevice: 24e9, bandwidthBytesPerSecond: 0.6e12, arithmeticPerSecond: { '16': 120e12, '8': 240e12 },
    linkBytesPerSecond: 25e9, hopSeconds: 8e-6,
  },
  'Gabbro 48': {
    memoryBytesPerDevice: 48e9, bandwidthBytesPerSecond: 0.87e12, arithmeticPerSecond: { '16': 180e12, '8': 360e12 },
    linkBytesPerSecond: 30e9, hopSeconds: 8e-6,
  },
  'Dolerite 96': {
    memoryBytesPerDevice: 96e9, bandwidthBytesPerSecond: 3.2e12, arithmeticPerSecond: { '16': 850e12, '8': 1700e12, '4': 3400e12 },
    linkBytesPerSecond: 400e9, hopSeconds: 4e-6,
  },
  'Slate CPU': { memoryBytesPerDevice: 256e9, bandwidthBytesPerSecond: 0.3e12, arithmeticPerSecond: { '16': 5e12 } },
}

const machines: Machine[] = [
  machine('Northquay pebble', 'Northquay', 'north', 'Gabbro 24', 1, 1.12, 40),
  machine('Northquay cairn', 'Northquay', 'north', 'Gabbro 24', 4, 4.3, 10),
  machine('Northquay ledge', 'Northquay', 'north', 'Gabbro 48', 1, 1.94, 24),
  machine('Northquay stack', 'Northquay', 'north', 'Dolerite 96', 1, 4.9, 8),
  machine('Northquay headland', 'Northquay', 'north', 'Dolerite 96', 8, 37, 2),
  machine('Fenland single', 'Fenland', 'wash', 'Gabbro 24', 1, 0.89, 3),
  machine('Fenland pair', 'Fenland', 'wash', 'Gabbro 48', 2, 3.5, 12),
  machine('Fenland quad', 'Fenland', 'wash', 'Gabbro 48', 4, 6.8, 6),
  machine('Tarn one', 'Tarn', 'upland', 'Gabbro 48', 1, 1.71, 2),
  machine('Tarn great', 'Tarn', 'upland', 'Dolerite 96', 2, 8.6, 4),
  machine('Tarn plain', 'Tarn', 'upland', 'Slate CPU', 1, 0.42, 60),
]

const variant = (name: string, bytesPerWeight: number, arithmeticBits: number) => ({ name, bytesPerWeight, bytesPerCacheElement: 2, arithmeticBits })
const variants = [variant('16-bit', 2, 16), variant('8-bit', 1.02, 8), variant('4-bit', 0.56, 16)]

const eye = (device: keyof typeof DEVICES, baseSeconds: number, secondsPerWorkUnit: number) =>
  machines.filter((m) => m.device === device).map((m) => ({ machine: m.name, devices: 1, profile: { kind: 'batch' as const, baseSeconds, secondsPerWorkUnit } }))

/** The demo plan: a port authority whose load follows the tide. Every name and figure is made up. */
export const skerrySound: Plan = {
  format: PLAN_FORMAT,
  version: PLAN_VERSION,
  name: 'Skerry Sound Harbour Office',
  note: 'An invented port authority. Load follows the tide and the office; a storm crosses on Thursday night.',
  currency: 'EUR',
  horizon: { start: '2027-03-01T00:00:00Z', seconds: HOURS * 3600, warmupSeconds: 1800 },
  seed: 1,
  repetitions: 3,
  margin: 0.1,
  classes: [
    {
      name: 'pilot desk',
      service: 'pilot talk',
      arrivals: { kind: 'hourly', ratesPerSecond: hourly((h) => 0.03 + 2.7 * tide(h) * (0.35 + 0.65 * office(h)) + 0.25 * office(h)), spikes: storm(4) },
      input: { kind: 'lognormal', median: 520, p95: 1700, max: 6000 },
      output: { kind: 'lognormal', median: 380, p95: 1100, max: 2400 },
      patienceSeconds: 20,
      targets: [
        { measure: 'ttft', percentile: 95, seconds: 0.6 },
        { measure: 'tpot', percentile: 95, seconds: 0.045 },
        { measure: 'lost', share: 0.002 },
      ],
    },
    {
      name: 'manifest reader',
      service: 'manifest desk',
      arrivals: { kind: 'hourly', ratesPerSecond: hourly((h) => 0.01 + 0.25 * office(h) + 0.65 * tide(h) * office(h)) },
      input: { kind: 'lognormal', median: 3200, p95: 9000, max: 24000 },
      output: { kind: 'lognormal', median: 220, p95: 600, max: 2000 },
      targets: [{ measure: 'latency', percentile: 99, seconds: 30 }],
    },
    {
      name: 'hull watch',
      service: 'hull eyes',
      arrivals: { kind: 'hourly', ratesPerSecond: hourly((h) => 0.03 + 5.2 * tide(h) * (0.5 + 0.5 * office(h))), spikes: storm(2) },
      work: { kind: 'lognormal', median: 20, p95: 34, max: 60 },
      targets: [
        { measure: 'latency', percentile: 95, seconds: 2 },
        { measure: 'lost', share: 0.001 },
      ],
    },
  ],
  models: [
    {
      kind: 'dense', name: 'Curlew 14B', parameters: 14e9, layers: 40, width: 5120, keyValueHeads: 8, headSize: 128,
      contextTokens: 32768, activationBytes: 1.2e9, variants,
    },
    {
      kind: 'dense', name: 'Dunlin 3B', parameters: 3.1e9, layers: 28, width: 3072, keyValueHeads: 8, headSize: 96,
      contextTokens: 32768, activationBytes: 0.8e9, variants: variants.slice(0, 2),
    },
    {
      kind: 'given', name: 'Turnstone eye', weightBytes: 5.2e9,
      variants: [{ name: '16-bit', profiles: [...eye('Gabbro 24', 0.09, 0.021), ...eye('Gabbro 48', 0.08, 0.0145), ...eye('Dolerite 96', 0.06, 0.0042), ...eye('Slate CPU', 0.4, 0.62)] }],
    },
  ],
  machines,
  assumptions: {
    memoryEfficiency: 0.7,
    arithmeticEfficiency: 0.45,
    launchSeconds: 0.003,
    memoryShare: 0.9,
    reserveBytesPerDevice: 0.8e9,
    source: 'Round figures that well-tuned servers of dense models reach; replace them by measurements of your own.',
  },
  services: [
    {
      name: 'pilot talk', model: 'Curlew 14B', routing: 'least-busy', startupSeconds: 240, limits: { maxPrefillTokens: 4096, queue: 400 },
      search: { sequences: [16, 32, 64], devices: [1, 2, 4] },
    },
    {
      name: 'manifest desk', model: 'Dunlin 3B', routing: 'shared-queue', startupSeconds: 150, limits: { maxPrefillTokens: 16384 },
      search: { sequences: [8, 24], devices: [1, 2] },
    },
    {
      name: 'hull eyes', model: 'Turnstone eye', routing: 'shared-queue', startupSeconds: 90, limits: { windowSeconds: 0.05 },
      search: { sequences: [1, 4, 8], devices: [1] },
    },
  ],
}
