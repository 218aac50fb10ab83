import type { Bought } from '../src/cost/bill.ts'
import { purchase, type GroupPrices, type Purchase } from '../src/cost/purchase.ts'
import type { Controller } from '../src/life/controller.ts'
import { LivingFleet } from '../src/life/livingFleet.ts'
import type { Begin, LossRules, NodeRules, StartRules } from '../src/life/startRules.ts'
import { makeController } from '../src/scaling/makeController.ts'
import type { ScalingContext, ScalingRules } from '../src/scaling/rules.ts'

export const startRules = (parts: Partial<StartRules> = {}): StartRules => ({
  nodeSeconds: 100,
  nodeSpread: 0,
  availability: 1,
  retrySeconds: 60,
  resumeSeconds: 60,
  imageBytes: 10e9,
  imageBytesPerSecond: 1e9,
  imageTotalBytesPerSecond: Infinity,
  weightBytes: 20e9,
  weightsFrom: 'store',
  weightBytesPerSecond: 1e9,
  weightTotalBytesPerSecond: Infinity,
  networkBytesPerSecond: Infinity,
  loadBytesPerSecond: 4e9,
  warmupSeconds: 15,
  keptWarmupSeconds: 0,
  timeoutSeconds: Infinity,
  ...parts,
})
export const nodeRules = (parts: Partial<NodeRules> = {}): NodeRules => ({
  replicasPerNode: 1,
  mostNodes: 100,
  safeNodes: Infinity,
  stops: false,
  idleSeconds: 60,
  graceSeconds: 30,
  ...parts,
})
export const lossRules = (parts: Partial<LossRules> = {}): LossRules => ({
  replicaMeanSeconds: Infinity,
  nodeMeanSeconds: Infinity,
  noticeSeconds: 0,
  spotMeanSeconds: Infinity,
  spotNoticeSeconds: 0,
  drills: [],
  ...parts,
})
export const scalingRules = (parts: Partial<ScalingRules> = {}): ScalingRules => ({
  min: 1,
  max: 10,
  intervalSeconds: 15,
  tolerance: 0.1,
  metrics: [],
  up: { stabilisationSeconds: 0, limits: [] },
  down: { stabilisationSeconds: 0, limits: [] },
  schedule: [],
  keepAwakeSeconds: Infinity,
  wakeAtSeconds: [],
  ...parts,
})
export const context = (parts: Partial<ScalingContext> = {}): ScalingContext => ({ weekStartSeconds: 0, expectedRate: () => 0, ...parts })

/** A controller that wishes what a script says. */
export const scripted = (wishes: readonly [seconds: number, replicas: number][], most = 10): Controller => ({
  intervalSeconds: 1,
  initial: wishes[0]?.[0] === 0 ? wishes[0][1] : 0,
  most,
  nextPing: () => Infinity,
  wish: ({ now }) => ({ replicas: wishes.filter(([t]) => t <= now).at(-1)?.[1] ?? 0, cause: 'schedule' }),
})

export function livingFleet(parts: {
  start?: Partial<StartRules>
  nodes?: Partial<NodeRules>
  losses?: Partial<LossRules>
  controller?: Controller
  scaling?: Partial<ScalingRules>
  context?: Partial<ScalingContext>
  seed?: number
  begin?: Begin
}): LivingFleet {
  return new LivingFleet(
    startRules(parts.start),
    nodeRules(parts.nodes),
    lossRules(parts.losses),
    parts.controller ?? makeController(scalingRules(parts.scaling), context(parts.context)),
    parts.seed ?? 1,
    parts.begin,
  )
}

/** One group of machines that costs 2 an hour, unless told otherwise. */
export const bought = (kind: Purchase['kind'], prices: Partial<GroupPrices> = {}): Bought => ({
  purchase: purchase(kind),
  prices: {
    onDemandPerHour: 2,
    committedPerHour: Infinity,
    spotPerHour: Infinity,
    storagePerHour: 0,
    transferPerByte: 0,
    billingStepSeconds: 1,
    billingMinimumSeconds: 0,
    calls: null,
    tokens: null,
    ...prices,
  },
})
