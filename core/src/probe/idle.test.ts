import * as fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { idleOf, idleShown, idleWords } from './idle.ts'
import type { ProbedRequest } from './probed.ts'
import { partsOfShape, type PartShown, type ProbeShape } from './shape.ts'
import { shownBy, summarisePart } from './summary.ts'

interface Sleeper {
  sleepsAfter: number
  startSeconds: number
  holds: boolean
}
const WARM = 0.4

/** What a load shows of a service that sleeps, without waiting for it: its own clock runs from call to call. */
function measured(shape: ProbeShape, { sleepsAfter, startSeconds, holds }: Sleeper): ProbedRequest[] {
  const rows: ProbedRequest[] = []
  const load = partsOfShape(shape)
  let now = 0
  let next = load.next()
  while (!next.done) {
    const part = next.value
    const own: ProbedRequest[] = []
    now += part.idleSeconds ?? 0
    for (const { input, output } of part.asking) {
      const idle = now - (rows.at(-1)?.end ?? -Infinity)
      const isAsleep = idle >= sleepsAfter
      const first = WARM + (isAsleep ? startSeconds : 0)
      const turnedAway = isAsleep && !holds
      const end = now + (turnedAway ? 0.001 : first + 1)
      const row: ProbedRequest = {
        number: rows.length,
        part: part.label,
        warmUp: part.warmUp ?? false,
        due: now,
        sent: now,
        atOnce: 1,
        firstToken: turnedAway ? NaN : now + first,
        end,
        outcome: turnedAway ? 'rejected' : 'finished',
        status: turnedAway ? 503 : 200,
        why: '',
        input,
        output,
        gaps: [],
      }
      // Who is turned away wakes it all the same.
      now = turnedAway ? end + startSeconds : end
      rows.push(row)
      own.push(row)
    }
    const shown: PartShown = shownBy(summarisePart(part.label, own))
    next = load.next(shown)
  }
  return rows
}

const shape: ProbeShape = { kind: 'find-idle', fromSeconds: 30, mostSeconds: 3600, sizes: [{ input: 10, output: 20 }], warmUp: 1, seed: 1 }

describe('what the first calls after idle show', () => {
  it('is when a service sleeps and how long it starts, whichever they are', () => {
    const sleeper = fc.record({
      sleepsAfter: fc.double({ min: 5, max: 3500, noNaN: true }),
      startSeconds: fc.double({ min: 1, max: 300, noNaN: true }),
      holds: fc.constant(true),
    })
    fc.assert(
      fc.property(sleeper, (of) => {
        const { awakeSeconds = 0, asleepSeconds, start, refused } = idleShown(measured(shape, of))!
        expect(awakeSeconds).toBeLessThan(of.sleepsAfter)
        expect(asleepSeconds).toBeGreaterThanOrEqual(of.sleepsAfter)
        expect(asleepSeconds! - awakeSeconds).toBeLessThanOrEqual(Math.max(1, 0.1 * asleepSeconds!) + 1e-6)
        expect(start!.value).toBeCloseTo(of.startSeconds, 6)
        expect(refused).toBeUndefined()
      }),
    )
  })

  it('is how a policy sleeps: half-way between what was tried, its first caller held or turned away', () => {
    const idle = (of: Sleeper) => idleOf(idleShown(measured(shape, of))!)
    expect(idle({ sleepsAfter: 290, startSeconds: 40, holds: true })).toEqual({
      seconds: expect.closeTo(285, 6) as number,
      firstCaller: 'hold',
    })
    expect(idle({ sleepsAfter: 290, startSeconds: 40, holds: false })).toMatchObject({ firstCaller: 'refuse' })
    expect(idle({ sleepsAfter: 1e9, startSeconds: 40, holds: true })).toBeUndefined()
    expect(idleOf({ asleepSeconds: 600 })).toEqual({ seconds: 600, firstCaller: 'hold' })
  })

  it('is told in words: held or turned away, never asleep, or one idle time alone', () => {
    const words = (s: ProbeShape, of: Sleeper) =>
      idleWords(idleShown(measured(s, of)))
        .join(' ')
        .replaceAll(/\s/g, ' ')
    expect(words(shape, { sleepsAfter: 290, startSeconds: 40, holds: true })).toMatch(
      /^It goes to sleep between 4 min 30 s and 5 min after the last call\. Who comes first then waits 40\.0 s longer than the 400 ms of others.*, by \d calls: a start-up\.$/,
    )
    expect(words(shape, { sleepsAfter: 290, startSeconds: 40, holds: false })).toMatch(
      /after the last call\. Who comes first then is turned away, with status 503\.$/,
    )
    expect(words(shape, { sleepsAfter: 1e9, startSeconds: 40, holds: true })).toBe(
      'It was still awake after 1 h without a call: it never slept here.',
    )
    const one: ProbeShape = { kind: 'after-idle', idleSeconds: 600, times: 4, sizes: shape.sizes, warmUp: 1, seed: 1 }
    // Nobody else was asked: there is nothing to tell a start-up from.
    expect(idleShown(measured(one, { sleepsAfter: 300, startSeconds: 9, holds: true }))).toBeUndefined()
    expect(words({ ...one, warmUp: 3 }, { sleepsAfter: 300, startSeconds: 9, holds: true })).toBe(
      'It sleeps after 10 min without a call; after how much less was not tried. Who comes first then waits 9.00 s longer than the 400 ms of others, by 4 calls: a start-up.',
    )
  })
})
