import {
  peak,
  rateCurve,
  rateKind,
  withRate,
  type Plan,
  type RequestClass,
  type ScalingPolicy,
  type Service,
  type Spike,
  type Target,
  type Way,
} from '@sandclock/core'

/** A change of a plan: takes one and gives another, never touches the first. */
export type Edit = (plan: Plan) => Plan

export function editClass(name: string, change: (c: RequestClass) => RequestClass): Edit {
  return (plan) => ({ ...plan, classes: plan.classes.map((c) => (c.name === name ? change(c) : c)) })
}

export function editService(name: string, change: (s: Service) => Service): Edit {
  return (plan) => ({ ...plan, services: plan.services.map((s) => (s.name === name ? change(s) : s)) })
}

export function editTarget(className: string, index: number, change: (t: Target) => Target): Edit {
  return editClass(className, (c) => ({ ...c, targets: c.targets.map((t, i) => (i === index ? change(t) : t)) }))
}

/** Scales the rates of a class so that its largest is the given one; a quiet class becomes steady at it. */
export function setPeak(className: string, ratePerSecond: number): Edit {
  return (plan) => editClass(className, (c) => scaled(plan, c, ratePerSecond))(plan)
}

/** Multiplies the rates of a class; its spikes multiply what comes of it, as before. */
export function scalePeak(className: string, factor: number): Edit {
  return (plan) => editClass(className, (c) => scaled(plan, c, basePeak(plan, c) * factor))(plan)
}

function scaled(plan: Plan, c: RequestClass, ratePerSecond: number): RequestClass {
  const arrivals = withRate(c.arrivals)
  if (!arrivals) return c
  const now = basePeak(plan, c)
  const rescaled = (r: number) => Number(((r * ratePerSecond) / now).toPrecision(6))
  if (now === 0) return { ...c, arrivals: { ...(arrivals.spikes ? { spikes: arrivals.spikes } : {}), kind: 'steady', ratePerSecond } }
  return { ...c, arrivals: rateKind(arrivals).withRates(arrivals, rescaled) }
}

/** The largest rate of a class without its spikes, per second. */
export function basePeak(plan: Plan, c: RequestClass): number {
  const arrivals = withRate(c.arrivals)
  if (!arrivals) return 0
  return peak(rateCurve({ ...arrivals, spikes: [], events: [] }, plan.horizon.seconds, 1, plan.horizon.start)).ratePerSecond
}

export function setSpikes(className: string, change: (spikes: Spike[]) => Spike[]): Edit {
  return editClass(className, (c) => {
    const arrivals = withRate(c.arrivals)
    return arrivals ? { ...c, arrivals: { ...arrivals, spikes: change(arrivals.spikes ?? []) } } : c
  })
}

export function renameClass(from: string, to: string): Edit {
  return editClass(from, (c) => ({ ...c, name: to }))
}

/** Renames a service, and what points to it. */
export function renameService(from: string, to: string): Edit {
  return (plan) => ({
    ...plan,
    services: plan.services.map((s) => (s.name === from ? { ...s, name: to } : s)),
    classes: plan.classes.map((c) => (c.service === from ? { ...c, service: to } : c)),
  })
}

/** A name that nothing of a list has, as near to the wish as can be. */
export function freeName(wish: string, taken: readonly { name: string }[]): string {
  const short = wish.slice(0, 74)
  let name = short
  for (let n = 2; taken.some((t) => t.name === name); n++) name = `${short} ${n}`
  return name
}

/** A class like the given one, after it, with a name of its own. */
export function copyClass(name: string): Edit {
  return (plan) => {
    const copy = freeName(`another ${name}`, plan.classes)
    return { ...plan, classes: plan.classes.flatMap((c) => (c.name === name ? [c, { ...c, name: copy }] : [c])) }
  }
}

/** Takes a class out, and services that are then without any. */
export function removeClass(name: string): Edit {
  return (plan) => {
    const classes = plan.classes.filter((c) => c.name !== name)
    return { ...plan, classes, services: plan.services.filter((s) => classes.some((c) => c.service === s.name)) }
  }
}

