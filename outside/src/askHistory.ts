import { BadInput } from '@sandclock/core'
import { isAllowed } from './allowed.ts'

/** Which part of its history a monitoring server is asked for. */
export interface HistoryQuestion {
  /** of its HTTP interface, such as http://localhost:9090; what comes before `/api/v1` may have a path */
  address: string
  /** which metrics, in the server's own way of selecting them; all if empty */
  select: string
  /** how long ago it begins, above 0 */
  pastSeconds: number
  /** from sample to sample, above 0 */
  stepSeconds: number
}

/** Monitoring servers give no more samples of a series at once. */
const MOST_SAMPLES = 11_000
const MOST_BYTES = 64_000_000
const PATIENCE_MS = 60_000
/** Every metric: a selector has to select by something. */
const EVERY = '{__name__=~".+"}'

const title = 'The monitoring server can not be asked.'
const refused = (path: string, rule: string, found?: string) => new BadInput(title, [{ path, ...(found !== undefined && { found }), rule }])

/**
 * Asks a monitoring server for the history of a range of time, over the HTTP interface of range queries that such systems share.
 *
 * @param allowed machines that may be asked beside this one
 * @param nowSeconds the end of the range, since 1970
 * @returns the JSON as it came, for `readHistory`
 * @throws BadInput with a sentence for a question that can not be asked, a machine that may not be, one that does not answer, and an
 *   answer that is too long or none
 */
export async function askHistory(question: HistoryQuestion, allowed: readonly string[], nowSeconds: number): Promise<string> {
  const url = addressOf(question, nowSeconds)
  if (!isAllowed(url.hostname, allowed))
    throw refused(
      'address',
      `names another machine than this one; say --allow-host ${url.hostname} at the start to have it asked`,
      url.host,
    )
  const answer = await answerOf(url)
  const text = await textOf(answer, url)
  // An error is explained in the answer itself, which the reader of histories says.
  if (!text.trimStart().startsWith('{'))
    throw refused('address', `answered ${answer.status}, and not as a monitoring server does to a query over a range of time`, url.host)
  return text
}

function addressOf({ address, select, pastSeconds, stepSeconds }: HistoryQuestion, nowSeconds: number): URL {
  if (!URL.canParse(address) || !/^https?:$/.test(new URL(address).protocol))
    throw refused('address', 'must be of http or https, such as http://localhost:9090', address)
  if (!(pastSeconds > 0)) throw refused('past', 'must be a time above 0, such as 8 d')
  if (!(stepSeconds > 0)) throw refused('step', 'must be a time above 0, such as 5 min')
  if (pastSeconds / stepSeconds > MOST_SAMPLES)
    throw refused(
      'step',
      `makes more than ${MOST_SAMPLES} samples of so long a time; take ${Math.ceil(pastSeconds / MOST_SAMPLES)} s or more`,
    )
  const url = new URL(address)
  url.pathname = `${url.pathname.replace(/\/$/, '')}/api/v1/query_range`
  // Ends of steps that are whole, so that the same question a moment later has the same samples.
  const end = Math.floor(nowSeconds / stepSeconds) * stepSeconds
  const start = end - Math.floor(pastSeconds / stepSeconds) * stepSeconds
  url.search = String(
    new URLSearchParams({ query: select.trim() === '' ? EVERY : select, start: `${start}`, end: `${end}`, step: `${stepSeconds}` }),
  )
  return url
}

async function answerOf(url: URL): Promise<Response> {
  try {
    // Where it would send one on to was not allowed.
    return await fetch(url, { redirect: 'error', signal: AbortSignal.timeout(PATIENCE_MS), headers: { accept: 'application/json' } })
  } catch (error) {
    throw silent(url, error)
  }
}

/** Who does not answer, or stops in the middle of it. */
function silent(url: URL, error: unknown): BadInput {
  const cause = error instanceof Error && error.cause instanceof Error ? error.cause : error
  const why = cause instanceof Error ? ('code' in cause ? String(cause.code) : cause.message) : String(cause)
  return refused('address', `does not answer to the end (${why}); look whether the server runs there`, url.host)
}

async function textOf(answer: Response, url: URL): Promise<string> {
  const pieces: Uint8Array[] = []
  let bytes = 0
  try {
    for await (const piece of answer.body ?? []) {
      bytes += piece.byteLength
      if (bytes > MOST_BYTES) throw refused('select', `gives more than ${MOST_BYTES / 1e6} MB; name fewer metrics, or take longer steps`)
      pieces.push(piece)
    }
  } catch (error) {
    throw error instanceof BadInput ? error : silent(url, error)
  }
  return Buffer.concat(pieces).toString('utf8')
}
