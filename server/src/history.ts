import { BadInput } from '@sandclock/core'
import { askHistory, type HistoryQuestion } from '@sandclock/outside'
import { Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { jsonOnly } from './ownPages.ts'

const MOST_BYTES = 10_000

/**
 * Metrics histories of monitoring servers, which a page may not ask itself.
 * - `POST /history` with a {@link HistoryQuestion} gives the JSON that the monitoring server answered, or 422 with a sentence.
 *
 * @param allowed machines that may be asked beside this one
 */
export function histories(allowed: readonly string[]): Hono {
  const api = new Hono()
  api.post('/history', jsonOnly('question'), bodyLimit({ maxSize: MOST_BYTES }), async (c) => {
    try {
      const text = await askHistory(questionOf(await c.req.json().catch(() => null)), allowed, Date.now() / 1000)
      return c.body(text, 200, { 'content-type': 'application/json' })
    } catch (error) {
      if (error instanceof BadInput) return c.json({ message: error.message }, 422)
      throw error
    }
  })
  return api
}

/** What was asked; fields that are not there are refused by their rules. */
function questionOf(body: unknown): HistoryQuestion {
  const { address, select, pastSeconds, stepSeconds } = (typeof body === 'object' && body !== null ? body : {}) as Record<string, unknown>
  return {
    address: String(address ?? ''),
    select: String(select ?? ''),
    pastSeconds: Number(pastSeconds),
    stepSeconds: Number(stepSeconds),
  }
}
