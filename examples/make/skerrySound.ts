import { PLAN_FORMAT, PLAN_VERSION, type Plan, type ScalingPolicy, type Start } from '@sandclock/core'
import { machines } from './catalogue.ts'
import { models } from './models.ts'

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

/** Machines come in a minute and a half, most of them; weights are fetched from one store by everybody who starts. */
const start = (imageBytes: number, warmupSeconds: number): Start => ({
  machineSeconds: 80,
  machineP95Seconds: 150,
  resumeSeconds: 35,
  imageBytes,
  imageBytesPerSecond: 0.6e9,
  weights: { from: 'store', bytesPerSecond: 0.8e9, totalBytesPerSecond: 2.4e9 },
  loadBytesPerSecond: 4e9,
  warmupSeconds,
  timeoutSeconds: 900,
})

/** More copies when more is in flight than each should have, fewer after ten quiet minutes. */
const follow = (target: number, min: number, max: number): ScalingPolicy => ({
  name: 'follows the tide',
  min,
  max,
  metrics: [{ metric: 'in-flight', target }],
  down: { stabilisationSeconds: 600 },
})

/** What many begin with: the host's processor, which has little to do however busy the accelerator is. */
const watchProcessor = (min: number, max: number): ScalingPolicy => ({
  name: 'watches the processor',
  min,
  max,
  metrics: [{ metric: 'host-cpu', target: 0.6 }],
})

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
  expectedGrowthPerMonth: 0.04,
  fixedCosts: [
    { name: 'a load balancer', perMonth: 36 },
    { name: 'logs and addresses', perMonth: 24 },
  ],
  budgetPerMonth: 4000,
  prepaid: 12_000,
  classes: [
    {
      name: 'pilot desk',
      service: 'pilot talk',
      arrivals: {
        kind: 'hourly',
        ratesPerSecond: hourly((h) => 0.03 + 2.7 * tide(h) * (0.35 + 0.65 * office(h)) + 0.25 * office(h)),
        spikes: storm(4),
      },
      input: { kind: 'lognormal', median: 520, p95: 1700, max: 6000 },
      output: { kind: 'lognormal', median: 380, p95: 1100, max: 2400 },
      patienceSeconds: 20,
      targets: [
        { measure: 'ttft', percentile: 95, seconds: 0.6, over: 'worst-hour' },
        { measure: 'tpot', percentile: 95, seconds: 0.045, over: 'worst-hour' },
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
  models,
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
      name: 'pilot talk',
      model: 'Curlew 14B',
      routing: 'least-busy',
      startupSeconds: 240,
      start: start(9e9, 40),
      policies: [follow(10, 1, 6), watchProcessor(1, 6)],
      limits: { maxPrefillTokens: 4096, queue: 400 },
      search: {
        purchases: ['on-demand', 'committed'],
        sequences: [16, 32, 64],
        devices: [1, 2, 4],
        qualityFloor: 0.8,
        licensedForProduction: true,
      },
    },
    {
      name: 'manifest desk',
      model: 'Dunlin 3B',
      routing: 'shared-queue',
      startupSeconds: 150,
      start: start(9e9, 25),
      policies: [{ ...follow(6, 0, 2), name: 'sleeps when nobody reads', idle: { seconds: 1800, firstCaller: 'hold' } }],
      limits: { maxPrefillTokens: 16384 },
      search: { purchases: ['on-demand', 'spot', 'per-request'], sequences: [8, 24], devices: [1, 2] },
    },
    {
      name: 'hull eyes',
      model: 'Turnstone eye',
      routing: 'shared-queue',
      startupSeconds: 90,
      start: start(5e9, 12),
      policies: [follow(1.6, 1, 8)],
      limits: { windowSeconds: 0.05 },
      search: { purchases: ['on-demand', 'committed', 'spot', 'per-request'], sequences: [1, 4, 8], devices: [1] },
    },
  ],
}
