import { afterEach, describe, expect, it, vi } from 'vitest'
import { hearProbe } from './serverProbe.ts'

/** A stream of events that the test sends. */
class Stream {
  static last: Stream
  static readonly CLOSED = 2
  readyState = 1
  private readonly listeners = new Map<string, ((e: object) => void)[]>()
  readonly url: string
  constructor(url: string) {
    this.url = url
    Stream.last = this
  }
  addEventListener(event: string, listener: (e: object) => void): void {
    this.listeners.set(event, [...(this.listeners.get(event) ?? []), listener])
  }
  close(): void {
    this.readyState = Stream.CLOSED
  }
  send(event: string, data?: unknown): void {
    for (const listener of this.listeners.get(event) ?? []) listener({ data: JSON.stringify(data) })
  }
}

describe('a measurement that is heard', () => {
  afterEach(() => void vi.unstubAllGlobals())
  function heard() {
    vi.stubGlobal('EventSource', Stream)
    const said: unknown[] = []
    hearProbe('x', {
      rows: (rows) => said.push(rows.map((r) => [r.number, r.firstToken])),
      end: (end) => said.push(end),
      failure: (sentence) => said.push(sentence),
    })
    return { said, stream: Stream.last }
  }
  const row = (number: number, firstToken: number | null = number) => ({ number, firstToken })

  it('has each request once, also when the connection broke and all is said again', () => {
    const { said, stream } = heard()
    expect(stream.url).toBe('/api/probes/x')
    stream.send('open')
    stream.send('rows', [row(0), row(1, null)])
    stream.send('rows', [row(2)])
    stream.send('open')
    stream.send('rows', [row(0), row(1, null), row(2), row(3)])
    stream.send('rows', [row(4)])
    stream.send('end', { cutShort: 'told' })
    expect(said).toEqual([
      [
        [0, 0],
        [1, NaN],
      ],
      [[2, 2]],
      [[3, 3]],
      [[4, 4]],
      { cutShort: 'told' },
    ])
    expect(stream.readyState).toBe(Stream.CLOSED)
  })

  it('ends with a sentence when the server says one, or does not know it any more', async () => {
    const failing = heard()
    failing.stream.send('failure', { message: 'No such machine.' })
    expect(failing.said).toEqual(['No such machine.'])
    vi.useFakeTimers()
    const knows = vi.fn().mockResolvedValue({ json: () => Promise.resolve({ id: 'x' }) })
    vi.stubGlobal('fetch', knows)
    const lost = heard()
    lost.stream.send('error')
    await vi.advanceTimersByTimeAsync(5000)
    expect(knows).not.toHaveBeenCalled() // it comes back by itself
    lost.stream.send('open')
    lost.stream.send('rows', [row(0)])
    lost.stream.close()
    lost.stream.send('error')
    await vi.advanceTimersByTimeAsync(5000)
    // The server knows it: it is listened to again.
    expect(Stream.last).not.toBe(lost.stream)
    Stream.last.send('open')
    Stream.last.send('rows', [row(0), row(1)])
    knows.mockResolvedValue({ json: () => Promise.resolve({ id: 'another' }) })
    Stream.last.close()
    Stream.last.send('error')
    expect(lost.said).toEqual([[[0, 0]], [[1, 1]]])
    await vi.advanceTimersByTimeAsync(5000)
    expect(lost.said.at(-1)).toContain('does not know this measurement any more')
    vi.useRealTimers()
  })
})
