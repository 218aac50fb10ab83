import { configured } from '../../answer/configured.ts'
import { emptyRequests } from '../../demand/requests.ts'
import { Outcome } from '../../engine/outcome.ts'
import { checkPlan } from '../../plan/read.ts'
import { PLAN_FORMAT, PLAN_VERSION, type Plan } from '../../plan/schema.ts'
import { run } from '../../run/run.ts'
import type { RunSpec } from '../../run/spec.ts'
import type { TokenSpec } from '../../service/measured/stepCoefficients.ts'

/** What of a service its step costs do not say. */
export interface Served {
  replicas: number
  /** side by side in one replica */
  sequences: number
  /** prompts in steps of their own, or in chunks beside those that are being answered */
  prompts: 'whole' | 'interleaved'
}

/** A request that was sent: when, and what it asked for. */
export interface Sent {
  seconds: number
  input: number
  output: number
}

/** What the engine has for each of them; NaN where it does not finish. */
export interface Replayed {
  firstToken: Float64Array
  end: Float64Array
}

/** Memory is no matter: what was measured was served. */
const ROOM = 1e12
const NAME = 'measured'
/** Beyond the end of whatever was measured. */
const LONG_SECONDS = 30 * 86_400

/**
 * The same requests through the engine, at the times at which they were sent.
 *
 * @param sent in order of their times
 */
export function replay(sent: readonly Sent[], spec: TokenSpec, served: Served): Replayed {
  const { plan, of } = readied(spec, served)
  const requests = emptyRequests(sent.length)
  const from = sent.at(0)?.seconds ?? 0
  sent.forEach(({ seconds, input, output }, i) => {
    requests.at[i] = seconds - from
    requests.input[i] = input
    requests.output[i] = output
    requests.id[i] = i
  })
  const { record } = run(plan, of, requests, { toTheEnd: true })
  const known = (times: Float64Array) => times.map((t, i) => (record.outcome[i] === Outcome.finished ? t + from : NaN))
  return { firstToken: known(record.firstToken), end: known(record.end) }
}

/** A plan of one service with these step costs and room for everything, ready to be run. */
export function readied(spec: TokenSpec, { replicas, sequences, prompts }: Served): { plan: Plan; of: RunSpec } {
  const plan = checkPlan({
    format: PLAN_FORMAT,
    version: PLAN_VERSION,
    name: NAME,
    currency: 'EUR',
    horizon: { start: '2027-03-01T00:00:00Z', seconds: LONG_SECONDS, warmupSeconds: 0 },
    seed: 1,
    repetitions: 1,
    margin: 0,
    classes: [
      {
        name: NAME,
        service: NAME,
        arrivals: { kind: 'steady', ratePerSecond: 1 },
        input: { kind: 'fixed', value: 1 },
        output: { kind: 'fixed', value: 1 },
        targets: [],
      },
    ],
    models: [],
    machines: [],
    assumptions: {
      memoryEfficiency: 0.7,
      arithmeticEfficiency: 0.45,
      launchSeconds: 0,
      memoryShare: 0.9,
      reserveBytesPerDevice: 0,
      source: NAME,
    },
    services: [
      {
        name: NAME,
        routing: 'least-busy',
        startupSeconds: 0,
        limits: { prompts, ...(prompts === 'whole' && { maxPrefillTokens: 8192 }) },
        configuration: { sequences, replicas, pricePerReplicaHour: 0, profile: { ...spec, cacheTokens: ROOM } },
      },
    ],
  })
  const [service] = plan.services
  const ready = configured(plan, service, service.configuration!)
  if (!ready.ok) throw new Error('what states its own step costs can be had')
  return { plan, of: ready.spec }
}
