import { BadInput, driveElsewhere, Load, needsLog, readPlan, recommend, type Plan, type RecommendProgress } from '@sandclock/core'
import { trialPool, usualThreads } from '@sandclock/threads'
import { Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { streamSSE, type SSEStreamingApi } from 'hono/streaming'

/** A plan of this size has room for a thousand machines and fifty classes of twenty thousand listed lengths. */
const MOST_BYTES = 20_000_000
/** Searches at once; each has all threads for itself. */
const MOST_SEARCHES = 2

/**
 * Searches on the server: `POST /recommend` with a plan file as its body answers with server-sent events, `progress` as it
 * goes and then `answer`, or `failure` with a sentence. Who closes the connection stops the search and its threads at once.
 *
 * @param threads simulations at once
 * @param worker see `trialPool`
 */
export function searches(threads = usualThreads(), worker?: URL): Hono {
  const api = new Hono()
  let running = 0
  const tooLarge = bodyLimit({ maxSize: MOST_BYTES, onError: (c) => c.json({ message: `The plan is larger than ${MOST_BYTES / 1e6} MB.` }, 413) })
  api.post('/recommend', tooLarge, async (c) => {
    // A page of another origin can send plain text without being asked, but not this.
    if (!c.req.header('content-type')?.startsWith('application/json')) return c.json({ message: 'Send the plan as application/json.' }, 415)
    const plan = planOf(await c.req.text())
    if ('message' in plan) return c.json(plan, 422)
    if (running >= MOST_SEARCHES) return c.json({ message: `${running} searches are running here already. Wait for one to end, or stop it.` }, 429)
    running++
    return streamSSE(c, async (stream) => {
      try {
        await searchInto(stream, plan, threads, worker)
      } finally {
        running--
      }
    })
  })
  return api
}

/** The plan, or what is wrong with it. */
function planOf(text: string): Plan | { message: string; problems: BadInput['problems'] } {
  try {
    const plan = readPlan(text)
    if (!needsLog(plan)) return plan
    return { message: 'This plan takes its load from a request log, which can not be sent along.', problems: [] }
  } catch (error) {
    if (error instanceof BadInput) return { message: error.message, problems: error.problems }
    throw error
  }
}

async function searchInto(stream: SSEStreamingApi, plan: Plan, threads: number, worker: URL | undefined): Promise<void> {
  const load = new Load(plan, undefined, threads > 1 ? SharedArrayBuffer : ArrayBuffer)
  const pool = trialPool(plan, load, threads, worker)
  let gone = false
  stream.onAbort(() => {
    gone = true
    void pool.stop()
  })
  const tell = (event: string, data: unknown) => stream.writeSSE({ event, data: JSON.stringify(data) })
  try {
    await tell('answer', await driveElsewhere(recommend(plan, load), pool, (p: RecommendProgress) => void tell('progress', p)))
  } catch (error) {
    if (!gone) await tell('failure', { message: error instanceof Error ? error.message : String(error) })
  } finally {
    await pool.stop()
  }
}