/** What a promise of each kind begins as, before its figures are changed. */
const FIRST_TARGETS: Record<Target['measure'], Target> = {
  ttft: { measure: 'ttft', percentile: 95, seconds: 1 },
  tpot: { measure: 'tpot', percentile: 95, seconds: 0.06 },
  latency: { measure: 'latency', percentile: 95, seconds: 30 },
  wait: { measure: 'wait', percentile: 95, seconds: 1 },
  lost: { measure: 'lost', share: 0.01 },
  throughput: { measure: 'throughput', perSecond: 1 },
}

export function addTarget(className: string, measure: Target['measure']): Edit {
  return editClass(className, (c) => ({ ...c, targets: [...c.targets, atCaller(FIRST_TARGETS[measure], c.way !== undefined)] }))
}

/** Says how far the callers of a class are, or no more: its promises are then kept where they are. */
export function setWay(className: string, way: Way | undefined): Edit {
  return editClass(className, ({ way: _, ...c }) => ({
    ...c,
    ...(way && { way }),
    targets: c.targets.map((t) => (way && 'at' in t ? t : atCaller(t, way !== undefined))),
  }))
}

/** A promise that crosses the way is kept at the caller; without a way it is not said where. */
function atCaller(target: Target, hasWay: boolean): Target {
  if (target.measure !== 'ttft' && target.measure !== 'latency') return target
  const { at: _, ...rest } = target
  return hasWay ? { ...rest, at: 'caller' } : rest
}

export function removeTarget(className: string, index: number): Edit {
  return editClass(className, (c) => ({ ...c, targets: c.targets.filter((_, i) => i !== index) }))
}

/** Puts another policy in the place of the one with a name, or takes it out. */
export function setPolicy(serviceName: string, policyName: string, next: ScalingPolicy | undefined): Edit {
  return editService(serviceName, ({ policies = [], ...s }) => {
    const left = policies.flatMap((p) => (p.name !== policyName ? [p] : next ? [next] : []))
    return left.length > 0 ? { ...s, policies: left } : s
  })
}

/** A part of a plan in place of another, as it was put together field by field: whether it is one is seen when the plan is checked. */
type Put = Record<string, unknown>

/** Puts a class in the place of the one with a name. A service that no class is left for, since this one moved away, goes. */
export function putClass(name: string, next: Put): Edit {
  return (plan) => {
    const before = plan.classes.find((c) => c.name === name)
    const after = editClass(name, () => next as RequestClass)(plan)
    return before && next.service !== before.service ? withoutIdle(after, before.service) : after
  }
}

function withoutIdle(plan: Plan, service: string): Plan {
  const isLeft = plan.classes.some((c) => c.service === service)
  return isLeft ? plan : { ...plan, services: plan.services.filter((s) => s.name !== service) }
}

export const putService = (name: string, next: Put): Edit => editService(name, () => next as Service)

export const putPlan =
  (next: Put): Edit =>
  () =>
    next as Plan

/** A service like the given one with classes like its own, each under a free name. */
export function copyService(name: string): Edit {
  return (plan) => {
    const like = plan.services.find((s) => s.name === name)
    if (!like) return plan
    const copy = freeName(`another ${name}`, plan.services)
    const classes = plan.classes.filter((c) => c.service === name)
    const taken = [...plan.classes]
    for (const c of classes) taken.push({ ...c, service: copy, name: freeName(`another ${c.name}`, taken) })
    return { ...plan, services: plan.services.flatMap((s) => (s === like ? [s, { ...s, name: copy }] : [s])), classes: taken }
  }
}

/** Takes a service out with its classes; the last one stays. */
export function removeService(name: string): Edit {
  return (plan) =>
    plan.services.length < 2
      ? plan
      : { ...plan, services: plan.services.filter((s) => s.name !== name), classes: plan.classes.filter((c) => c.service !== name) }
}
