import { BadInput, readPlan } from '@sandclock/core'

type Loose = Record<string, unknown>
const objects = (value: unknown): Loose[] =>
  Array.isArray(value) ? value.filter((v): v is Loose => typeof v === 'object' && v !== null) : []

/**
 * A plan that was kept under looser rules, without what contradicts it now: coefficients and measurements of machines that it
 * does not have, services that no class calls, policies that nothing uses. Undefined where that does not mend it.
 */
export function mendedText(text: string): { text: string; leftOut: string[] } | undefined {
  try {
    const plan = JSON.parse(text) as Loose // looked at piece by piece
    const leftOut = [...withoutStrangeMachines(plan), ...withoutIdleServices(plan), ...withoutIdlePolicies(plan)]
    const mended = JSON.stringify(plan)
    if (leftOut.length === 0) return undefined
    readPlan(mended)
    return { text: mended, leftOut }
  } catch (error) {
    if (error instanceof BadInput || error instanceof SyntaxError) return undefined
    throw error
  }
}

function withoutStrangeMachines(plan: Loose): string[] {
  const machines = new Set(objects(plan.machines).map((m) => m.name))
  const out: string[] = []
  for (const variant of objects(plan.models).flatMap((m) => objects(m.variants))) {
    for (const list of ['profiles', 'measurements'] as const) {
      const gone = objects(variant[list]).filter((e) => e.machine !== undefined && !machines.has(e.machine))
      if (gone.length === 0) continue
      variant[list] = objects(variant[list]).filter((e) => !gone.includes(e))
      out.push(`${list} of ${String(variant.name)} on ${gone.map((e) => String(e.machine)).join(', ')}`)
    }
  }
  return out
}

function withoutIdleServices(plan: Loose): string[] {
  const called = new Set(objects(plan.classes).map((c) => c.service))
  const gone = objects(plan.services).filter((s) => !called.has(s.name))
  if (gone.length > 0) plan.services = objects(plan.services).filter((s) => called.has(s.name))
  return gone.map((s) => `the service ${String(s.name)}`)
}

function withoutIdlePolicies(plan: Loose): string[] {
  return objects(plan.services).flatMap((service) => {
    const used = (service.configuration as Loose | undefined)?.policy
    const gone = service.search === undefined ? objects(service.policies).filter((p) => p.name !== used) : []
    if (gone.length > 0) service.policies = objects(service.policies).filter((p) => p.name === used)
    return gone.map((p) => `the policy ${String(p.name)}`)
  })
}
