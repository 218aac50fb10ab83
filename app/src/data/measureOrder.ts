import { FINDING_COSTS, MOST_THROUGH_SERVER, sentOfLog, type Requests, type StatedOrder, type StatedShape } from '@sandclock/core'

/** How somebody asks who has not said how. */
const HOW = `# Whom to ask, and how: docs/measure.md says all that may stand here.
format: sand-clock-how-to-ask
version: 1
url: http://127.0.0.1:8080/v1/chat/completions
as: chat
# A key comes from the environment of the server, which is started with --secret HARBOUR_KEY:
# headers: { authorization: "Bearer \${HARBOUR_KEY}" }
`

/** A measurement as it is kept here: of a log that is sent its name, in place of its requests. */
export type KeptOrder = StatedOrder & { log?: string }

/** The measurement that is proposed at first: one that finds step costs, and judges them. */
export const USUAL_ORDER: StatedOrder = { how: HOW, shape: findingCosts([...FINDING_COSTS.sizes]), bounds: { requests: 2000 } }

/** The load that finds step costs, as it is usual. */
export function findingCosts(sizes: StatedShape['sizes']): StatedShape {
  const { clients, requestsEach, judgeSeconds } = FINDING_COSTS
  return { kind: 'find-costs', clients: [...clients], requestsEach, judgeSeconds, sizes }
}

/** An order as it was kept; the usual one for what is none. */
export function readKeptOrder(value: unknown): KeptOrder {
  const { how, shape } = (typeof value === 'object' && value !== null ? value : {}) as Partial<KeptOrder>
  const sizes = Array.isArray(shape?.sizes) && shape.sizes.length > 0
  return typeof how === 'string' && sizes ? (value as KeptOrder) : USUAL_ORDER // what else is wrong with it the server says
}

/** What is asked of the server: with the requests of a log, at their own times, where it is one. */
export function orderOf({ log: _, ...order }: KeptOrder, requests?: Pick<Requests, 'at' | 'input' | 'output'>): StatedOrder {
  if (order.shape.kind !== 'log' || !requests) return order
  const { at, asking } = sentOfLog(requests, MOST_THROUGH_SERVER)
  return { ...order, shape: { ...order.shape, at: [...at], asking } }
}
