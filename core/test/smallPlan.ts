import { PLAN_FORMAT, PLAN_VERSION, type Plan } from '../src/plan/schema.ts'
import type { RandomStream } from '../src/random/stream.ts'

/** A small plan with random load, machines and targets: a few dozen candidates, some of them impossible. */
export function smallPlan(random: RandomStream, number: number): Plan {
  const between = (low: number, high: number) => low + (high - low) * random.next()
  const one = <T>(list: readonly T[]) => list[Math.floor(random.next() * list.length)]
  const machine = (name: string, devices: number, memory: number, speed: number, pricePerHour: number, stock: number) => ({
    name,
    provider: 'Northquay',
    region: 'north',
    device: `Gabbro ${memory}`,
    devices,
    memoryBytesPerDevice: memory * 1e9,
    bandwidthBytesPerSecond: speed * 1e12,
    arithmeticPerSecond: { '16': speed * 2e14, ...(memory > 30 ? { '8': speed * 4e14 } : {}) },
    linkBytesPerSecond: 3e10,
    hopSeconds: 8e-6,
    pricePerHour,
    stock,
  })
  return {
    format: PLAN_FORMAT,
    version: PLAN_VERSION,
    name: `small ${number}`,
    currency: 'EUR',
    horizon: { start: '2027-03-01T00:00:00Z', seconds: 400, warmupSeconds: 20 },
    seed: number,
    repetitions: one([1, 3]),
    margin: one([0, 0.1]),
    classes: [
      {
        name: 'pilot desk',
        service: 'talk',
        arrivals: {
          kind: 'steady',
          ratePerSecond: between(1, 6),
          spikes: [{ startSeconds: 150, durationSeconds: 40, factor: between(1, 3) }],
        },
        input: { kind: 'lognormal', median: between(100, 900), p95: 2000 },
        output: { kind: 'lognormal', median: between(40, 200), p95: 500 },
        ...(random.next() < 0.4 ? { patienceSeconds: 8 } : {}),
        targets: [
          { measure: 'ttft', percentile: one([90, 95]), seconds: between(0.12, 0.9) },
          { measure: 'tpot', percentile: 95, seconds: between(0.025, 0.1) },
          ...(random.next() < 0.4 ? [{ measure: 'lost' as const, share: 0.01 }] : []),
        ],
      },
    ],
    models: [
      {
        kind: 'dense',
        name: 'Curlew 14B',
        parameters: 14e9,
        layers: 40,
        width: 5120,
        keyValueHeads: 8,
        headSize: 128,
        contextTokens: 8192,
        activationBytes: 1e9,
        variants: [
          { name: '16-bit', bytesPerWeight: 2, bytesPerCacheElement: 2, arithmeticBits: 16 },
          { name: '8-bit', bytesPerWeight: 1, bytesPerCacheElement: 2, arithmeticBits: 8 },
        ],
      },
    ],
    machines: [
      machine('pebble', 1, 24, 0.6, between(0.8, 1.3), one([2, 6])),
      machine('ledge', 1, 48, 0.87, between(1.5, 2.2), one([1, 3, 5])),
      machine('pair', 2, 48, 0.87, between(2.8, 3.9), 3),
      machine('stack', 1, 96, 3.2, between(4, 5.5), one([0, 2])),
    ],
    assumptions: {
      memoryEfficiency: 0.7,
      arithmeticEfficiency: 0.45,
      launchSeconds: 0.003,
      memoryShare: 0.9,
      reserveBytesPerDevice: 8e8,
      source: 'made up',
    },
    services: [
      {
        name: 'talk',
        model: 'Curlew 14B',
        routing: one(['least-busy', 'shared-queue'] as const),
        startupSeconds: 5,
        limits: { maxPrefillTokens: 4096, ...(random.next() < 0.3 ? { queue: 40 } : {}) },
        search: { sequences: [8, 32], devices: [1, 2], maxReplicas: 6 },
      },
    ],
  }
}

