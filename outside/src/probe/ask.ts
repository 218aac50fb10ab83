import { errors, type Dispatcher } from 'undici'
import { filledBody, promptOf, type Asking, type HowToAsk, type ProbedRequest } from '@sandclock/core'
import { AnswerReader } from './answerReader.ts'

/** What is known of a request when it is sent. */
export type Sending = Pick<ProbedRequest, 'number' | 'part' | 'warmUp' | 'due' | 'atOnce'> & { asking: Asking }

/** An answer longer than this is none. */
const MOST_BYTES = 64_000_000

/** Asks one endpoint, one request at a time or many side by side, and notes by the clock what comes when. */
export class Asker {
  private readonly how: HowToAsk
  private readonly headers: Record<string, string>
  private readonly connections: Dispatcher
  /** seconds after the probe began */
  private readonly now: () => number

  /** @param headers with their secrets, which stay here; @param connections by which it asks */
  constructor(how: HowToAsk, headers: Record<string, string>, connections: Dispatcher, now: () => number) {
    this.how = how
    this.headers = headers
    this.connections = connections
    this.now = now
  }

  /** Sends a request and reads its answer to the end. Whatever becomes of it is an outcome: nothing is thrown. */
  async ask({ asking, ...known }: Sending, stopped: AbortSignal): Promise<ProbedRequest> {
    const { how, now } = this
    const reader = new AnswerReader(how.answer, now)
    const body = this.bodyOf(asking, known.number)
    const ending = new AbortController()
    const end = () => ending.abort()
    const patience = setTimeout(end, how.timeoutSeconds * 1000)
    stopped.addEventListener('abort', end)
    const sent = now()
    const came = await this.exchange(body, reader, ending.signal).catch((error: unknown): Came => {
      const status = reader.status
      if (stopped.aborted) return { outcome: 'stopped', status, why: '' }
      if (ending.signal.aborted) return { outcome: 'timed-out', status, why: `not whole after ${how.timeoutSeconds} s` }
      return { outcome: status === 0 && nobodyThere(error) ? 'unreachable' : 'failed', status, why: causeOf(error) }
    })
    clearTimeout(patience)
    stopped.removeEventListener('abort', end)
    return {
      ...known,
      ...came,
      sent,
      end: now(),
      firstToken: reader.firstToken,
      input: reader.inputTokens ?? asking.input,
      output: reader.tokens(asking.output),
      gaps: reader.gaps,
    }
  }

  private bodyOf({ input, output, prompt }: Asking, number: number): string | undefined {
    const { body } = this.how
    return body === undefined
      ? undefined
      : JSON.stringify(filledBody(body, { prompt: prompt ?? promptOf(input, number), input, output, number }))
  }

  private async exchange(body: string | undefined, reader: AnswerReader, signal: AbortSignal): Promise<Came> {
    const { url, method } = this.how
    const json = body === undefined ? {} : { 'content-type': 'application/json' }
    const answer = await this.connections.request({
      origin: new URL(url).origin,
      path: pathOf(url),
      method,
      headers: { accept: 'text/event-stream, application/json', ...json, ...this.headers },
      ...(body !== undefined && { body }),
      signal,
      // Its own time-outs would hide ours.
      headersTimeout: 0,
      bodyTimeout: 0,
    })
    const status = (reader.status = answer.statusCode)
    if (status >= 300) return { outcome: 'rejected', status, why: await wordsOf(answer.body) }
    let bytes = 0
    for await (const piece of answer.body as AsyncIterable<Buffer>) {
      bytes += piece.byteLength
      if (bytes > MOST_BYTES) return { outcome: 'wrong', status, why: `more than ${MOST_BYTES / 1e6} MB came` }
      reader.take(piece)
    }
    return { ...reader.end(), status }
  }
}

/** How it ended. */
type Came = Pick<ProbedRequest, 'outcome' | 'status' | 'why'>

function pathOf(url: string): string {
  const { pathname, search } = new URL(url)
  return `${pathname}${search}`
}

const MOST_LETTERS = 200

/** The beginning of what a refusal says; more of it is not waited for. */
async function wordsOf(body: Dispatcher.ResponseData['body']): Promise<string> {
  const decoder = new TextDecoder()
  let text = ''
  for await (const piece of body as AsyncIterable<Buffer>) {
    text += decoder.decode(piece, { stream: true })
    if (text.length >= MOST_LETTERS) break
  }
  return text.slice(0, MOST_LETTERS)
}

const codeOf = (error: unknown) => (error instanceof Error && 'code' in error ? String(error.code) : '')
const nobodyThere = (error: unknown) =>
  /^(ECONNREFUSED|ENOTFOUND|EAI_AGAIN|EHOSTUNREACH|ENETUNREACH|UND_ERR_CONNECT_TIMEOUT)$/.test(codeOf(error))
function causeOf(error: unknown): string {
  if (error instanceof errors.SocketError) return 'the connection broke off'
  return codeOf(error) || (error instanceof Error ? error.message : String(error))
}
