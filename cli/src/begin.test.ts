import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readPlan, readPlanYaml } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { sandclock } from '../test/sandclock.ts'

const folder = mkdtempSync(join(tmpdir(), 'sand-clock-begin-'))

describe('sandclock begin', () => {
  it('writes a plan with what it assumed beside its fields, which recommend answers', () => {
    const out = join(folder, 'plan.yaml')
    const begun = sandclock(
      'begin',
      '--like',
      'pictures',
      '--rate',
      '0.05',
      '--latency',
      '40',
      '--provider',
      'Fenland',
      '--budget',
      '5000',
      '--out',
      out,
    )
    expect([begun.status, begun.stderr]).toEqual([0, ''])
    const text = readFileSync(out, 'utf8')
    expect(text).toContain('    # assumed: promises are for 95 of 100 requests')
    const plan = readPlanYaml(text)
    expect(plan.services[0].search?.machines).toEqual(plan.machines.filter((m) => m.provider === 'Fenland').map((m) => m.name))
    expect(new Set(plan.machines.map((m) => m.provider)).size).toBe(3)
    expect(plan).toMatchObject({ budgetPerMonth: 5000, classes: [{ arrivals: { ratePerSecond: 0.05 }, targets: [{ seconds: 40 }, {}] }] })
    const answered = sandclock('recommend', out)
    expect(answered.status, answered.stderr).toBe(0)
    expect(answered.stdout).toContain('PICTURES')
  })

  it('writes JSON too, the same plan, and says what it assumed beside it', () => {
    const [yaml, json] = [
      sandclock('begin', '--like', 'chat', '--rate', '6', '--ttft', '1.5'),
      sandclock('begin', '--like', 'chat', '--rate', '6', '--ttft', '1.5', '--json'),
    ]
    expect(readPlan(json.stdout)).toEqual(readPlanYaml(yaml.stdout))
    expect(json.stderr).toContain('services[0].limits.queue: assumed: 500 requests may wait')
  })

  it('takes the shape file of a model, asks for what it does not tell, or takes a speed that was seen', () => {
    const whole = sandclock('begin', '--model', 'examples/avocet-shape.json')
    expect(readPlanYaml(whole.stdout).models[0]).toMatchObject({ kind: 'experts', name: 'Avocet 8×6B', contextTokens: 32_768 })
    expect(whole.stdout).toContain('# assumed: its weights have 16 bits')
    const cut = join(folder, 'cut.json')
    writeFileSync(cut, readFileSync('examples/avocet-shape.json', 'utf8').replace('"max_position_embeddings": 32768', '"other": 1'))
    const asked = sandclock('begin', '--model', cut)
    expect([asked.status, asked.stdout]).toEqual([2, ''])
    expect(asked.stderr).toContain('--model: does not tell contextTokens')
    expect(asked.stderr).toContain('say it with --facts contextTokens=NUMBER')
    expect(readPlanYaml(sandclock('begin', '--model', cut, '--facts', 'contextTokens=9000').stdout).models[0]).toMatchObject({
      contextTokens: 9000,
    })
    const out = join(folder, 'speed.yaml')
    const speed = ['--on', 'Fenland twin', '--alone', '50', '--together', '25', '--side-by-side', '6', '--weights', '16GB']
    expect(sandclock('begin', '--rate', '0.2', '--out', out, ...speed).status).toBe(0)
    expect(readPlanYaml(readFileSync(out, 'utf8'))).toMatchObject({
      models: [{ kind: 'given', weightBytes: 16e9, variants: [{ profiles: [{ machine: 'Fenland twin' }] }] }],
      services: [{ search: { machines: ['Fenland twin'], devices: [1], sequences: [6] } }],
    })
    const answered = sandclock('recommend', out)
    expect(answered.status, answered.stderr).toBe(0)
    expect(answered.stdout).toContain('Fenland twin')
  })

  it.each([
    [['--like', 'tea'], '--like is tea: it must be one of chat, documents, pictures, classifier, bulk, experts.'],
    [['--like', 'bulk', '--ttft', '3'], '--ttft: is not what "bulk" promises; give --latency.'],
    [['--model', 'sketch'], '--model is sketch: it must be one that "chat" can use: 3b, 8b, 14b, 32b, 70b, experts.'],
    [['--like', 'pictures', '--output', '20'], '--output: is not asked for by "pictures", whose requests have no tokens.'],
    [['--model', 'mine.json'], 'mine.json does not exist.'],
    [['--alone', '30'], '--alone: is a speed that was seen; say on which machine with --on.'],
    [['--on', 'Nothing', '--alone', '30'], '--on is Nothing: it must be one of the offers: '],
    [
      ['--on', 'Fenland twin', '--alone', '30', '--together', '31', '--side-by-side', '4'],
      '--together: makes no speed: side by side none can be faster than alone.',
    ],
    [['--on', 'Fenland twin', '--provider', 'Tarn'], '--provider: leaves Fenland out, of whose machine the speed is'],
    [['--facts', 'layers=3'], '--facts: is about a shape file; give one with --model.'],
    [
      ['--like', 'pictures', '--model', 'examples/avocet-shape.json'],
      'can not be a shape file for "pictures", whose requests have no tokens.',
    ],
    [['--rate', '-1'], '--rate is -1: it must be a number above 0.'],
    [['--provider', 'Nowhere'], '--provider is Nowhere: it is not among the offers, which are of Northquay, Fenland, Tarn.'],
    [['--offers', 'nothing.csv'], 'nothing.csv does not exist.'],
  ])('refuses %s with a sentence, and writes nothing', (args, words) => {
    const { status, stdout, stderr } = sandclock('begin', ...args)
    expect([status, stdout]).toEqual([2, ''])
    expect(stderr).toContain(words)
  })
})

