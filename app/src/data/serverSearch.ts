import type { Answer, RecommendProgress } from '@sandclock/core'

const ADDRESS = '/api/searches'
/** A server that does not answer so soon is none. */
const PATIENCE_MS = 10_000
/** A plan may be large, and the way slow. */
const TAKING_MS = 30_000

/** How many threads a search on the server has; 0 where there is no server, or no room on it. */
export async function serverThreads(): Promise<number> {
  try {
    const answer = await fetch(ADDRESS, { signal: AbortSignal.timeout(PATIENCE_MS) })
    if (!answer.ok || !answer.headers.get('content-type')?.startsWith('application/json')) return 0
    const { threads, room } = (await answer.json()) as { threads: number; room: number }
    return room > 0 ? threads : 0
  } catch {
    return 0
  }
}

/** Begins a search there, or joins the one of the same plan. @returns its name; undefined where the server does not take it */
export async function beginOnServer(planText: string): Promise<string | undefined> {
  try {
    const headers = { 'content-type': 'application/json' }
    const begun = await fetch(ADDRESS, { method: 'POST', body: planText, headers, signal: AbortSignal.timeout(TAKING_MS) })
    return begun.ok ? ((await begun.json()) as { id: string }).id : undefined
  } catch {
    return undefined
  }
}

/** Ends a search there. */
export const endOnServer = (id: string): void => void fetch(`${ADDRESS}/${id}`, { method: 'DELETE' }).catch(() => undefined)

/** Listens to a search there: what is said of it is long, and read where no page waits. */
export function hearServer(id: string, onProgress: (p: RecommendProgress) => void): { answer: Promise<Answer>; close: () => void } {
  const events = new EventSource(`${ADDRESS}/${id}`)
  const answer = new Promise<Answer>((resolve, reject) => {
    const on = <T>(event: string, take: (data: T) => void) =>
      events.addEventListener(event, (e) => take(JSON.parse((e as MessageEvent<string>).data) as T))
    on('progress', onProgress)
    on<Answer>('answer', (found) => {
      events.close()
      resolve(found)
    })
    on<{ message: string }>('failure', ({ message }) => {
      events.close()
      reject(new Error(message))
    })
    // It comes back by itself from a broken connection, and gives up when the server has forgotten the search.
    events.addEventListener('error', () => {
      if (events.readyState === EventSource.CLOSED) reject(new Error('the server does not know the search any more'))
    })
  })
  return { answer, close: () => events.close() }
}
