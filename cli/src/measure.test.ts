import { execFile, spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { plain } from '../test/sandclock.ts'

const COMMAND = 'cli/bin/sandclock.mjs'
const folder = mkdtempSync(join(tmpdir(), 'sand-clock-measure-'))
const file = (name: string, text: string) => {
  writeFileSync(join(folder, name), text)
  return join(folder, name)
}
const sandclock = (...args: string[]) =>
  promisify(execFile)('node', [COMMAND, ...args], { env: { ...process.env, HARBOUR_KEY: 'known to few' } }).then(({ stdout }) => stdout)
/** Where this machine does other things besides, the probe may be late and say so: what it tells is looked at all the same. */
const evenIfVoid = (error: { code: number; stdout: string }) => {
  if (error.code === 1 && error.stdout.includes(', VOID')) return error.stdout
  throw error
}
// That a part was late is not what is looked at here.
const measure = async (...args: string[]) => plain(await sandclock('measure', ...args).catch(evenIfVoid)).replaceAll(', VOID', '')
/** What stands in for a plan, and where. */
async function standIn(plan: string, speed: string): Promise<{ url: string; end: () => void }> {
  const child = spawn('node', [COMMAND, 'stand-in', plan, '--speed', speed], { stdio: ['ignore', 'pipe', 'ignore'] })
  let said = ''
  child.stdout.on('data', (data: Buffer) => (said += data.toString()))
  while (!/is at http/.test(said)) await new Promise((resolve) => child.stdout.once('data', resolve))
  return { url: /http:\/\/[\d.:]+/.exec(said)?.[0] ?? '', end: () => void child.kill() }
}
const refusal = (...args: string[]) =>
  sandclock('measure', ...args).then(
    () => 'nothing',
    (error: { code: number; stderr: string }) => `${error.code}: ${error.stderr}`,
  )

let fast: Awaited<ReturnType<typeof standIn>>
let how = ''
beforeAll(async () => {
  fast = await standIn('examples/one-configuration.json', '20')
  const text = readFileSync('examples/ask/chat.yaml', 'utf8').replace('http://127.0.0.1:8080', fast.url)
  how = file('how.yaml', `${text}headers: { authorization: "Bearer \${HARBOUR_KEY}" }\nprice: { perOutputToken: 0.01, currency: EUR }\n`)
})
afterAll(() => fast.end())

// They mostly wait, each for another program: together.
describe.concurrent('measuring on the command line', () => {
  it('tells of one call how long it took, and that it is no capacity figure', async () => {
    const said = await measure(how, '--sizes', '100+8')
    expect(said).toMatch(/harbour talk: 2 requests/)
    expect(said).toMatch(/warm-up, not counted +1 +100 %/)
    expect(said).toMatch(/one call +1 +100 %/)
    expect(said).toContain('One call is no capacity figure')
    expect(said).toContain('It cost 0.16 EUR.')
  })

  it('steps up what is at once, and writes every request, histograms and figures that agree with each other', async () => {
    const [rows, bins, figures] = ['rows.csv', 'bins.json', 'figures.json'].map((name) => join(folder, name))
    const said = await measure(
      how,
      '--at-once',
      '1,4',
      '--each',
      '3',
      '--sizes',
      '100+8',
      '--out',
      rows,
      '--histogram',
      bins,
      '--json',
      figures,
    )
    expect(said).toMatch(/4 at once +12 +100 %/)
    const lines = readFileSync(rows, 'utf8')
      .trim()
      .split('\n')
      .map((l) => l.split(','))
    expect(lines).toHaveLength(1 + 1 + 3 + 12)
    const crowd = lines.filter((l) => l[1] === '4 at once')
    expect(crowd.every((l) => l[6] === 'finished' && l[10] === '100' && l[11] === '8' && l[12].split(' ').length === 7)).toBe(true)
    const read = (name: string) => readFileSync(name, 'utf8')
    const { parts } = JSON.parse(read(bins)) as { parts: { part: string; latency: { count: number }[] }[] }
    expect(parts.map((p) => [p.part, p.latency.reduce((sum, b) => sum + b.count, 0)])).toEqual([
      ['1 at once', 3],
      ['4 at once', 12],
    ])
    const measured = JSON.parse(read(figures)) as { parts: { latency: { p50: { value: number } } }[] }
    const took = crowd.map((l) => Number(l[5]) - Number(l[2])).sort((a, b) => a - b)
    expect(measured.parts[2].latency.p50.value).toBeCloseTo(took[5], 6)
    for (const name of [rows, bins, figures]) expect(read(name)).not.toContain('known to few')
  })

  it('climbs in rates, replays a log, and keeps to what it may cost', async () => {
    expect(await measure(how, '--rates', '20,40', '--lasts', '1 s', '--sizes', '20+2')).toMatch(/20 a second[^]*40 a second/)
    expect(await measure(how, '--rates', '20,40', '--lasts', '1 s', '--sizes', '20+2', '--latency', '1 µs')).not.toContain('40 a second')
    const log = file('log.csv', 'arrival,class,input,output\n5,a,10,2\n5.1,a,20,3\n5.4,a,30,4\n')
    expect(await measure(how, '--requests', log, '--warm-up', '0')).toMatch(/the log +3 +100 %/)
    const poor = await measure(how, '--calls', '9', '--sizes', '20+2', '--warm-up', '0', '--most-money', '0.05')
    expect(poor).toMatch(/one after another +2 +100 %[^]*most money/)
  })

  it.each([
    [['--at-once', '1,x'], '--at-once is x: it must be a whole number from 1 to 1024'],
    [['--sizes', '12'], '--sizes is 12: it must be tokens of a prompt + tokens of an answer'],
    [['--calls', '3', '--rates', '1'], '--calls and --rates: are loads of their own'],
    [['--rates', '1', '--lasts', 'long'], '--lasts is long: it must be a time from 1 s to 1 d'],
    [['--prompts', 'none.txt'], 'none.txt does not exist.'],
    [['--out', 'no/such/folder/rows.csv'], 'no/such/folder/rows.csv can not be written'],
  ])('refuses %j with a sentence', async (args, says) => {
    const said = plain(await refusal(how, ...args))
    expect(said).toContain('2: ')
    expect(said).toContain(says)
  })

  it('ends with status 1 where nobody is there, and refuses another machine that was not named', async () => {
    const nobody = file('nobody.yaml', readFileSync('examples/ask/plain.yaml', 'utf8').replace(':8080', ':9'))
    expect(await refusal(nobody)).toMatch(/^1: /)
    const elsewhere = file('elsewhere.yaml', readFileSync('examples/ask/plain.yaml', 'utf8').replace('127.0.0.1', 'elsewhere.invalid'))
    expect(await refusal(elsewhere)).toContain('say --allow-host elsewhere.invalid')
  })
})

describe.concurrent('when a service sleeps', () => {
  it('is found by trying, with what its first caller endures', async () => {
    const plan = JSON.parse(readFileSync('examples/skerry-sound.json', 'utf8')) as Record<string, unknown> & {
      services: Record<string, unknown>[]
      classes: { service: string }[]
      machines: Record<string, unknown>[]
    }
    const [{ search: _, ...talk }] = plan.services
    const sleeper = {
      ...talk,
      policies: [{ name: 'naps', min: 0, max: 1, idle: { seconds: 4, firstCaller: 'hold' } }],
      start: {
        machineSeconds: 2,
        imageBytes: 0,
        imageBytesPerSecond: 1e9,
        weights: { from: 'store', bytesPerSecond: 1e11 },
        loadBytesPerSecond: 1e11,
        warmupSeconds: 0.5,
      },
      nodes: { idleSeconds: 0.1 },
      configuration: { machine: 'Tarn four', variant: '8-bit', devices: 1, replicas: 1, sequences: 16, policy: 'naps' },
    }
    // One of them that comes whenever it is ordered.
    const machines = plan.machines.map(({ availability: __, ...m }) => m)
    const classes = plan.classes.filter((c) => c.service === talk.name)
    const napping = await standIn(file('naps.json', JSON.stringify({ ...plan, services: [sleeper], classes, machines })), '1')
    try {
      const asked = file('naps.yaml', readFileSync('examples/ask/chat.yaml', 'utf8').replace('http://127.0.0.1:8080', napping.url))
      const said = await measure(asked, '--find-idle', '2 s', '--most-idle', '30 s', '--sizes', '50+4')
      // It looks every so often, so that it sleeps a little later than it may.
      expect(said).toMatch(/It goes to sleep between [23]\.\d\d s and [4-9]\.\d\d s after the last call\./)
      const waits = /Who comes first then waits ([\d.]+) s longer than the [\d.]+ ms of others/.exec(said)?.[1]
      expect(Number(waits)).toBeGreaterThan(2.5)
    } finally {
      napping.end()
    }
  })
})

describe.concurrent('step costs on the command line', () => {
  it('are found behind what was measured, and judged by what was not fitted', async () => {
    // By the clock itself: as fast as this a token is made when it is seen.
    const plan = JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')) as {
      services: { configuration: { replicas: number } }[]
    }
    plan.services[0].configuration.replicas = 1
    const slow = await standIn(file('one.json', JSON.stringify(plan)), '1')
    try {
      const asked = file('slow.yaml', readFileSync('examples/ask/chat.yaml', 'utf8').replace('http://127.0.0.1:8080', slow.url))
      const [fit, judge, costs] = ['fit.csv', 'judge.csv', 'costs.json'].map((name) => join(folder, name))
      await measure(asked, '--at-once', '1,4,8', '--each', '4', '--sizes', '200+12,900+16', '--out', fit)
      await measure(asked, '--rates', '4', '--lasts', '3 s', '--sizes', '300+12,700+10', '--out', judge)
      const said = plain(await sandclock('costs', fit, '--judge', judge, '--cache-tokens', '120000', '--out', costs))
      expect(said).toMatch(
        /^Believable to within [\d.]+ % .* up to \d+ at once, as \d+ requests of “4 a second” showed, which were not fitted/,
      )
      expect(said).toMatch(/TTFT p50 +[\d.]+ ms +[\d.]+ ms +[−+][\d.]+ %/)
      expect(said).toMatch(/Fitted to 52 requests, each by itself, up to 8 at once/)
      expect((JSON.parse(readFileSync(costs, 'utf8')) as { memorySeconds: number }).memorySeconds).toBeGreaterThan(0)
      // A decode step takes 14 ms there: whatever else this machine does, nobody is answered sooner.
      for (const cells of readFileSync(fit, 'utf8')
        .trim()
        .split('\n')
        .slice(1)
        .map((l) => l.split(',')))
        expect(Number(cells[5]) - Number(cells[8])).toBeGreaterThan(0.014 * (Number(cells[11]) - 1))
      // They stand in a plan as they are.
      const profile = JSON.parse(readFileSync(costs, 'utf8')) as object
      const [talk] = plan.services
      const found = { ...plan, services: [{ ...talk, configuration: { ...talk.configuration, profile } }] }
      expect(await sandclock('simulate', file('found.json', JSON.stringify(found)))).toMatch(/TTFT/)
      await expect(sandclock('costs', fit, '--judge', fit)).rejects.toMatchObject({
        code: 2,
        stderr: expect.stringContaining('what was fitted can not judge') as string,
      })
      // What was measured last judges the rest where nothing else is said; one part alone judges nothing.
      expect(await sandclock('costs', fit)).toMatch(/as 32 requests of “8 at once” showed/)
      await expect(sandclock('costs', judge)).rejects.toMatchObject({
        code: 1,
        stdout: expect.stringContaining('Nothing judges this fit') as string,
      })
      await expect(sandclock('costs', costs)).rejects.toMatchObject({
        code: 2,
        stderr: expect.stringContaining('These are no measured requests') as string,
      })
    } finally {
      slow.end()
    }
  })
})
