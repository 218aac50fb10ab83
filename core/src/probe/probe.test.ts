import { readFileSync, readdirSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { estimatedTokens } from '../one/likely.ts'
import { askedAt, askedWith } from './askedAt.ts'
import { PROBED_HEADER } from '../files/probeFormats.ts'
import { filledBody, headersWith, readHowToAsk } from './howToAsk.ts'
import { readOrder } from './order.ts'
import { probedCsv, type ProbedRequest } from './probed.ts'
import { takenFor } from './probeWords.ts'
import { promptOf } from './prompt.ts'
import { READY_MADE, WAYS_OF_ASKING } from './readyMade.ts'
import { isJudging, partsOfShape, secondsOfShape, type PartShown, type ProbePart, type ProbeShape } from './shape.ts'
import { shownBy, summarisePart } from './summary.ts'

const HEAD = 'format: sand-clock-how-to-ask\nversion: 1\nurl: http://127.0.0.1:1/x\n'
const said = (read: () => unknown) => {
  try {
    read()
  } catch (error) {
    return (error as Error).message
  }
  throw new Error('was read')
}

describe('how to ask', () => {
  it.each(readdirSync('examples/ask'))('is what the example %s says', (file) => {
    const how = readHowToAsk(readFileSync(`examples/ask/${file}`, 'utf8'))
    expect(how.timeoutSeconds).toBeGreaterThan(0)
    expect(how.answer.comes).toMatch(/events|whole/)
    expect(JSON.stringify(how.body)).toContain('{prompt}')
  })

  it.each(WAYS_OF_ASKING)('has %s ready-made, and what is said besides stands in its place', (as) => {
    expect(readHowToAsk(`${HEAD}as: ${as}`)).toMatchObject({ method: 'POST', ...READY_MADE[as] })
    expect(readHowToAsk(`${HEAD}as: ${as}\nbody: { q: "{prompt}" }`)).toMatchObject({
      body: { q: '{prompt}' },
      answer: READY_MADE[as].answer,
    })
  })

  it.each([
    ['a: [', 'line 1: is not valid YAML'],
    [`${HEAD}`, 'answer: is missing; say how an answer comes, or which ready-made way it is with "as"'],
    [`${HEAD}as: chat\nurls: x`, 'urls: is not a field of this format'],
    [`${HEAD.replace('http:', 'ftp:')}as: chat`, 'url is "ftp://127.0.0.1:1/x"'],
    [`${HEAD.replace('127', 'me:key@127')}as: chat`, 'url: must not hold a name or a password'],
    [`${HEAD}as: chat\nmethod: GET`, 'body: can not be sent with GET'],
    [`${HEAD}as: chat\nheaders: { Authorization: Bearer abc }`, 'headers.Authorization: must not hold a secret itself'],
    [`${HEAD}as: chat\nheaders: { x-api-key: abc }`, 'headers.x-api-key: must not hold a secret itself'],
    [`${HEAD}answer: { comes: whole, tokens: usage }`, 'answer.outputTokens: is missing'],
    [`${HEAD}answer: { comes: whole, tokens: words }`, 'answer.text: is missing'],
    [`${HEAD}answer: { comes: whole, tokens: words, text: a/b }`, 'answer.text is "a/b": it must be a JSON Pointer (RFC 6901)'],
    [`${HEAD.replace('1\n', '2\n')}as: chat`, 'version'],
  ])('refuses %j with a sentence', (text, sentence) => expect(said(() => readHowToAsk(text))).toContain(sentence))

  it('is asked elsewhere, or in another way, with all else as it stands', () => {
    const text = readFileSync('examples/ask/chat.yaml', 'utf8')
    expect(askedAt(text)).toEqual({ url: 'http://127.0.0.1:8080/v1/chat/completions', as: 'chat' })
    const other = askedWith(text, { url: 'http://127.0.0.1:1/', as: 'plain' })
    expect(askedAt(other)).toEqual({ url: 'http://127.0.0.1:1/', as: 'plain' })
    expect(other).toContain('# A key is taken from the environment')
    expect(readHowToAsk(other).answer).toEqual(READY_MADE.plain.answer)
    expect(askedAt('a: [')).toEqual({})
  })

  it('takes secrets from the environment, and never says one', () => {
    const how = readHowToAsk(`${HEAD}as: chat\nheaders: { authorization: "Bearer \${KEY}" }`)
    expect(headersWith(how, { KEY: 's3cret' })).toEqual({ authorization: 'Bearer s3cret' })
    expect(said(() => headersWith(how, { OTHER: 's3cret' }))).toMatch(
      /headers.authorization: names KEY, which the environment does not have/,
    )
    expect(JSON.stringify(how)).not.toContain('s3cret')
  })

  it('fills places: alone they are numbers, within words they are words, and nothing else is touched', () => {
    const body = { a: ['{output}', 'of {input}, {number}: {prompt}'], b: { c: '{other}', d: 4, e: null } }
    expect(filledBody(body, { prompt: 'p {input}', input: 3, output: 5, number: 7 })).toEqual({
      a: [5, 'of 3, 7: p {input}'],
      b: { c: '{other}', d: 4, e: null },
    })
  })
})

describe('a prompt', () => {
  it('has as many tokens as it is asked for, and begins otherwise each time', () => {
    for (const tokens of [1, 2, 3, 17, 256, 5000])
      for (const number of [0, 5, 123]) expect(estimatedTokens(promptOf(tokens, number))).toBe(tokens)
    expect(promptOf(256, 3).slice(0, 8)).not.toBe(promptOf(256, 4).slice(0, 8))
  })
})

/** The parts of a load where each shows what is told of it. */
function played(shape: ProbeShape, shows: (part: ProbePart) => Partial<PartShown> = () => ({})): ProbePart[] {
  const parts: ProbePart[] = []
  const load = partsOfShape(shape)
  for (let next = load.next(); !next.done;) {
    parts.push(next.value)
    next = load.next({ perSecond: 1, kept: true, ...shows(next.value) })
  }
  return parts
}
const common = { sizes: [{ input: 10, output: 2 }], warmUp: 0, seed: 1 }
const clientsOf = (parts: ProbePart[]) => parts.map((p) => (p.kind === 'closed' ? p.clients : NaN))

describe('the load of a probe', () => {
  it('goes on doubling until 5 % more are not answered, and never beyond 1,024 at once', () => {
    const grown = played({ ...common, kind: 'at-once', clients: null, requestsEach: 2 }, (p) => ({
      perSecond: Math.min(10, p.kind === 'closed' ? p.clients * 1.5 : 0),
    }))
    expect(clientsOf(grown)).toEqual([1, 2, 4, 8, 16])
    expect(grown.map((p) => p.asking.length)).toEqual([2, 4, 8, 16, 32])
    const endless = played({ ...common, kind: 'at-once', clients: null, requestsEach: 1 }, (p) => ({ perSecond: p.asking.length }))
    expect(clientsOf(endless).at(-1)).toBe(1024)
    expect(clientsOf(played({ ...common, kind: 'at-once', clients: [3, 1], requestsEach: 1 }, () => ({ perSecond: 0 })))).toEqual([3, 1])
  })

  it('climbs in rates until one is not kept; arrivals are those of chance', () => {
    const rates = played({ ...common, kind: 'rates', perSecond: [5, 50, 500], seconds: 400 }, (p) => ({ kept: p.label !== '50 a second' }))
    expect(rates.map((p) => p.label)).toEqual(['5 a second', '50 a second'])
    rates.forEach((p, i) => {
      if (p.kind !== 'open') throw new Error('open')
      const mean = [5, 50][i] * 400
      expect(Math.abs(p.due.length - mean)).toBeLessThan(4 * Math.sqrt(mean))
      expect(p.due.every((t, k) => t >= 0 && t < 400 && (k === 0 || t >= p.due[k - 1]))).toBe(true)
      expect(p.asking).toHaveLength(p.due.length)
    })
  })

  it('takes sizes in turn over its parts, or each apart; warms up once', () => {
    const sizes = [
      { input: 1, output: 1 },
      { input: 9, output: 2 },
    ]
    const shape: ProbeShape = { ...common, sizes, warmUp: 1, kind: 'one-after-another', requests: 4 }
    const mixed = played(shape)
    expect(mixed.map((p) => [p.label, p.warmUp ?? false, p.asking.map((a) => a.input)])).toEqual([
      ['warm-up', true, [1]],
      ['one after another', false, [9, 1, 9, 1]],
    ])
    expect(played({ ...shape, apart: true }).map((p) => [p.label, p.asking.map((a) => a.input)])).toEqual([
      ['1 + 1 tokens, warm-up', [1]],
      ['1 + 1 tokens, one after another', [1, 1, 1, 1]],
      ['9 + 2 tokens, one after another', [9, 9, 9, 9]],
    ])
  })

  it('takes its own times beside those of its answers', () => {
    expect(secondsOfShape({ ...common, kind: 'rates', perSecond: [1, 2], seconds: 60 })).toBe(120)
    expect(secondsOfShape({ ...common, kind: 'after-idle', idleSeconds: 900, times: 3 })).toBe(2700)
    expect(secondsOfShape({ ...common, kind: 'log', at: Float64Array.of(0, 5) })).toBe(5)
    expect(secondsOfShape({ ...common, kind: 'one' })).toBe(0)
  })

  it('is idle before each first call', () => {
    const idle = played({ ...common, kind: 'after-idle', idleSeconds: 600, times: 2 })
    expect(idle.map((p) => [p.label, p.idleSeconds])).toEqual(Array.from({ length: 2 }, () => ['after 10 min without a call', 600]))
  })
})

const row = (change: Partial<ProbedRequest>): ProbedRequest => ({
  number: 0,
  part: 'a',
  warmUp: false,
  due: 0,
  sent: 0,
  atOnce: 1,
  firstToken: 0.5,
  end: 1,
  outcome: 'finished',
  status: 200,
  why: '',
  input: 10,
  output: 6,
  gaps: [0.1, 0.1, 0.1, 0.1, 0.1],
  ...change,
})

describe('what a part of a probe showed', () => {
  it('is reckoned from when requests were due, of those that finished', () => {
    const s = summarisePart('a', [
      row({}),
      row({ due: 1, sent: 1.1, firstToken: 1.2, end: 2 }),
      row({ due: 1, sent: 1, firstToken: NaN, end: 4, outcome: 'rejected', status: 429, output: 0, gaps: [] }),
    ])
    expect(s).toMatchObject({
      requests: 3,
      outcomes: { finished: 2, rejected: 1 },
      seconds: 4,
      perSecond: 0.5,
      tokensOfAll: 3,
      isVoid: true,
    })
    expect(s.firstToken.p50?.value).toBeCloseTo(0.2, 12)
    expect(s.latency.p95?.value).toBe(1)
    // 5 tokens in 0.5 s, and in 0.8 s.
    expect(s.tokensOfOne).toBeCloseTo((10 + 6.25) / 2, 12)
    expect(s.late.p95?.value).toBeCloseTo(0.1, 12)
    expect(summarisePart('none', [])).toMatchObject({ requests: 0, perSecond: 0, isVoid: false })
  })

  it('is void only where the probe itself was late for what it measured', () => {
    const late = (seconds: number) => summarisePart('a', [row({ sent: seconds, firstToken: 1.5, end: 2 + seconds })]).isVoid
    expect([late(0.09), late(0.12)]).toEqual([false, true])
    expect(summarisePart('a', [row({ sent: 0.004, firstToken: 0.005, end: 0.006 })]).isVoid).toBe(false)
  })

  it('is kept where 95 of 100 finish in what is promised', () => {
    const of = (lost: number, end: number) =>
      summarisePart(
        'a',
        Array.from({ length: 100 }, (_, i) => row({ end, ...(i < lost && { outcome: 'failed' as const }) })),
      )
    expect(shownBy(of(5, 1)).kept).toBe(true)
    expect(shownBy(of(6, 1)).kept).toBe(false)
    expect(shownBy(of(0, 2), { latencySeconds: 1.9 }).kept).toBe(false)
    expect(shownBy(of(0, 2), { latencySeconds: 2, firstTokenSeconds: 0.4 }).kept).toBe(false)
    expect(shownBy(of(100, 2), { latencySeconds: 2 }).kept).toBe(false)
    expect(shownBy(summarisePart('nobody came', []), { latencySeconds: 2 }).kept).toBe(true)
  })

  it('is said for what it can be taken, and for what not', () => {
    const many = summarisePart(
      'a',
      Array.from({ length: 400 }, () => row({})),
    )
    expect(takenFor('log', [many])).toEqual([])
    expect(takenFor('one', [summarisePart('a', [row({})])]).join(' ')).toMatch(
      /One call is no capacity figure.*One request in a part is too few for p50, p95 and p99.*368/,
    )
    expect(
      takenFor('log', [
        summarisePart(
          'a',
          Array.from({ length: 80 }, () => row({})),
        ),
      ]),
    ).toEqual(['80 requests in a part are too few for p99: no interval is known above. It takes 368 for p99.'])
    const burst = summarisePart(
      'a',
      Array.from({ length: 400 }, () => row({ gaps: [0, 0, 0.001, 0.3, 0.2] })),
    )
    expect(takenFor('log', [burst]).join(' ')).toMatch(
      /^Tokens come several at once \(a gap is 1\.00\sms in the middle, 100\sms in the mean/,
    )
    const half = summarisePart(
      'a',
      Array.from({ length: 800 }, (_, i) => row({ sent: 0.2, ...(i % 2 && { outcome: 'failed' as const }) })),
    )
    expect(takenFor('rates', [half]).join(' ')).toMatch(/“a” is void: .*200\sms late.*400 of 800 \(50\.0\s%\) did not finish/)
  })

  it('is a line a request, with the columns of --per-request first', () => {
    const [header, line] = [
      ...probedCsv([row({ part: 'a, b', firstToken: NaN, status: 0, outcome: 'unreachable', why: 'no, nobody', gaps: [0.25, 1] })]),
    ]
    expect(header).toBe(`${PROBED_HEADER}\n`)
    expect(header.startsWith('id,class,arrival,start,first_token,end,outcome,replica,')).toBe(true)
    expect(line).toBe('0,"a, b",0.000000000,,,1.000000000,unreachable,,0.000000000,0,10,6,0.250000 1.000000,1,"no, nobody"\n')
  })
})

describe('a load that finds step costs', () => {
  const shape: ProbeShape = {
    kind: 'find-costs',
    clients: [1, 4],
    requestsEach: 3,
    judgeSeconds: 60,
    sizes: [{ input: 10, output: 5 }],
    warmUp: 1,
    seed: 4,
  }
  const partsFor = (perSecond: number) => {
    const load = partsOfShape(shape)
    const parts: ProbePart[] = []
    for (let next = load.next(); !next.done; next = load.next({ perSecond, kept: true })) parts.push(next.value)
    return parts
  }

  it('sends what judges apart: at 70 % of what the best answered, and a spike beyond all of it', () => {
    const parts = partsFor(10)
    expect(parts.map((p) => p.label)).toEqual([
      'warm-up',
      '1 at once',
      '4 at once',
      'to judge by: 7 a second',
      'to judge by: a spike of 12 a second',
    ])
    expect(parts.filter((p) => isJudging(p.label))).toHaveLength(2)
    expect(secondsOfShape(shape)).toBe(120)
    const [steady, spike] = parts.slice(3).map((p) => (p.kind === 'open' ? p.due : new Float64Array()))
    // 420 and 400 of them are due in the mean: three standard deviations on both sides.
    expect(Math.abs(steady.length - 420)).toBeLessThan(3 * Math.sqrt(420))
    const within = (from: number, until: number) => spike.filter((t) => t >= from && t < until).length
    expect(Math.abs(within(20, 40) - 240)).toBeLessThan(3 * Math.sqrt(240))
    expect(Math.abs(within(0, 20) - 80)).toBeLessThan(3 * Math.sqrt(80))
    expect(spike.every((t, i) => i === 0 || t >= spike[i - 1])).toBe(true)
  })

  it('sends nothing to judge by where nobody is answered', () => {
    expect(partsFor(0).map((p) => p.label)).toEqual(['warm-up', '1 at once', '4 at once'])
  })
})

describe('an order of a measurement', () => {
  const how = readFileSync('examples/ask/chat.yaml', 'utf8')
  const shape = { kind: 'one', sizes: [{ input: 10, output: 5 }] }
  const log = { ...shape, kind: 'log', asking: [shape.sizes[0], { input: 3, output: 1 }, { input: 9, output: 9 }] }

  it('is bounded as is usual where it says nothing', () => {
    expect(readOrder({ how, shape })).toMatchObject({
      shape: { warmUp: 1, seed: 1 },
      bounds: { requests: 1000, seconds: 600, money: Infinity },
      promise: {},
    })
    const rates = { kind: 'rates', perSecond: [1, 2], seconds: 30, sizes: shape.sizes }
    expect(readOrder({ how, shape: rates, bounds: { requests: 7 } }).bounds).toMatchObject({ requests: 7, seconds: 660 })
    const read = readOrder({ how, shape: { ...log, at: [0, 2, 90] } })
    expect(read.shape).toMatchObject({ kind: 'log', at: Float64Array.from([0, 2, 90]), asking: log.asking })
    expect(read.bounds.seconds).toBe(690)
  })

  it.each([
    [{ how, shape: { ...shape, sizes: [] } }, 'shape.sizes'],
    [{ how, shape: { ...shape, kind: 'many' } }, 'shape.kind'],
    [{ how, shape: { ...shape, warmUp: 1001 } }, 'shape.warmUp is 1001: it must be at most 1000'],
    [{ how, shape: { ...log, at: [0, 9, 2] } }, 'shape.at is [0,9,2]: it must be in order of its times'],
    [{ how, shape: { ...log, at: [0, 9] } }, 'it must be as many as there are times'],
    [{ how, shape: { ...log, at: [] } }, 'shape.at'],
    [{ how, shape, bounds: { money: 5 } }, 'most money: can not be kept'],
    [{ how: 'url: 7', shape }, 'This does not say how to ask.'],
    [{ how, shape, allowed: ['elsewhere'] }, 'allowed: is not a field of this format'],
  ])('is refused with a sentence where it can not be: %#', (order, words) => expect(said(() => readOrder(order))).toContain(words))
})
