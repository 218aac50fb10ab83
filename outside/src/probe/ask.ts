import { errors, type Dispatcher } from 'undici'
import { filled, promptOf, type Asking, type HowToAsk, type ProbedRequest, type ProbeOutcome } from '@sandclock/core'
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
    const { input, output } = asking
    const prompt = asking.prompt ?? promptOf(input, known.number)
    const body = how.body === undefined ? undefined : JSON.stringify(filled(how.body, { prompt, input, output, number: known.number }))
    const reader = new AnswerReader(how.answer, now)
    const late = AbortSignal.timeout(how.timeoutSeconds * 1000)
    const signal = AbortSignal.any([late, stopped])
    const sent = now()
    const row = (outcome: ProbeOutcome, status: number, why = ''): ProbedRequest => ({
      ...known,
      sent,
      end: now(),
      firstToken: reader.firstToken,
      outcome,
      status,
      why,
      input: reader.inputTokens ?? input,
      output: reader.tokens(output),
      gaps: reader.gaps,
    })
    let status = 0
    try {
      const { url, method } = how
      const answer = await this.connections.request({
        origin: new URL(url).origin,
        path: pathOf(url),
        method,
        headers: {
          accept: 'text/event-stream, application/json',
          ...(body !== undefined && { 'content-type': 'application/json' }),
          ...this.headers,
        },
        ...(body !== undefined && { body }),
        signal,
        // Its own time-outs would hide ours.
        headersTimeout: 0,
        bodyTimeout: 0,
      })
      status = answer.statusCode
      if (status >= 300) return row('rejected', status, await wordsOf(answer.body))
      let bytes = 0
      for await (const piece of answer.body as AsyncIterable<Buffer>) {
        bytes += piece.byteLength
        if (bytes > MOST_BYTES) return row('wrong', status, `more than ${MOST_BYTES / 1e6} MB came`)
        reader.take(piece)
      }
      const { outcome, why } = reader.end()
      return row(outcome, status, why)
    } catch (error) {
      if (stopped.aborted) return row('stopped', status)
      if (late.aborted) return row('timed-out', status, `not whole after ${how.timeoutSeconds} s`)
      return row(status === 0 && nobodyThere(error) ? 'unreachable' : 'failed', status, causeOf(error))
    }
  }
}

function pathOf(url: string): string {
  const { pathname, search } = new URL(url)
  return `${pathname}${search}`
}

/** The beginning of what a refusal says. */
async function wordsOf(body: Dispatcher.ResponseData['body']): Promise<string> {
  const text = await body.text()
  return text.slice(0, 200)
}

const codeOf = (error: unknown) => (error instanceof Error && 'code' in error ? String(error.code) : '')
const nobodyThere = (error: unknown) =>
  /^(ECONNREFUSED|ENOTFOUND|EAI_AGAIN|EHOSTUNREACH|ENETUNREACH|UND_ERR_CONNECT_TIMEOUT)$/.test(codeOf(error))
function causeOf(error: unknown): string {
  if (error instanceof errors.SocketError) return 'the connection broke off'
  return codeOf(error) || (error instanceof Error ? error.message : String(error))
}
