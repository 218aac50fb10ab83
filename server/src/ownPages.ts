import type { MiddlewareHandler } from 'hono'

/** Lets only JSON begin something here: a page of another origin can send plain text without being asked, but not this. */
export const jsonOnly =
  (what: string): MiddlewareHandler =>
  async (c, next) => {
    if (c.req.method !== 'POST' || c.req.header('content-type')?.startsWith('application/json')) return next()
    return c.json({ message: `Send the ${what} as application/json.` }, 415)
  }
