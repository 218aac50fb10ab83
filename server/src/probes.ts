import { MOST_THROUGH_SERVER, readOrder, type ReadOrder } from '@sandclock/core'
import { Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { jsonOnly } from './ownPages.ts'
import { PROBE_LIMITS, ProbeJobs, type ProbeLimits } from './probeJobs.ts'
import { readOr, refusal, type Refusal } from './reading.ts'
import { told } from './told.ts'

const MOST_BYTES = 20_000_000
/**
 * Measurements, which a page may not make itself.
 * - `POST /probes` with an order (docs/measure.md) begins one and gives its `id`; 409 while another is under way.
 * - `GET /probes` gives the `id` of the one that goes on, or ended last, if there is one.
 * - `GET /probes/:id` tells it by server-sent events: `rows` with requests as they end, those until now first, and then `end`, or
 *   `failure` with a sentence. Who closes the connection may come back; after a minute that nobody listens it is stopped.
 * - `DELETE /probes/:id` stops it; its end is told to who listens.
 *
 * @param allowed machines that may be asked beside this one
 * @param secrets what `${NAME}` in a header stands for; other variables are not known here
 */
export function probes(
  allowed: readonly string[],
  secrets: Readonly<Record<string, string | undefined>>,
  limits: ProbeLimits = PROBE_LIMITS,
): Hono {
  const api = new Hono()
  const jobs = new ProbeJobs(allowed, secrets, limits)
  const tooLarge = bodyLimit({
    maxSize: MOST_BYTES,
    onError: (c) => c.json({ message: `The order is larger than ${MOST_BYTES / 1e6} MB.` }, 413),
  })
  api.post('/probes', jsonOnly('order'), tooLarge, async (c) => {
    const order = orderOf(await c.req.json().catch(() => null))
    if ('message' in order) return c.json(order, 422)
    const id = jobs.begin(order)
    if (id === undefined) return c.json({ message: 'Something is being measured here already. Stop it, or wait for its end.' }, 409)
    return c.json({ id }, 201)
  })
  api.get('/probes', (c) => c.json({ id: jobs.id }))
  api.get('/probes/:id', (c) => {
    const id = c.req.param('id')
    if (!jobs.has(id)) return c.json({ message: 'There is no such measurement here.' }, 404)
    return told(
      c,
      (said) => jobs.listen(id, said),
      ({ event }) => event !== 'rows',
    )
  })
  api.delete('/probes/:id', (c) =>
    jobs.stop(c.req.param('id')) ? c.body(null, 204) : c.json({ message: 'There is no such measurement here.' }, 404),
  )
  return api
}

/** The order, or what is wrong with it. */
const orderOf = (body: unknown): ReadOrder | Refusal =>
  readOr(() => {
    const order = readOrder(body)
    return order.bounds.requests <= MOST_THROUGH_SERVER
      ? order
      : refusal(
          `The server of this page sends at most ${MOST_THROUGH_SERVER} requests; measure more with the command line, and drop its file here.`,
        )
  })