describe('sandclock begin --from', () => {
  // Two days, busier at noon, in two classes.
  const rows = Array.from({ length: 48 * 150 }, (_, i) => {
    const hour = Math.floor(i / 150)
    return { at: hour * 3600 + (i % 150) * 23, i, noon: hour % 24 === 12 }
  }).filter(({ i, noon }) => noon || i % 5 === 0)
  const line = ({ at, i }: { at: number; i: number }) =>
    `${new Date(1_803_859_200_000 + at * 1000).toISOString()}\t${i % 3 === 0 ? 'desk' : 'crew'}\t${300 + ((i * 37) % 200)}\t${60 + (i % 50)}`
  const log = join(folder, 'two-days.tsv')
  writeFileSync(log, ['when\tkind\tprompt_tokens\tcompletion_tokens', ...rows.map(line)].join('\n'))

  it('writes a plan whose load is drawn like the log, with what each field is by, which recommend answers', () => {
    const out = join(folder, 'like.yaml')
    const begun = sandclock('begin', '--from', log, '--scale', '2', '--leave', 'correlation', '--provider', 'Fenland', '--out', out)
    expect([begun.status, begun.stderr]).toEqual([
      0,
      `${log}: ${rows.length} requests; arrival from "when", input from "prompt_tokens", output from "completion_tokens", class from "kind"; times in date and time\n`,
    ])
    const text = readFileSync(out, 'utf8')
    expect(text).toContain('# from the log: hours and days: up to')
    expect(text).toContain('# assumed: promises are for 95 of 100 requests')
    const plan = readPlanYaml(text)
    expect(plan.classes.map((c) => [c.name, c.arrivals.kind])).toEqual([
      ['desk', 'weekly'],
      ['crew', 'weekly'],
    ])
    const answer = sandclock('recommend', out, '--json')
    expect(answer.status).toBeLessThan(2)
    expect((JSON.parse(answer.stdout) as { services: unknown[] }).services).toHaveLength(1)
  })

  it('takes the log itself, from where the plan lies', () => {
    const out = join(folder, 'came.yaml')
    expect(sandclock('begin', '--from', log, '--as', 'came', '--out', out).status).toBe(0)
    const text = readFileSync(out, 'utf8')
    const plan = readPlanYaml(text)
    expect(plan.log).toBe('two-days.tsv')
    // It says nothing of draws or of a week that it does not have.
    expect(text).not.toMatch(/assumed: (a week|the draws)/)
    expect(text.match(/assumed: promises are for 95 of 100/g)).toHaveLength(2)
    expect(sandclock('fit', out).status).toBe(0)
  })

  it('takes several files as they came, and recommend reads them as one', () => {
    const parts = [0, 1].map((i) => {
      const file = join(folder, `part-${i}.tsv`)
      const [header, ...lines] = readFileSync(log, 'utf8').trimEnd().split('\n')
      writeFileSync(file, [header, ...lines.filter((_, k) => k % 2 === i)].join('\n'))
      return file
    })
    const [one, two] = ['whole.yaml', 'parts.yaml'].map((name) => join(folder, name))
    const begin = (out: string, ...files: string[]) =>
      sandclock('begin', '--as', 'came', '--provider', 'Fenland', '--out', out, ...files.flatMap((f) => ['--from', f]))
    expect(begin(one, log).status).toBe(0)
    expect(begin(two, ...parts).status).toBe(0)
    expect(readPlanYaml(readFileSync(two, 'utf8')).log).toEqual(['part-0.tsv', 'part-1.tsv'])
    // The rows of a log are numbered as they stand: of every other row a file it has the same requests, and so the same answer.
    const perMonth = (out: string) => (JSON.parse(sandclock('recommend', out, '--json').stdout) as { perMonth: number }).perMonth
    expect(perMonth(two)).toBe(perMonth(one))
  })

  it.each([
    [['--scale', '2'], '--scale: is about a log or a history; give one with --from.'],
    [['--allow-host', 'elsewhere'], '--allow-host: is about a log or a history; give one with --from.'],
    [['--from', log, '--rate', '3'], '--rate: is what the log says; leave it out.'],
    [['--from', log, '--as', 'came', '--shift', '2'], '--shift: changes a load that is drawn; a log as it came stays as it is.'],
    [['--from', log, '--shift', '1.5'], '--shift is 1.5: it must be a whole number of hours, from −23 to 23.'],
    [['--from', log, '--leave', 'weeks'], '--leave is weeks: it must be one of week, hours, growth, bursts, correlation, sessions.'],
    [['--from', join(folder, 'none.csv')], 'none.csv does not exist.'],
  ])('refuses %j', (args, words) => {
    const { status, stderr } = sandclock('begin', ...args)
    expect(status).toBe(2)
    expect(stderr).toContain(words)
  })

  it('begins from a metrics history, whose metrics and classes can be said', () => {
    const file = join(folder, 'history.txt')
    const lines = ['calls_total', 'words_in_total'].flatMap((name, k) =>
      ['desk', 'letters'].flatMap((route, r) =>
        Array.from(
          { length: 2 * 144 },
          (_, i) => `${name}{route="${route}"} ${i * 600 * (r + 1) * (k === 0 ? 1 : 300)} ${1803945600 + i * 600}`,
        ),
      ),
    )
    writeFileSync(file, `# TYPE calls counter\n${lines.join('\n')}\n# EOF\n`)
    const begun = sandclock('begin', '--from', file, '--metrics', 'input=words_in_total')
    expect(begun.status, begun.stderr).toBe(0)
    expect(begun.stderr).toContain('calls_total as requests that arrive, words_in_total as prompt tokens; 2 classes')
    expect(begun.stdout).toMatch(/# from the log: these are means over steps of 10\smin/)
    const plan = readPlanYaml(begun.stdout)
    expect(plan.classes.map((c) => [c.name, c.arrivals.kind === 'steady' && c.arrivals.ratePerSecond, c.input])).toEqual([
      ['desk', 1, { kind: 'exponential', mean: 300 }],
      ['letters', 2, { kind: 'exponential', mean: 300 }],
    ])
    const asLog = sandclock('recommend', 'examples/one-configuration.json', '--requests', file)
    expect([asLog.status, asLog.stderr]).toEqual([2, expect.stringContaining('is a metrics history, not a log')])
    const example = sandclock('begin', '--from', 'examples/skerry-sound-history.json')
    expect(example.status, example.stderr).toBe(0)
    expect(readPlanYaml(example.stdout).classes.map((c) => c.name)).toEqual(['pilot desk', 'manifest reader'])
    for (const [option, value, says] of [
      ['--as', 'came', 'has no single requests'],
      ['--columns', 'arrival=a', 'is about a log, and this is a metrics history'],
    ])
      expect(sandclock('begin', '--from', file, option, value).stderr).toContain(says)
    const wrong = sandclock('begin', '--from', file, '--metrics', 'input=none_total')
    expect([wrong.status, wrong.stderr]).toEqual([
      2,
      expect.stringContaining('must name metrics of this history: calls_total, words_in_total'),
    ])
    expect(sandclock('begin', '--metrics', 'input=a').stderr).toContain('is about a log or a history; give one with --from')
  })
})
