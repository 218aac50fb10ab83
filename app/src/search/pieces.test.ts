import type { Answer, RecommendProgress, RejectedOption } from '@sandclock/core'
import * as fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { PieceReader, piecesOf, PieceSender, type Listener } from './pieces.ts'

/** Options by their number: nothing here looks into them. */
const options = (count: number, from: number) => Array.from({ length: count }, (_, i) => from + i) as unknown as RejectedOption[]
const answerOf = (counts: readonly number[], name: string) =>
  ({ name, services: counts.map((count, i) => ({ service: `s${i}`, rejected: options(count, i * 10_000) })) }) as unknown as Answer
const progress = (settled: number, answer?: Answer) => ({ settled, ...(answer && { answer }) }) as RecommendProgress

/** A listener in another thread: it takes what is sent as a copy, and a while. */
function remote(listener: Listener): Listener & { largest: number } {
  const far = {
    largest: 0,
    piece: async (piece: Parameters<Listener['piece']>[0]) => {
      far.largest = Math.max(far.largest, piece.rejected.length)
      await listener.piece(structuredClone(piece))
    },
    progress: async (p: RecommendProgress) => listener.progress(structuredClone(p)),
  }
  return far
}

describe('answers in pieces', () => {
  it('are what was sent, in the order in which it was told, and no piece is long', async () => {
    const counts = fc.array(fc.integer({ min: 0, max: 1200 }), { maxLength: 4 })
    await fc.assert(
      fc.asyncProperty(fc.array(fc.option(counts, { nil: undefined }), { maxLength: 6 }), counts, async (told, last) => {
        const heard: RecommendProgress[] = []
        const reader = new PieceReader()
        const far = remote(
          reader.listener(
            (p) => heard.push(p),
            () => Promise.resolve(),
          ),
        )
        const sender = new PieceSender(far)
        const said = told.map((c, i) => progress(i, c && answerOf(c, `early ${i}`)))
        for (const p of said) sender.progress(p)
        const final = answerOf(last, 'last')
        expect(reader.answer(structuredClone(await sender.answer(final)))).toEqual(final)
        expect(heard).toEqual(said)
        expect(far.largest).toBeLessThanOrEqual(250)
      }),
      { numRuns: 50 },
    )
  })

  it('are seen when the page has drawn them, and not before', async () => {
    let draw: () => void = () => undefined
    const heard: number[] = []
    const sender = new PieceSender(
      remote(
        new PieceReader().listener(
          (p) => heard.push(p.settled),
          () => new Promise((resolve) => (draw = resolve)),
        ),
      ),
    )
    let isSeen = false
    sender.progress(progress(1, answerOf([300], 'early')))
    void sender.seen.then(() => (isSeen = true))
    await expect.poll(() => heard).toEqual([1])
    expect(isSeen).toBe(false)
    draw()
    await expect.poll(() => isSeen).toBe(true)
  })

  it('leave nothing of one answer for the next', () => {
    const reader = new PieceReader()
    for (const piece of piecesOf(answerOf([3], 'a'))) reader.piece(piece)
    expect(reader.answer(answerOf([0], 'a')).services[0].rejected).toHaveLength(3)
    expect(reader.answer(answerOf([0], 'b')).services[0].rejected).toEqual([])
  })
})
