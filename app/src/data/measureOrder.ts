import type { StatedOrder } from '@sandclock/core'

/** How somebody asks who has not said how. */
const HOW = `# Whom to ask, and how: docs/measure.md says all that may stand here.
format: sand-clock-how-to-ask
version: 1
url: http://127.0.0.1:8080/v1/chat/completions
as: chat
# A key comes from the environment of the server, which is started with --secret HARBOUR_KEY:
# headers: { authorization: "Bearer \${HARBOUR_KEY}" }
`

/** The measurement that is proposed at first: one that finds step costs, and judges them. */
export const USUAL_ORDER: StatedOrder = {
  how: HOW,
  shape: {
    kind: 'find-costs',
    clients: [1, 4, 16],
    requestsEach: 12,
    judgeSeconds: 60,
    sizes: [
      { input: 200, output: 60 },
      { input: 1600, output: 120 },
    ],
  },
  bounds: { requests: 2000 },
}

/** An order as it was kept; the usual one for what is none. */
export function readKeptOrder(value: unknown): StatedOrder {
  const { how, shape } = (typeof value === 'object' && value !== null ? value : {}) as Partial<StatedOrder>
  const sizes = Array.isArray(shape?.sizes) && shape.sizes.length > 0
  return typeof how === 'string' && sizes ? (value as StatedOrder) : USUAL_ORDER // what else is wrong with it the server says
}
