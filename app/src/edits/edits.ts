import { peak, rateCurve, type Plan, type RequestClass, type Service, type Spike, type Target } from '@sandclock/core'

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

function scaled(plan: Plan, c: RequestClass, ratePerSecond: number): RequestClass {
  const { arrivals } = c
  if (arrivals.kind === 'log') return c
  const now = basePeak(plan, c)
  if (arrivals.kind === 'steady' || now === 0) {
    return { ...c, arrivals: { ...(arrivals.spikes ? { spikes: arrivals.spikes } : {}), kind: 'steady', ratePerSecond } }
  }
  return { ...c, arrivals: { ...arrivals, ratesPerSecond: arrivals.ratesPerSecond.map((r) => Number(((r * ratePerSecond) / now).toPrecision(6))) } }
}

/** The largest rate of a class without its spikes, per second. */
export function basePeak(plan: Plan, c: RequestClass): number {
  if (c.arrivals.kind === 'log') return 0
  const { spikes: _, ...calm } = c.arrivals
  return peak(rateCurve(calm, plan.horizon.seconds)).ratePerSecond
}

export function setSpikes(className: string, change: (spikes: Spike[]) => Spike[]): Edit {
  return editClass(className, (c) => (c.arrivals.kind === 'log' ? c : { ...c, arrivals: { ...c.arrivals, spikes: change(c.arrivals.spikes ?? []) } }))
}

/** Whether the search of a service may use a machine; taking the last one out is left to the plan's own rules. */
export function setMachineAllowed(plan: Plan, service: Service, machine: string, allowed: boolean): Edit {
  const all = plan.machines.map((m) => m.name)
  const now = service.search?.machines ?? all
  const machines = all.filter((m) => (m === machine ? allowed : now.includes(m)))
  return editService(service.name, (s) => {
    if (!s.search) return s
    const { machines: _, ...rest } = s.search
    return { ...s, search: machines.length === all.length ? rest : { ...rest, machines } }
  })
}
