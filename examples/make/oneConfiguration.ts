import { PLAN_FORMAT, PLAN_VERSION, type Plan } from '@sandclock/core'
import { skerrySound } from './skerrySound.ts'

/** Exactly one configuration with typed-in coefficients, for comparing Sand Clock with another reckoning request by request. */
export const oneConfiguration: Plan = {
  format: PLAN_FORMAT,
  version: PLAN_VERSION,
  name: 'One configuration',
  note: 'Two replicas with given coefficients, simulated as they stand: sandclock simulate examples/one-configuration.json --per-request out.csv',
  currency: 'EUR',
  horizon: { start: '2027-03-01T00:00:00Z', seconds: 3600, warmupSeconds: 0 },
  seed: 1,
  repetitions: 10,
  margin: 0,
  classes: [
    {
      name: 'pilot desk',
      service: 'talk',
      arrivals: { kind: 'steady', ratePerSecond: 2 },
      input: { kind: 'lognormal', median: 600, p95: 2200 },
      output: { kind: 'lognormal', median: 180, p95: 560 },
      patienceSeconds: 30,
      targets: [{ measure: 'ttft', percentile: 95, seconds: 0.6 }],
    },
  ],
  models: [],
  machines: [],
  assumptions: skerrySound.assumptions,
  services: [
    {
      name: 'talk',
      routing: 'least-busy',
      startupSeconds: 0,
      limits: { queue: 200, maxPrefillTokens: 8192 },
      configuration: {
        sequences: 48,
        replicas: 2,
        pricePerReplicaHour: 2.5,
        profile: {
          kind: 'token',
          memorySeconds: 0.012,
          cacheSecondsPerToken: 1.2e-7,
          arithmeticSeconds: { base: 0, perSequence: 4e-4 },
          overheadSeconds: { base: 0.002, perSequence: 5e-5 },
          prefillBaseSeconds: 0.006,
          prefillMemorySeconds: 0.012,
          prefillSecondsPerToken: 9e-5,
          prefillSecondsPerTokenSquared: 2e-10,
          cacheTokens: 120000,
        },
      },
    },
  ],
}
