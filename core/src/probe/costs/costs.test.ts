import { describe, expect, it } from 'vitest'
import { measuredRows, type TestLoad } from '../../../test/measuredRows.ts'
import { exp, ln } from '../../arithmetic/sameBits.ts'
import { RandomStream } from '../../random/stream.ts'
import { probedCsv } from '../probed.ts'
import { readProbed } from '../readProbed.ts'
import { beliefSentence, doubtWords, misfitWords } from './beliefWords.ts'
import { fitSteps } from './fitSteps.ts'
import { judge, wereFitted } from './judge.ts'
import { replay } from './replay.ts'
import { specOfSteps } from '../../service/measured/stepCoefficients.ts'
import { readQuantity } from '../../units/quantity.ts'

const served = { replicas: 1, sequences: 64, prompts: 'whole' as const }
const sizes: [number, number][] = [
  [150, 30],
  [900, 45],
  [400, 25],
  [2200, 35],
]
const steps: TestLoad[] = [
  { part: '1 at once', clients: 1, requestsEach: 12, sizes },
  { part: '4 at once', clients: 4, requestsEach: 12, sizes },
  { part: '16 at once', clients: 16, requestsEach: 8, sizes },
]
const JITTER = 8e-4
const seconds = (words: string) => {
  const reading = readQuantity(words, 'duration')
  return 'value' in reading ? reading.value : NaN
}
/** P0, P1, M, O, m1, W */
const PLAIN = [0.006, 9e-5, 0.014, 2e-4, 1.2e-7, 0.002]

/** Plausible coefficients, alike at every size. */
function hidden(random: RandomStream): number[] {
  const between = (low: number, high: number) => low * exp(ln(high / low) * random.next())
  return [between(0.002, 0.02), between(2e-5, 2e-4), between(0.006, 0.03), between(2e-5, 4e-4), between(3e-8, 4e-7), between(5e-4, 5e-3)]
}
/** Requests a second that keep it busy for seven tenths, of these sizes with eight side by side. */
function sevenTenths([p0, p1, m, o, m1]: readonly number[]): number {
  const mean = (of: (size: [number, number]) => number) => sizes.reduce((sum, s) => sum + of(s), 0) / sizes.length
  const step = m + 8 * o + 8 * m1 * mean(([p, a]) => p + a / 2)
  return 0.7 / (p0 + p1 * mean(([p]) => p) + (mean(([, a]) => a) * step) / 8)
}

describe('step costs behind measured requests', () => {
  it('are found exactly where every token was seen when it was made', () => {
    const random = new RandomStream(1, 'exact costs')
    for (let i = 0; i < 6; i++) {
      const truth = hidden(random)
      const fitted = fitSteps(measuredRows(truth, served, steps, 0, i), served)!
      truth.forEach((value, c) => expect(Math.abs(fitted.values[c] / value - 1)).toBeLessThan(1e-4))
      expect(fitted.medianError).toBeLessThan(1e-4)
      expect(fitted.mostAtOnce).toBe(16)
    }
  })

  it('are found where prompts and steps take but a few milliseconds', () => {
    const quick = [8e-4, 1e-6, 0.004, 5e-5, 1e-8, 5e-4]
    const fitted = fitSteps(measuredRows(quick, served, steps, 0, 11), served)!
    quick.forEach((value, c) => expect(Math.abs(fitted.values[c] / value - 1)).toBeLessThan(1e-3))
  })

  it('are found within their intervals as often as these say, and predict a load that was not fitted', () => {
    const random = new RandomStream(1, 'costs')
    const PROFILES = 60
    const within: number[] = []
    let inside = 0
    for (let i = 0; i < PROFILES; i++) {
      const truth = hidden(random)
      const fitted = fitSteps(measuredRows(truth, served, steps, JITTER, i + 1), served)!
      // What is seen late in the mean is a part of the way.
      const seen = truth.map((v, c) => (c === 5 ? v + JITTER / 2 : v))
      fitted.intervals.forEach((interval, c) => {
        if (interval && interval.low <= seen[c] && seen[c] <= interval.high) inside++
      })
      const load: TestLoad = { part: 'not fitted', perSecond: sevenTenths(truth), requests: 300, sizes }
      within.push(judge(fitted, measuredRows(truth, served, [load], JITTER, 1000 + i))!.within)
    }
    // 360 intervals of 95 of 100; three standard deviations are 3.4 %.
    expect(inside / (6 * PROFILES)).toBeGreaterThan(0.915)
    expect(inside / (6 * PROFILES)).toBeLessThan(0.985)
    within.sort((a, b) => a - b)
    expect(within[PROFILES / 2]).toBeLessThan(0.01)
    expect(within[Math.floor(PROFILES * 0.9)]).toBeLessThan(0.03)
    expect(within[PROFILES - 1]).toBeLessThan(0.06)
  })

  it('come from replays where tokens were not seen one by one, or prompts are read in chunks', () => {
    const apart = measuredRows(PLAIN, served, steps, 0, 3).map((r) => ({ ...r, gaps: r.gaps.slice(0, 1) }))
    const fitted = fitSteps(apart, served)!
    expect(fitted.medianError).toBeLessThan(0.1)
    const chunks = { ...served, prompts: 'interleaved' as const }
    const rows = measuredRows(PLAIN, chunks, steps.slice(0, 2), 0, 4)
    const of = fitSteps(rows, chunks)!
    expect(of.medianError).toBeLessThan(0.1)
    expect(Math.abs(of.values[2] / PLAIN[2] - 1)).toBeLessThan(0.15)
    expect(of.intervals.every((i) => i === undefined)).toBe(true)
    expect(doubtWords(of)).toEqual([expect.stringContaining('how sure each is can not be told') as string])
    expect(fitSteps(rows.slice(0, 5), chunks)).toBeUndefined()
  })

  it('are the engine’s own when they are replayed', () => {
    const rows = measuredRows(PLAIN, served, [{ part: 'a', perSecond: 3, requests: 60, sizes }], 0, 5)
    const { firstToken, end } = replay(
      rows.map((r) => ({ seconds: r.sent + PLAIN[5], input: r.input, output: r.output })),
      specOfSteps(PLAIN),
      served,
    )
    rows.forEach((r, i) => {
      expect(Math.abs(r.firstToken - firstToken[i])).toBeLessThan(1e-6)
      expect(Math.abs(r.end - end[i])).toBeLessThan(1e-6)
    })
  })
})

