import { needsLog, readPlan, type Plan } from '@sandclock/core'
import { usualThreads } from '@sandclock/threads'
import { Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { jsonOnly } from './ownPages.ts'
import { LIMITS, SearchJobs, type Limits } from './searchJobs.ts'
import { readOr, refusal, type Refusal } from './reading.ts'
import { told } from './told.ts'

/** A plan of this size has room for a thousand machines and fifty classes of twenty thousand listed lengths. */
const MOST_BYTES = 20_000_000

/**
 * Searches on the server.
 * - `GET /searches` says how many threads a search has and how many more may run.
 * - `POST /searches` with a plan file as its body begins one, or joins that of the same plan, and gives its `id`.
 * - `GET /searches/:id` tells it by server-sent events: `progress` as it goes, what was said last first, and then `answer`, or
 *   `failure` with a sentence. Who closes the connection may come back; after a minute that nobody listens it is ended.
 * - `DELETE /searches/:id` ends it at once.
 *
 * @param threads simulations at once
 * @param worker see `trialPool`
 */
export function searches(threads = usualThreads(), worker?: URL, limits: Limits = LIMITS): Hono {
  const api = new Hono()
  const jobs = new SearchJobs(threads, limits, worker)
  const tooLarge = bodyLimit({
    maxSize: MOST_BYTES,
    onError: (c) => c.json({ message: `The plan is larger than ${MOST_BYTES / 1e6} MB.` }, 413),
  })
  api.get('/searches', (c) => c.json({ threads, room: limits.searches - jobs.running }))
  api.post('/searches', jsonOnly('plan'), tooLarge, async (c) => {
    const text = await c.req.text()
    const plan = planOf(text)
    if ('message' in plan) return c.json(plan, 422)
    const id = jobs.begin(plan, text)
    if (id === undefined)
      return c.json({ message: `${jobs.running} searches are running here already. Wait for one to end, or stop it.` }, 429)
    return c.json({ id }, 201)
  })
  api.get('/searches/:id', (c) => {
    const id = c.req.param('id')
    if (!jobs.get(id)) return c.json({ message: 'There is no such search here; begin it anew.' }, 404)
    return told(
      c,
      (said) => jobs.listen(id, said),
      ({ event }) => event !== 'progress',
    )
  })
  api.delete('/searches/:id', (c) =>
    jobs.stop(c.req.param('id')) ? c.body(null, 204) : c.json({ message: 'There is no such search here.' }, 404),
  )
  return api
}

/** The plan, or what is wrong with it. */
const planOf = (text: string): Plan | Refusal =>
  readOr(() => {
    const plan = readPlan(text)
    return needsLog(plan) ? refusal('This plan takes its load from a request log, which can not be sent along.') : plan
  })
