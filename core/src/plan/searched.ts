import type { Plan } from './schema.ts'

/** Whether a service searches for what it runs on; else it is run as its configuration states. */
export function isSearched(plan: Plan, serviceName: string): boolean {
  return plan.services.find((s) => s.name === serviceName)?.search !== undefined
}
