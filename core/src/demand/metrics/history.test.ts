import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { begunFromLog } from '../../answer/begunFromLog.ts'
import { figuresOf } from '../../begin/openings.ts'
import { fitWords } from '../../explain/fitWords.ts'
import { checkPlan } from '../../plan/read.ts'
import { RandomStream } from '../../random/stream.ts'
import { smallPlan } from '../../../test/smallPlan.ts'
import { poissonArrivals } from '../arrivals.ts'
import { drawSizes } from '../sizes.ts'
import { rateCurve } from '../rate.ts'
import { bucketQuantile, bucketsOf } from './buckets.ts'
import { fitHistory } from './historyFit.ts'
import { steps, total, usualStep } from './increases.ts'
import { isHistory, readHistory } from '../../files/metrics/readHistory.ts'
import { guessClassLabel, guessRoles } from '../../files/metrics/roles.ts'
import { seriesOf, type Series } from '../../files/metrics/series.ts'

const START = Date.parse('2027-03-01T00:00:00Z') / 1000
const counter = (values: number[], step = 60, name = 'calls_total') =>
  seriesOf(
    name,
    {},
    values.map((v, i) => [START + i * step, v] as const),
  )
const plain = (s: string) => s.replaceAll(/[\u00a0\u202f]/g, ' ')

describe('what a counter counted', () => {
  it('by hand: a restart counts what it shows since, a gap and what is no number are left out', () => {
    expect(total(steps(counter([10, 14, 20, 3, 5])))).toBe(4 + 6 + 3 + 2)
    expect(total(steps(counter([10, NaN, 20, 25])))).toBe(5)
    const gap = seriesOf('calls_total', {}, [
      [0, 0],
      [60, 6],
      [120, 12],
      [900, 80],
      [960, 86],
    ])
    expect(total(steps(gap))).toBe(18)
    expect(usualStep(gap)).toBe(60)
    // A gauge that is a rate: the area below it.
    expect(total(steps(counter([2, 4, 4], 60, 'calls_a_second')))).toBe(3 * 60 + 4 * 60)
  })

  it('restarts lose no more than what came between the last sample and them', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(50), { minLength: 3, maxLength: 80 }),
        fc.uniqueArray(fc.nat(79), { maxLength: 5 }),
        (amounts, restarts) => {
          let shown = 0
          const values = [0, ...amounts.map((n, i) => (shown = restarts.includes(i) ? n : shown + n))]
          const seen = total(steps(counter(values)))
          const all = amounts.reduce((a, b) => a + b, 0)
          // A restart is not seen where what came since is no less than what was counted before it.
          expect(seen).toBeLessThanOrEqual(all)
          if (restarts.length === 0) expect(seen).toBe(all)
        },
      ),
    )
  })
})

/** Counters of a load that is drawn, as a server would show them every minute; begun anew now and then, with one gap. */
function exposed(kind: string, seed: number, ratePerSecond: number, days: number): { series: Series[]; count: number; sizes: Int32Array } {
  const hours = Array.from({ length: 24 }, (_, h) => (h >= 8 && h < 18 ? 1 : 0.2))
  const curve = rateCurve(
    { kind: 'weekly', ratePerSecond, days: [1, 1, 1, 1, 1, 0.3, 0.3], hours },
    days * 86_400,
    1,
    '2027-03-01T00:00:00Z',
  )
  const at = poissonArrivals(curve, new RandomStream(seed, 'history'))
  const sizes = drawSizes({ kind: 'lognormal', median: 500, p95: 1500 }, at.length, new RandomStream(seed, 'history', 'sizes'))
  const bounds = [64, 128, 256, 512, 1024, 2048, 4096, Infinity]
  const requests: [number, number][] = []
  const sums: [number, number][] = []
  const buckets = bounds.map((): [number, number][] => [])
  const shown = { requests: 0, sum: 0, below: bounds.map(() => 0) }
  let i = 0
  for (let t = 0; t <= days * 86_400; t += 60) {
    for (; i < at.length && at[i] <= t; i++) {
      shown.requests++
      shown.sum += sizes[i]
      bounds.forEach((b, k) => (shown.below[k] += sizes[i] <= b ? 1 : 0))
    }
    if (t % (3 * 86_400) === 7200) Object.assign(shown, { requests: 0, sum: 0, below: bounds.map(() => 0) })
    if (t > 40_000 && t < 43_600) continue
    requests.push([START + t, shown.requests])
    sums.push([START + t, shown.sum])
    bounds.forEach((_, k) => buckets[k].push([START + t, shown.below[k]]))
  }
  const labels = { route: kind, instance: 'a:9000' }
  return {
    series: [
      seriesOf('calls_total', labels, requests),
      seriesOf('prompt_tokens_sum', labels, sums),
      seriesOf('prompt_tokens_count', labels, requests),
      ...bounds.map((b, k) => seriesOf('prompt_tokens_bucket', { ...labels, le: b === Infinity ? '+Inf' : String(b) }, buckets[k])),
    ],
    count: at.length,
    sizes,
  }
}

