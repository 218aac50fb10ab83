import { weekPlace } from '../demand/calendar.ts'
import { rateAt, rateCurve } from '../demand/rate.ts'
import { withRate } from '../plan/arrivalKinds.ts'
import type { LossRules, NodeRules, StartRules } from '../life/startRules.ts'
import type { Machine, Model, Plan, ScalingPolicy, Service, Variant } from '../plan/schema.ts'
import { spreadOf } from '../random/spread.ts'
import { weightBytesOf } from '../service/variant.ts'
import { clockSeconds } from '../units/clockTime.ts'
import type { ScalingContext, ScalingRules } from './rules.ts'

const DEFAULT_IDLE_SECONDS = 60
const DEFAULT_GRACE_SECONDS = 30
const DEFAULT_RETRY_SECONDS = 60
export const DEFAULT_SPOT_MEAN_SECONDS = 86_400
const DEFAULT_SPOT_NOTICE_SECONDS = 60

/** The stages of a start-up of one replica on one machine; a service without stages has its start-up time as its warm-up. */
export function startRulesOf(service: Service, model: Model, variant: Variant, machine: Machine): StartRules {
  const { start } = service
  const network = machine.networkBytesPerSecond ?? Infinity
  const attempts = { availability: machine.availability ?? 1, retrySeconds: machine.retrySeconds ?? DEFAULT_RETRY_SECONDS }
  if (!start) {
    return {
      ...attempts,
      nodeSeconds: 0,
      nodeSpread: 0,
      resumeSeconds: 0,
      imageBytes: 0,
      imageBytesPerSecond: 1,
      imageTotalBytesPerSecond: Infinity,
      weightBytes: 0,
      weightsFrom: 'store',
      weightBytesPerSecond: 1,
      weightTotalBytesPerSecond: Infinity,
      networkBytesPerSecond: Infinity,
      loadBytesPerSecond: 1,
      warmupSeconds: service.startupSeconds ?? 0,
      keptWarmupSeconds: 0,
      timeoutSeconds: Infinity,
    }
  }
  const nodeSeconds = machine.provisioningSeconds ?? start.machineSeconds ?? 0
  return {
    ...attempts,
    nodeSeconds,
    nodeSpread: spreadOf(nodeSeconds, start.machineP95Seconds),
    resumeSeconds: start.resumeSeconds ?? nodeSeconds,
    imageBytes: start.imageBytes,
    imageBytesPerSecond: Math.min(start.imageBytesPerSecond, network),
    imageTotalBytesPerSecond: start.imageTotalBytesPerSecond ?? Infinity,
    weightBytes: weightBytesOf(model, variant),
    weightsFrom: start.weights.from,
    weightBytesPerSecond: Math.min(start.weights.bytesPerSecond, network),
    weightTotalBytesPerSecond: start.weights.totalBytesPerSecond ?? Infinity,
    networkBytesPerSecond: network,
    loadBytesPerSecond: start.loadBytesPerSecond,
    warmupSeconds: start.warmupSeconds,
    keptWarmupSeconds: start.keptWarmupSeconds ?? 0,
    ...(start.backSeconds !== undefined && { backSeconds: start.backSeconds }),
    timeoutSeconds: start.timeoutSeconds ?? Infinity,
  }
}

export function nodeRulesOf(service: Service, replicasPerNode: number, mostNodes: number, safeNodes = Infinity): NodeRules {
  return {
    replicasPerNode,
    mostNodes,
    safeNodes,
    stops: service.nodes?.whenIdle === 'stop',
    unloads: service.nodes?.whenIdle === 'unload',
    idleSeconds: service.nodes?.idleSeconds ?? (service.nodes?.whenIdle === 'unload' ? Infinity : DEFAULT_IDLE_SECONDS),
    graceSeconds: service.nodes?.graceSeconds ?? DEFAULT_GRACE_SECONDS,
  }
}

export function lossRulesOf(
  { losses }: Service,
  {
    spotMeanSeconds = DEFAULT_SPOT_MEAN_SECONDS,
    spotNoticeSeconds = DEFAULT_SPOT_NOTICE_SECONDS,
  }: Pick<Machine, 'spotMeanSeconds' | 'spotNoticeSeconds'> = {},
): LossRules {
  return {
    spotMeanSeconds,
    spotNoticeSeconds,
    replicaMeanSeconds: losses?.replicaMeanSeconds ?? Infinity,
    nodeMeanSeconds: losses?.nodeMeanSeconds ?? Infinity,
    noticeSeconds: losses?.noticeSeconds ?? 0,
    drills: losses?.drills ?? [],
  }
}

const QUARTER = { unit: 'percent', amount: 100, periodSeconds: 15 } as const

/**
 * A policy of a plan with its defaults: those of the documented horizontal autoscaling rule.
 *
 * @param visits that wake it, see `wakeTimes`
 */
export function scalingRulesOf(policy: ScalingPolicy, visits?: Float64Array): ScalingRules {
  return {
    min: policy.min,
    max: policy.max,
    intervalSeconds: policy.intervalSeconds ?? 15,
    tolerance: policy.tolerance ?? 0.1,
    metrics: (policy.metrics ?? []).map((m) => ({
      metric: m.metric,
      target: m.target,
      windowSeconds: m.windowSeconds ?? 60,
      baseShare: m.baseShare ?? 0.05,
      sharePerRequest: m.sharePerRequest ?? 0.001,
    })),
    up: {
      stabilisationSeconds: policy.up?.stabilisationSeconds ?? 0,
      limits: policy.up?.limits ?? [{ unit: 'replicas', amount: 4, periodSeconds: 15 }, QUARTER],
    },
    down: { stabilisationSeconds: policy.down?.stabilisationSeconds ?? 300, limits: policy.down?.limits ?? [QUARTER] },
    schedule: (policy.schedule ?? []).map((w) => ({
      days: w.days.map((d) => d - 1),
      fromSeconds: clockSeconds(w.from),
      untilSeconds: clockSeconds(w.until),
      min: w.min,
    })),
    ...(policy.ahead && { ahead: policy.ahead }),
    ...(policy.idle && { idle: policy.idle }),
    keepAwakeSeconds: policy.keepAwakeSeconds ?? Infinity,
    wakeAtSeconds: (policy.wakeAt ?? []).map(clockSeconds),
    ...(visits && { visits }),
  }
}

/** What policies of a service know of its plan: the weekday, and the rate that its own arrivals are stated at. */
export function scalingContextOf(plan: Plan, service: Service): ScalingContext {
  const curves = plan.classes.flatMap((c) => {
    const arrivals = c.service === service.name ? withRate(c.arrivals) : undefined
    return arrivals ? [rateCurve(arrivals, plan.horizon.seconds, 1, plan.horizon.start)] : []
  })
  return {
    weekStartSeconds: weekPlace(plan.horizon.start).secondOfWeek,
    expectedRate: (seconds) => curves.reduce((sum, c) => sum + rateAt(c, Math.min(seconds, plan.horizon.seconds - 1)), 0),
  }
}