/** A small plan whose machines stay when nobody is on them, with copies that only load their model again. */
export function unloadingPlan(random: RandomStream, number: number): Plan {
  const plan = livingPlan(random, number)
  const [service] = plan.services
  const backSeconds = [{}, { backSeconds: random.next() * 4 }][number % 2]
  return {
    ...plan,
    horizon: { ...plan.horizon, begin: (['running', 'unloaded'] as const)[Math.floor(number / 2) % 2] },
    services: [
      {
        ...service,
        ...(service.start && { start: { ...service.start, ...backSeconds } }),
        nodes: { ...service.nodes, whenIdle: 'unload', ...(number % 3 === 0 && { idleSeconds: 90 }) },
      },
    ],
  }
}

/** A small plan beside whose machines services are sold by tokens: quick and dear, slow and cheap, with limits. */
export function soldPlan(random: RandomStream, number: number): Plan {
  const plan = variedPlan(random, number)
  const between = (low: number, high: number) => low + (high - low) * random.next()
  const one = <T>(list: readonly T[]) => list[Math.floor(random.next() * list.length)]
  const sold = (name: string, price: number, slow: number) => ({
    name,
    provider: 'Firth',
    region: 'firth',
    model: 'Curlew 14B',
    variant: '8-bit',
    pricePerMillionInput: price,
    pricePerMillionOutput: 4 * price,
    firstToken: { seconds: 0.08 * slow, ...one([{}, { p95Seconds: 0.15 * slow }]) },
    secondsPerInputToken: 1e-5 * slow,
    eachToken: { seconds: 0.012 * slow, ...one([{}, { p95Seconds: 0.02 * slow }]) },
    ...one([{}, {}, { limits: { requestsPerMinute: between(100, 500) } }, { limits: { tokensPerMinute: between(2e5, 6e5) } }]),
    ...one([{}, { concurrency: 20 }]),
  })
  const [service] = plan.services
  return {
    ...plan,
    soldByTokens: [sold('relay', between(0.3, 3), between(1, 3)), sold('quick relay', between(1, 6), 1)],
    services: [{ ...service, search: { ...service.search!, purchases: ['on-demand', 'per-token'] } }],
  }
}

/** A small plan whose search tries other settings beside the stated one. */
export function settingsPlan(random: RandomStream, number: number): Plan {
  const plan = number % 2 === 0 ? smallPlan(random, number) : livingPlan(random, number)
  const [service] = plan.services
  const { start, search } = service
  return {
    ...plan,
    services: [
      {
        ...service,
        routing: 'round-robin', // seldom the best
        search: {
          ...search,
          sequences: [8],
          routings: ['least-busy'],
          ...(start ? { weightsFrom: ['image'] as const } : { prompts: ['interleaved'] as const, stepTokens: [256] }),
        } as NonNullable<typeof search>,
      },
    ],
  }
}

/** A small plan whose load and service use the rarer rules as well: bursts, turns, retries, chunks, drafts, evictions. */
export function variedPlan(random: RandomStream, number: number): Plan {
  const plan = smallPlan(random, number)
  const one = <T>(list: readonly T[]) => list[Math.floor(random.next() * list.length)]
  const [first] = plan.classes
  const [service] = plan.services
  const bursts = one([
    undefined,
    { kind: 'gamma' as const, variation: 2 },
    { kind: 'two-state' as const, factor: 3, burstSeconds: 15, quietSeconds: 100 },
  ])
  const turns = one([undefined, undefined, { count: { kind: 'exponential' as const, mean: 2 }, pauseSeconds: 5, historyTokens: 3000 }])
  return {
    ...plan,
    classes: [
      {
        ...first,
        ...(first.arrivals.kind === 'steady' && bursts && { arrivals: { ...first.arrivals, bursts } }),
        ...(turns && { turns }),
        ...one([{}, { cachedShare: 0.4 }, { lengthCorrelation: 0.6 }, { retries: { most: 2, firstPauseSeconds: 2 } }]),
      },
    ],
    services: [
      {
        ...service,
        routing: one(['least-busy', 'round-robin', 'two-choice', 'shared-queue'] as const),
        limits: {
          ...service.limits,
          prompts: one(['whole', 'interleaved'] as const),
          stepTokens: one([256, 1024]),
          reservation: one(['whole', 'optimistic'] as const),
          ...one([{}, { outputCap: 300 }, { draft: { tokens: 3, acceptedPerStep: 2.1, secondsPerStep: 0.002 } }]),
        },
      },
    ],
  }
}

