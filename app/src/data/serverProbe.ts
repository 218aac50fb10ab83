import type { CutShort, ProbedRequest, StatedOrder } from '@sandclock/core'

/** How a measurement ended: cut short by what, and what it cost, as far as that is known. */
export interface ProbeEnd {
  cutShort?: CutShort
  spent?: number
}

/** What is heard of a measurement on the server. */
export interface ProbeNews {
  rows: (rows: ProbedRequest[]) => void
  end: (end: ProbeEnd) => void
  failure: (sentence: string) => void
}

const ADDRESS = '/api/probes'
const NO_SERVER = 'The server of this page does not answer. Start it again, or measure with the command line and drop its file here.'

/** Has the server begin to measure. @returns its name there, or a sentence that says why it does not */
export async function beginProbe(order: StatedOrder): Promise<{ id: string } | { message: string }> {
  try {
    const answer = await fetch(ADDRESS, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(order) })
    const said = (await answer.json()) as { id: string } | { message: string }
    return 'id' in said || 'message' in said ? said : { message: `The server of this page answered ${answer.status}.` }
  } catch {
    return { message: NO_SERVER }
  }
}

/** Listens to a measurement, from its beginning, whichever connections it takes. @returns how to stop listening */
export function hearProbe(id: string, news: ProbeNews): () => void {
  let events: EventSource
  let heard = 0
  let over = false
  const end = (tell: () => void) => {
    if (over) return
    over = true
    events.close()
    tell()
  }
  function connect(): void {
    events = new EventSource(`${ADDRESS}/${id}`)
    const on = <T>(event: string, take: (data: T) => void) =>
      events.addEventListener(event, (e) => take(JSON.parse((e as MessageEvent<string>).data) as T))
    // With each connection all is said from the beginning, in one piece.
    let isFirst = true
    events.addEventListener('open', () => (isFirst = true))
    on<ProbedRequest[]>('rows', (rows) => {
      const fresh = isFirst ? rows.slice(heard) : rows
      isFirst = false
      heard += fresh.length
      news.rows(fresh.map(revived))
    })
    on<ProbeEnd>('end', (how) => end(() => news.end(how)))
    on<{ message: string }>('failure', ({ message }) => end(() => news.failure(message)))
    events.addEventListener('error', () => {
      if (events.readyState === EventSource.CLOSED) void lost()
    })
  }
  /** A page that is left loses its connections as well: what is told after a while is told to those who stay. */
  async function lost(): Promise<void> {
    await new Promise((next) => setTimeout(next, STAYS_MS))
    const known = await knows(id)
    if (over) return
    if (known) connect()
    else end(() => news.failure('The server does not know this measurement any more; what came until then is kept.'))
  }
  connect()
  return () => end(() => undefined)
}

const STAYS_MS = 1000
const knows = async (id: string): Promise<boolean> => {
  try {
    return ((await (await fetch(ADDRESS)).json()) as { id?: string }).id === id
  } catch {
    return false
  }
}

/** Stops it; its end is heard by who listens. @returns whether the server answered */
export const stopProbe = (id: string): Promise<boolean> =>
  fetch(`${ADDRESS}/${id}`, { method: 'DELETE' }).then(
    () => true,
    () => false,
  )

/** JSON has no word for a first token that never came. */
const revived = (row: ProbedRequest): ProbedRequest => ({ ...row, firstToken: (row.firstToken as number | null) ?? NaN })
