import type { Begin } from '../life/startRules.ts'
import type { Plan, Service } from '../plan/schema.ts'

/** What there is at the start of a plan's horizon. */
export const beginOf = ({ horizon }: Pick<Plan, 'horizon'>): Begin => horizon.begin ?? 'running'

/** When the replicas of a service without a life are ready: those that are there at the start are. */
export function readyAt(plan: Pick<Plan, 'horizon'>, { startupSeconds = 0 }: Service): number {
  return beginOf(plan) === 'running' ? 0 : startupSeconds
}
