import { readFileSync } from 'node:fs'
import { checkPlan } from '../src/plan/read.ts'
import type { Plan, RequestClass } from '../src/plan/schema.ts'

/** A class of one caller at a time. */
export const caller = (name: string, startSeconds: number): RequestClass => ({
  name,
  service: 'desk',
  arrivals: { kind: 'closed-loop', clients: 1, requestsPerClient: 1, thinkSeconds: 0, thinking: 'fixed', startSeconds, rampSeconds: 0 },
  work: { kind: 'fixed', value: 1 },
  targets: [],
})

/** A service that sleeps, on a machine that comes in 80 s, with an image of 15 s, weights of 30 s, 5 s of loading, 20 s of warm-up. */
export function sleeper(classes: RequestClass[], firstCaller: 'hold' | 'refuse', patienceSeconds?: number): Plan {
  const base = JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')) as Plan
  const machine = {
    ...{ name: 'm', provider: 'p', region: 'r', device: 'd', devices: 1, memoryBytesPerDevice: 80e9 },
    ...{ bandwidthBytesPerSecond: 1e12, arithmeticPerSecond: { 16: 1e14 }, pricePerHour: 1, stock: 4 },
  }
  return checkPlan({
    ...base,
    horizon: { ...base.horizon, seconds: 7 * 86_400 },
    repetitions: 1,
    classes: classes.map((c) => ({ ...c, ...(patienceSeconds !== undefined && { patienceSeconds }) })),
    machines: [machine],
    models: [
      {
        kind: 'given',
        name: 'given',
        weightBytes: 30e9,
        variants: [{ name: 'v', diskBytes: 30e9, profiles: [{ profile: { kind: 'batch', baseSeconds: 1, secondsPerWorkUnit: 0 } }] }],
      },
    ],
    services: [
      {
        name: 'desk',
        model: 'given',
        routing: 'least-busy',
        start: {
          machineSeconds: 80,
          imageBytes: 9e9,
          imageBytesPerSecond: 6e8,
          weights: { from: 'store', bytesPerSecond: 1e9 },
          loadBytesPerSecond: 6e9,
          warmupSeconds: 20,
        },
        policies: [{ name: 'sleeps', min: 0, max: 1, intervalSeconds: 600, idle: { seconds: 600, firstCaller } }],
        configuration: { machine: 'm', variant: 'v', sequences: 1, replicas: 1, policy: 'sleeps' },
      },
    ],
  })
}
