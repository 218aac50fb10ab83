import { specOf, type Answer, type Choice, type Plan, type RunSpec } from '@sandclock/core'

/** What is recommended for each service that is served. */
export function chosenSpecs(plan: Plan, answer: Answer): { name: string; chosen: Choice; spec: RunSpec; others: RunSpec[] }[] {
  return answer.services.flatMap(({ service: name, chosen, runnersUp }) => {
    const specFor = (c: Choice) => specOf(plan, name, c, c.machines)
    const spec = chosen && specFor(chosen)
    return chosen && spec ? [{ name, chosen, spec, others: runnersUp.flatMap((c) => specFor(c) ?? []) }] : []
  })
}
