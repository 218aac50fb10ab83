import type { Assumptions, Start } from '../plan/schema.ts'

const startUp: Start = {
  machineSeconds: 90,
  machineP95Seconds: 180,
  imageBytes: 8e9,
  imageBytesPerSecond: 0.6e9,
  weights: { from: 'store', bytesPerSecond: 0.8e9, totalBytesPerSecond: 2.4e9 },
  loadBytesPerSecond: 4e9,
  warmupSeconds: 30,
  timeoutSeconds: 900,
}
const efficiency: Assumptions = {
  memoryEfficiency: 0.7,
  arithmeticEfficiency: 0.45,
  launchSeconds: 0.003,
  memoryShare: 0.9,
  reserveBytesPerDevice: 0.8e9,
  source: 'Round figures that well-tuned servers reach; replace them by measurements of your own.',
}

/** What a beginning does not ask for. Each is in the plan, and can be changed there. */
export const ASSUMED = {
  start: '2027-03-01T00:00:00Z',
  horizonSeconds: 7 * 86_400,
  warmupSeconds: 1800,
  repetitions: 3,
  margin: 0.1,
  percentile: 95,
  p95OverMedian: 3,
  maxOverMedian: 6,
  secondsPerToken: 0.05,
  lostShare: 0.002,
  mostCopies: 12,
  idleSeconds: 1800,
  stabilisationSeconds: 300,
  queue: 500,
  startUp,
  efficiency,
} as const