describe('what is said of a fit', () => {
  const fitted = fitSteps(measuredRows(PLAIN, served, steps, JITTER, 6), served)!

  it('is first how far it can be believed, by what was not fitted', () => {
    const rows = measuredRows(PLAIN, served, [{ part: 'a crowd', clients: 32, requestsEach: 12, sizes }], JITTER, 7)
    const judged = judge(fitted, rows)!
    expect(judged.mostAtOnce).toBe(32)
    expect(judged.within).toBeLessThan(0.05)
    expect(beliefSentence(judged)).toMatch(
      /^Believable to within \d\.\d+\s% .* up to 32 at once, as 384 requests of “a crowd” showed, which were not fitted; nothing was measured beyond\./,
    )
    for (const { figure, share, measured, predictedSeconds } of judged.percentiles) {
      expect(measured.value).toBeGreaterThan(0)
      expect(predictedSeconds, `${figure} ${share}`).toBeGreaterThan(0)
    }
    expect(beliefSentence(judge(fitted, rows.slice(0, 20))!)).toContain('too few for the p95 to be known well itself')
    expect(judge(fitted, [])).toBeUndefined()
    expect(wereFitted(fitted, rows)).toBe(false)
    expect(wereFitted(fitted, [...rows, measuredRows(PLAIN, served, steps, JITTER, 6)[40]])).toBe(true)
  })

  it('is what it could not tell, and which measurement would', () => {
    const one = fitSteps(
      measuredRows(PLAIN, served, [{ part: 'one', clients: 1, requestsEach: 30, sizes: [[400, 30]] }], JITTER, 8),
      served,
    )!
    const words = doubtWords(one, { currency: 'EUR', perRequest: 0.01, perInputToken: 1e-6, perOutputToken: 2e-4, perHour: 0 })
    expect(words.slice(0, 2)).toEqual(['P0, P1 and W can not be told apart by this.', 'M, O and m1 can not be told apart by this.'])
    // Of what is left open each may be anything from nothing to all: what is true is in it.
    PLAIN.forEach((truth, c) => {
      expect(one.intervals[c]!.low).toBe(0)
      expect(one.intervals[c]!.high).toBeGreaterThan(truth)
    })
    const told =
      /^One further measurement would tell: ([\d,]+) at once, ([\d+,]+) tokens in turn, 8 requests of each caller; (\d+) requests, (.+) to (.+), ([\d.]+)\sEUR\.$/
    const [, clients, pairs, requests, least, most, money] = told.exec(words[2])!
    const loads = clients
      .split(',')
      .map((c): TestLoad => ({
        part: `${c} at once, further`,
        clients: Number(c),
        requestsEach: 8,
        sizes: pairs.split(',').map((pair) => pair.split('+').map(Number) as [number, number]),
      }))
    const rows = measuredRows(PLAIN, served, loads, JITTER, 10)
    expect(rows).toHaveLength(Number(requests))
    // It takes and costs what is said, and what it shows leaves nothing in doubt.
    const lasts = (part: string) => {
      const mine = rows.filter((r) => r.part === part)
      return Math.max(...mine.map((r) => r.end)) - Math.min(...mine.map((r) => r.sent))
    }
    const took = loads.reduce((sum, { part }) => sum + lasts(part), 0)
    expect(took).toBeGreaterThan(seconds(least))
    expect(took).toBeLessThan(seconds(most))
    const cost = rows.reduce((sum, r) => sum + 0.01 + 1e-6 * r.input + 2e-4 * r.output, 0)
    expect(Number(money)).toBeCloseTo(cost, 2)
    expect(doubtWords(fitSteps(rows, served)!)).toEqual([])
    // A machine that is rented for it, at an amount a second, costs as many as it takes seconds.
    const rented = doubtWords(one, { currency: 'EUR', perRequest: 0, perInputToken: 0, perOutputToken: 0, perHour: 3600 })
    const [, low, high] = /, ([\d.]+)\sEUR to ([\d.]+)\sEUR\.$/.exec(rented[2])!
    expect(Number(low) / seconds(least)).toBeCloseTo(1, 2)
    expect(Number(high) / seconds(most)).toBeCloseTo(1, 2)
    // Where one is not sure all the same, more of the same, whose time is known well then.
    const wide = { ...fitted, intervals: fitted.intervals.map((i, c) => (c === 3 ? { low: 0, high: 1 } : i)) }
    expect(doubtWords(wide)).toEqual([
      expect.stringMatching(/^O lies anywhere in 0\ss … 1.00\ss\.$/),
      expect.stringMatching(
        /^One further measurement would tell: 1,4 at once, 200\+90,8000\+40 tokens in turn, 32 requests of each caller; 160 requests, /,
      ),
    ])
  })

  it('is where something is at work that step costs do not have', () => {
    expect(misfitWords(fitted)).toEqual([])
    const slow = measuredRows(PLAIN, served, steps, JITTER, 9).map((r) =>
      r.part === '16 at once' ? { ...r, firstToken: r.firstToken + 0.4, end: r.end + 0.4 } : r,
    )
    const queued = fitSteps(slow, served)!
    expect(misfitWords(queued).join('\n')).toMatch(/The first tokens of “16 at once” took .* longer than what fits all/)
  })
})

