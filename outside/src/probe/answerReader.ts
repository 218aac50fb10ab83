import { createParser } from 'eventsource-parser'
import jsonpointer from 'jsonpointer'
import type { HowAnswered, ProbeOutcome } from '@sandclock/core'

/** Reads one answer as it comes, and notes by the clock when a piece of it had text. */
export class AnswerReader {
  /** of HTTP, once it is known */
  status = 0
  firstToken = NaN
  inputTokens: number | undefined
  readonly gaps: number[] = []
  private readonly how: HowAnswered
  private readonly now: () => number
  private readonly decoder = new TextDecoder()
  private readonly read: (text: string) => void
  private text = ''
  private outputTokens: number | undefined
  private pieces = 0
  private words = 0
  private lastAt = NaN
  private ended = false
  private failure: string | undefined
  private strange: string | undefined

  /** @param now seconds by the clock */
  constructor(how: HowAnswered, now: () => number) {
    this.how = how
    this.now = now
    this.read = this.taking()
  }

  /** Bytes as they came. */
  take(piece: Uint8Array): void {
    this.read(this.decoder.decode(piece, { stream: true }))
  }

  /** That no more comes: how it ended. */
  end(): { outcome: ProbeOutcome; why: string } {
    if (this.how.comes === 'lines' && this.text.trim() !== '') this.message(this.text)
    if (this.how.comes === 'whole') this.message(this.text)
    if (this.failure !== undefined) return { outcome: 'failed', why: this.failure }
    if (this.strange !== undefined) return { outcome: 'wrong', why: this.strange }
    if (this.how.end !== undefined && !this.ended) return { outcome: 'failed', why: 'it broke off before its end' }
    if (Number.isNaN(this.firstToken)) return { outcome: 'wrong', why: `no text at ${this.how.text ?? 'any place'}` }
    return { outcome: 'finished', why: '' }
  }

  /** Tokens of the answer as it is said that they are counted. @param asked where nothing says how many there are */
  tokens(asked: number): number {
    if (this.how.tokens === 'pieces') return this.pieces
    if (this.how.tokens === 'words') return this.words
    return this.outputTokens ?? (Number.isNaN(this.firstToken) ? 0 : asked)
  }

  private taking(): (text: string) => void {
    if (this.how.comes === 'whole') return (text) => (this.text += text)
    if (this.how.comes === 'lines')
      return (text) => {
        const lines = (this.text + text).split('\n')
        this.text = lines.pop() ?? ''
        for (const line of lines) if (line.trim() !== '') this.message(line)
      }
    const parser = createParser({
      onEvent: ({ event, data }) => {
        if (event === 'error') this.failure ??= data.slice(0, 200)
        else this.message(data)
      },
    })
    return (text) => parser.feed(text)
  }

  private message(text: string): void {
    const { how } = this
    if (typeof how.end === 'string' && text.trim() === how.end) return void (this.ended = true)
    let value: object
    try {
      const read: unknown = JSON.parse(text)
      if (typeof read !== 'object' || read === null) throw new SyntaxError('no object')
      value = read
    } catch {
      this.strange ??= `no JSON: ${text.slice(0, 80)}`
      return
    }
    const at = (pointer: string | undefined): unknown => (pointer === undefined ? undefined : jsonpointer.get(value, pointer))
    const failed = at(how.failure)
    if (failed !== undefined && failed !== null) this.failure ??= JSON.stringify(failed).slice(0, 200)
    if (typeof how.end === 'object') {
      const found = at(how.end.at)
      if (how.end.is === undefined ? found !== undefined && found !== null : JSON.stringify(found) === JSON.stringify(how.end.is))
        this.ended = true
    }
    const [input, output] = [at(how.inputTokens), at(how.outputTokens)]
    if (typeof input === 'number') this.inputTokens = input
    if (typeof output === 'number') this.outputTokens = output
    const words = how.text === undefined ? text : at(how.text)
    if (typeof words === 'string' && words !== '') this.came(words)
  }

  private came(words: string): void {
    const now = this.now()
    if (Number.isNaN(this.firstToken)) this.firstToken = now
    else this.gaps.push(now - this.lastAt)
    this.lastAt = now
    this.pieces++
    this.words += words.split(/\s+/).filter((w) => w !== '').length
  }
}