const asRangeQuery = (series: readonly Series[]) => ({
  status: 'success',
  data: {
    resultType: 'matrix',
    result: series.map((s) => ({ metric: { __name__: s.name, ...s.labels }, values: [...s.at].map((t, i) => [t, String(s.values[i])]) })),
  },
})
const asOpenMetrics = (series: readonly Series[]) =>
  `# TYPE calls counter\n${series
    .flatMap((s) => {
      const labels = Object.entries(s.labels).map(([k, v]) => `${k}="${v}"`)
      return [...s.at].map((t, i) => `${s.name}{${labels.join(',')}} ${s.values[i]} ${t}`)
    })
    .join('\n')}\n# EOF\n`

describe('a metrics history', () => {
  const desk = exposed('desk', 1, 2, 8)
  const letters = exposed('letters', 2, 0.4, 8)
  const series = [...desk.series, ...letters.series]
  const { metrics, problems } = readHistory([{ name: 'a.json', text: JSON.stringify(asRangeQuery(series)) }])
  const fit = fitHistory(metrics, guessRoles(metrics))

  it('is told by its text, whichever of its forms it has', () => {
    expect(isHistory(JSON.stringify(asRangeQuery(letters.series)))).toBe(true)
    expect(isHistory(asOpenMetrics(letters.series))).toBe(true)
    for (const other of [
      '{"status": "success", "data": 1, "input": 5}\n{"status": "success", "data": 2, "input": 6}\n',
      'arrival,input\n1,2\n',
      '{"format": "sand-clock-plan"}',
      '\n\n\n',
      '{"arrival": 1}\n{"arrival": 2}\n',
      '',
    ])
      expect(isHistory(other)).toBe(false)
  })

  it('reads the same from a range query as from the open metrics format', () => {
    expect(problems).toEqual([])
    const text = readHistory([{ name: 'a.txt', text: asOpenMetrics(series) }])
    expect(text.problems).toEqual([])
    expect(fitHistory(text.metrics, guessRoles(text.metrics))).toEqual(fit)
  })

  it('finds what is what, the classes, and their rates, hours and sizes again', () => {
    expect(guessRoles(metrics)).toMatchObject({ arrivals: 'calls_total', input: 'prompt_tokens' })
    expect(guessClassLabel(metrics[0].series)).toBe('route')
    expect(fit.classes.map((c) => c.name)).toEqual(['desk', 'letters'])
    fit.classes.forEach((c, k) => {
      const [truth, rate] = [[desk, letters][k], [2, 0.4][k]]
      // All but the hour that was not seen, and what two restarts lost.
      expect(c.count / truth.count).toBeGreaterThan(0.97)
      expect(c.count).toBeLessThanOrEqual(truth.count)
      expect(c.clear).toContain('week')
      expect(c.week!.ratePerSecond / rate).toBeGreaterThan(0.93)
      expect(c.week!.ratePerSecond / rate).toBeLessThan(1.07)
      expect(Math.abs(c.week!.hours[3] - 0.2)).toBeLessThan(0.03)
      expect(Math.abs(c.week!.days[6] - 0.3)).toBeLessThan(0.04)
      // A bucket from 256 to 512 says of 500 no more than that it is near its end.
      const size = c.input.size
      if (size.kind !== 'lognormal') throw new Error('a histogram has quantiles')
      expect(size.median / 500).toBeGreaterThan(0.94)
      expect(size.median / 500).toBeLessThan(1.06)
      expect(size.p95 / 1500).toBeGreaterThan(0.85)
      expect(size.p95 / 1500).toBeLessThan(1.15)
    })
  })

  it('says that it is of means, and of what it says nothing', () => {
    const words = fitWords(fit.classes[0]).map((w) => plain(w.words))
    expect(words.join('\n')).toContain('these are means over steps of 60.0 s: how unevenly requests come within a step is unknown')
    expect(words.join('\n')).toContain('answers: not in this history; those of the opening are taken')
    expect(words.join('\n')).toContain('by the buckets of a histogram')
    expect(words.join('\n')).not.toContain('NaN')
  })

  it('makes a plan that is accepted, with the sizes of the opening where it says none', () => {
    const { machines } = checkPlan(smallPlan(new RandomStream(5, 'small plans'), 0))
    const figures = { ...figuresOf('chat'), providers: [] }
    const { plan, comments } = begunFromLog(figures, machines, 'EUR', { fit, as: 'such', log: { name: 'last-week.json' } })
    expect(checkPlan(plan).classes.map((c) => c.name)).toEqual(['desk', 'letters'])
    expect(plan.classes[0].arrivals.kind).toBe('weekly')
    expect(plan.classes[0].output).toMatchObject({ kind: 'lognormal' })
    expect(plan.name).toBe('Like last-week.json')
    expect(comments.some((c) => c.words.includes('means over steps'))).toBe(true)
  })

  it('says as an assumption how unevenly requests come within a step, and draws them so', () => {
    const { machines } = checkPlan(smallPlan(new RandomStream(5, 'small plans'), 0))
    const from = { fit, as: 'such' as const, log: { name: 'history.json' }, change: { variation: 2.5 } }
    const { plan, text } = begunFromLog(figuresOf('chat'), machines, 'EUR', from)
    for (const { arrivals } of plan.classes) expect(arrivals).toMatchObject({ bursts: { kind: 'gamma', variation: 2.5 } })
    expect(text).toContain('# assumed: gaps vary 2.50 times as much as by pure chance, which a history does not say')
  })

  it('adds up copies that come and go: each covers its own time', () => {
    const copy = (instance: string, fromHour: number, untilHour: number) =>
      seriesOf(
        'calls_total',
        { instance },
        Array.from({ length: (untilHour - fromHour) * 60 + 1 }, (_, i) => [START + fromHour * 3600 + i * 60, i * 60] as const),
      )
    const text = JSON.stringify(asRangeQuery([copy('a', 0, 48), copy('b', 12, 24), copy('c', 30, 48)]))
    const { classes } = fitHistory(readHistory([{ name: 'a', text }]).metrics, { arrivals: 'calls_total' })
    expect(classes).toHaveLength(1)
    expect(classes[0].perHour.map((r) => Math.round(r))).toEqual(
      Array.from({ length: 48 }, (_, h) => 1 + (h >= 12 && h < 24 ? 1 : 0) + (h >= 30 ? 1 : 0)),
    )
  })

  it('tells how it was served over copies that come and go: one after the other is as many as one', () => {
    const gauge = (name: string, instance: string, from: number, until: number, value: number) =>
      seriesOf(
        name,
        { instance },
        Array.from({ length: (until - from) / 60 + 1 }, (_, i) => [START + from + i * 60, value] as const),
      )
    const series = [
      ...[0, 3600, 7200].map((from) => gauge('calls_running', `copy ${from}`, from, from + 3600, 2)),
      gauge('calls_running', 'beside', 0, 5400, 1),
      counter(Array.from({ length: 181 }, (_, i) => i)),
    ]
    const { metrics: all } = readHistory([{ name: 'a', text: JSON.stringify(asRangeQuery(series)) }])
    const { served } = fitHistory(all, guessRoles(all))
    expect(served).toEqual({ inFlight: expect.closeTo((3 * 3600 * 2 + 5400) / 10_800, 9) as number })
  })

  it('reads several files as one: two halves are the whole but for the step between them', () => {
    const half = (is: (t: number) => boolean) =>
      JSON.stringify(
        asRangeQuery(
          letters.series.map((s) =>
            seriesOf(
              s.name,
              s.labels,
              [...s.at].map((t, i) => [t, s.values[i]] as const).filter(([t]) => is(t)),
            ),
          ),
        ),
      )
    const middle = START + 4 * 86_400
    const files = [half((t) => t < middle), half((t) => t >= middle)].map((text, i) => ({ name: `${i}.json`, text }))
    const { metrics: both } = readHistory(files)
    const [one] = fitHistory(both, guessRoles(both)).classes
    const whole = fit.classes[1]
    expect(one.count).toBeLessThanOrEqual(whole.count)
    expect(one.count / whole.count).toBeGreaterThan(0.999)
  })

  it('without a label for classes is one class; a role can be said', () => {
    const one = fitHistory(metrics, guessRoles(metrics), null)
    expect(one.classes.map((c) => c.name)).toEqual(['requests'])
    expect(one.classes[0].count).toBeCloseTo(fit.classes[0].count + fit.classes[1].count, 6)
    expect(() => fitHistory(metrics, {})).toThrow('must be one of its metrics')
  })
})