/** A small plan whose replicas start up by stages and whose number may follow the load. */
export function livingPlan(random: RandomStream, number: number): Plan {
  const plan = variedPlan(random, number)
  const one = <T>(list: readonly T[]) => list[Math.floor(random.next() * list.length)]
  const [service] = plan.services
  const quick = { intervalSeconds: 5, down: { stabilisationSeconds: one([10, 40]) } }
  return {
    ...plan,
    services: [
      {
        ...service,
        start: {
          machineSeconds: one([0, 5, 15]),
          ...one([{}, { machineP95Seconds: 30 }]),
          imageBytes: 4e9,
          imageBytesPerSecond: 4e9,
          weights: { from: one(['store', 'image', 'node'] as const), bytesPerSecond: 10e9, ...one([{}, { totalBytesPerSecond: 12e9 }]) },
          loadBytesPerSecond: 20e9,
          warmupSeconds: 2,
        },
        nodes: { idleSeconds: one([0, 20]) },
        ...one([{}, {}, { losses: { replicaMeanSeconds: 400 } }]),
        policies: [
          {
            name: 'in flight',
            min: 1,
            max: one([3, 5]),
            metrics: [{ metric: 'in-flight', target: one([3, 8]), windowSeconds: 10 }],
            ...quick,
          },
          {
            name: 'busy',
            min: one([1, 2]),
            max: 4,
            metrics: [
              { metric: 'busy', target: 0.6, windowSeconds: 10 },
              { metric: 'waiting', target: 1, windowSeconds: 5 },
            ],
            ...quick,
          },
        ],
      },
    ],
  }
}

/** A small plan with a life whose machines may be paid in every way; those on spot are taken away within minutes. */
export function boughtPlan(random: RandomStream, number: number): Plan {
  const plan = livingPlan(random, number)
  const between = (low: number, high: number) => low + (high - low) * random.next()
  const [service] = plan.services
  const {
    sequences: [, sequences],
  } = service.search!
  return {
    ...plan,
    machines: plan.machines.map((m) => ({
      ...m,
      committedPerHour: m.pricePerHour! * between(0.5, 0.9),
      ...(random.next() < 0.7 && {
        spotPerHour: m.pricePerHour! * between(0.3, 0.7),
        spotMeanSeconds: between(100, 1500),
        spotNoticeSeconds: [0, 20][number % 2],
      }),
      ...(random.next() < 0.6 && {
        pricePerRequest: 1e-5,
        pricePerGigabyteSecond: between(0.2, 1) * (m.pricePerHour! / 3600 / ((m.devices * m.memoryBytesPerDevice) / 1e9)),
        keptSeconds: between(5, 60),
        startIsPaid: random.next() < 0.5,
      }),
      storagePerGigabyteMonth: 0.1,
      transferPerGigabyte: between(0, 0.02),
      billingStepSeconds: 60,
    })),
    services: [
      {
        ...service,
        nodes: { ...service.nodes, ...(random.next() < 0.5 && { whenIdle: 'stop' as const }) },
        search: {
          ...service.search!,
          sequences: [sequences],
          devices: [1],
          purchases: ['on-demand', 'committed', 'spot', 'mixed', 'per-request'],
        },
      },
    ],
  }
}

/** A small plan that asks for a certainty, with doubts of its own: some of them of the load as well. */
export function surePlan(random: RandomStream, number: number): Plan {
  const plan = [smallPlan, livingPlan, soldPlan, boughtPlan][number % 4](random, number)
  const one = <T>(list: readonly T[]) => list[Math.floor(random.next() * list.length)]
  const doubt = { derived: 0.4 * random.next(), startUp: 0.5 * random.next(), load: one([0, 0.2]) }
  return { ...plan, margin: 0, certainty: one([0.6, 0.9, 0.95]), doubt }
}