describe('measured requests in a file', () => {
  it('are read as they were written', () => {
    const rows = measuredRows(PLAIN, served, steps.slice(0, 1), JITTER, 10)
    const read = readProbed([...probedCsv(rows)].join(''))
    expect(read).toHaveLength(rows.length)
    read.forEach((r, i) => {
      expect(r).toMatchObject({
        number: rows[i].number,
        part: rows[i].part,
        outcome: 'finished',
        input: rows[i].input,
        output: rows[i].output,
        atOnce: 1,
      })
      expect(r.firstToken).toBeCloseTo(rows[i].firstToken, 8)
      expect(r.gaps).toHaveLength(rows[i].gaps.length)
    })
    expect(Math.abs(fitSteps(read, served)!.values[2] / fitSteps(rows, served)!.values[2] - 1)).toBeLessThan(1e-3)
  })

  it('are read as they were written before reasons were', () => {
    const [header] = [...probedCsv([])]
    const read = (text: string) => readProbed(text).map((r) => [r.outcome, r.why])
    expect(read(`${header.replace(',why', '')}1,a,0,,1,2,failed,,0,200,5,5,,1\n`)).toEqual([['failed', '']])
    expect(read(`${header}1,a,0,,1,2,failed,,0,200,5,5,,1,"broke, off"\n`)).toEqual([['failed', 'broke, off']])
  })

  it.each([
    ['a,b\n1,2\n', 'line 1: must be id,class,arrival'],
    [`${[...probedCsv([])].join('')}1,2\n`, 'line 2: has 2 cells; the header has 15'],
    [`${[...probedCsv([])].join('')}1,a,0,,1,2,lost,,0,200,5,5,,1,\n`, 'line 2: has the outcome “lost”'],
    [`${[...probedCsv([])].join('')}1,a,x,,1,2,finished,,0,200,5,5,,1,\n`, 'line 2: has a cell that is no number'],
  ])('are refused where they are none: %j', (text, says) => expect(() => readProbed(text)).toThrow(says))
})