describe('a history that is none', () => {
  it('says what is wrong and where', () => {
    const read = (text: string) => () => readHistory([{ name: 'h.json', text }])
    expect(read('{"status":"error","errorType":"bad_data","error":"no such query"}')).toThrow('bad_data: no such query')
    expect(read('{"status":"success","data":{"resultType":"matrix","result":[]}}')).toThrow('at least two samples')
    expect(read('{"status":')).toThrow('is not valid JSON')
    expect(read('{"status":"success","data":{"resultType":"matrix","result":[{"metric":{},"values":[[1,2]]}]}}')).toThrow(
      'values[0][1] is 2',
    )
    expect(read('# TYPE a counter\na_total 3\n')).toThrow('one moment, not a history')
    const { problems } = readHistory([{ name: 'h', text: '# TYPE a counter\na_total 3 1\na_total 5 2\na_total x 3\nnonsense\n# EOF\n' }])
    expect(problems.map((p) => p.path)).toEqual(['line 4', 'line 5'])
  })
})

describe('a histogram', () => {
  it('gives quantiles within its buckets', () => {
    const bucket = (le: string, values: number[]) =>
      seriesOf(
        's_bucket',
        { le },
        values.map((v, i) => [i * 60, v] as const),
      )
    const buckets = bucketsOf([bucket('+Inf', [0, 10]), bucket('1', [0, 5]), bucket('4', [0, 9])])
    expect(buckets).toEqual([
      { upTo: 1, below: 5 },
      { upTo: 4, below: 9 },
      { upTo: Infinity, below: 10 },
    ])
    const evenly = (a: number, b: number, t: number) => a + (b - a) * t
    expect(bucketQuantile(buckets, 0.25, evenly)).toBe(0.5)
    expect(bucketQuantile(buckets, 0.7, evenly)).toBe(2.5)
    expect(bucketQuantile(buckets, 0.99, evenly)).toBe(4)
    expect(bucketQuantile([], 0.5, evenly)).toBeNaN()
  })
})
