import { isByTokens } from '../cost/purchase.ts'
import type { Choice, ServiceAnswer } from './answer.ts'

/** The best that runs on machines of one's own, of what is chosen and what comes next: what is bought by tokens has none to look at. */
export function onMachines({ chosen, runnersUp }: Pick<ServiceAnswer, 'chosen' | 'runnersUp'>): Choice | undefined {
  return [chosen, ...runnersUp].find((c) => c !== null && !isByTokens(c.purchase)) ?? undefined
}
