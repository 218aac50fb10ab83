import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { generateRequests, partsOf, type Plan, type ServiceRules } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { plainWalk } from '../../core/test/reference/plainWalk.ts'
import { historyOf } from '../../core/test/historyOf.ts'
import { happened, withSteps } from '../../examples/make/happened.ts'
import { oneConfiguration } from '../../examples/make/oneConfiguration.ts'
import { skerrySound } from '../../examples/make/skerrySound.ts'
import { configured } from '../../core/src/answer/configured.ts'
import { plain, sandclock as run, type Ran } from '../test/sandclock.ts'
import { table } from './table.ts'

const folder = mkdtempSync(join(tmpdir(), 'sand-clock-cli-'))
const file = (name: string, content: unknown) => {
  const path = join(folder, name)
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content))
  return path
}
/** What was said, and what it ended with. */
const said = ({ status, stdout, stderr }: Omit<Ran, 'status'> & { status: number | null }) => ({
  status,
  stdout: plain(stdout),
  stderr: plain(stderr),
})
const sandclock = (...args: string[]) => said(run(...args))
/** As a process of its own. */
const program = (...args: string[]) => said(spawnSync('node', ['cli/bin/sandclock.mjs', ...args], { encoding: 'utf8', maxBuffer: 1e8 }))

/** One class of the demo for three hours: answered in a second or two. */
const small: Plan = {
  ...skerrySound,
  repetitions: 2,
  horizon: { ...skerrySound.horizon, seconds: 3 * 3600, warmupSeconds: 600 },
  classes: [{ ...skerrySound.classes[0], arrivals: { kind: 'steady', ratePerSecond: 1 } }],
  services: [{ ...skerrySound.services[0], search: { sequences: [32], devices: [1] } }],
}

describe('sandclock check', () => {
  it('passes while the stated configuration keeps its promises, and stops a pipeline with the figure when it does not', () => {
    const kept = program('check', 'examples/one-configuration.json')
    expect(kept.status).toBe(0)
    expect(kept.stdout).toMatch(
      /p95 TTFT\s+600 ms\s+\d+ ms\s+[\d.]+ %\s+meets\s+of these figures: its step costs were typed in\s+Every stated configuration keeps its promises/,
    )
    const harder = structuredClone(oneConfiguration)
    harder.classes[0].targets = [{ measure: 'ttft', percentile: 95, seconds: 0.1 }]
    const broken = program('check', file('harder-check.json', harder))
    expect(broken.status).toBe(1)
    expect(broken.stdout).toMatch(/talk no longer keeps its promise: pilot desk, p95 TTFT \d+ ms, promised 100 ms\./)
    expect(sandclock('check', 'examples/skerry-sound.json').status).toBe(2)
    const poor = sandclock('check', file('poor-check.json', { ...oneConfiguration, budgetPerMonth: 100 }))
    expect(poor.status).toBe(1)
    expect(poor.stdout).toMatch(/All of it costs [\d .]+ EUR a month more than the budget of 100(\.00)? EUR\./)
  })
})

describe('sandclock check --against', () => {
  const logOf = (factor: number) => file(`happened-${factor}.csv`, happened(oneConfiguration, withSteps(oneConfiguration, factor), 0))

  it('passes while what happens is what the plan says, and stops a pipeline when it drifts, with what explains it', () => {
    const same = sandclock('check', 'examples/one-configuration.json', '--against', logOf(1))
    expect(same.status, same.stdout + same.stderr).toBe(0)
    expect(same.stdout).toMatch(/talk is as predicted: over [\d ]+ requests/)
    const slower = sandclock('check', 'examples/one-configuration.json', '--against', logOf(1.3))
    expect(slower.status).toBe(1)
    expect(slower.stdout).toMatch(
      /talk drifts since .*: requests take 1\.[34]\d* times as long as predicted\.\sWhat explains it best is every step taking 1\.3 times/,
    )
    // As the README has it: of its last twenty minutes.
    const { stdout } = sandclock('check', 'examples/one-configuration.json', '--against', 'examples/one-configuration-happened.csv.gz')
    expect(stdout).toContain('talk drifts since Mon 00:40')
    const tolerant = sandclock('check', 'examples/one-configuration.json', '--against', logOf(1.3), '--tolerance', '80 %')
    expect(tolerant.status).toBe(0)
  })

  it('takes a metrics history as well, whose metrics can be said', () => {
    const long = { ...oneConfiguration, horizon: { ...oneConfiguration.horizon, seconds: 8 * 3600 } }
    const plan = file('long.json', long)
    const history = file('history.txt', historyOf(happened(long, withSteps(long, 1.4), 5 * 3600), long))
    const { status, stdout } = sandclock('check', plan, '--against', history)
    expect(status).toBe(1)
    expect(stdout).toMatch(/talk drifts since Mon 05:00: requests take 1\.[3-6]\d* times as long as predicted/)
    expect(stdout).toMatch(/predicted, mean/)
    expect(sandclock('check', plan, '--against', history, '--metrics', 'latency=requests_total').stderr).toContain(
      'latency: must be a histogram or a summary',
    )
    expect(sandclock('check', plan, '--against', history, '--metrics', 'latency=calls').stderr).toContain(
      'must name metrics of this history',
    )
    expect(sandclock('check', plan, '--against', history, '--columns', 'arrival=a').stderr).toContain('say --metrics')
  })

  it('says what a log lacks', () => {
    const bare = file('bare.csv', 'arrival_seconds,input,output\n1,100,50\n2,100,50\n')
    const { status, stderr } = sandclock('check', 'examples/one-configuration.json', '--against', bare)
    expect([status, stderr]).toEqual([2, expect.stringContaining('does not say how long each request took')])
  })
})

describe('sandclock starts', () => {
  const log = 'examples/skerry-sound-starts.csv'
  const plan = 'examples/skerry-sound.json'

  it('lays start-ups that were timed beside those of a plan, and writes the plan with them', () => {
    const out = join(folder, 'started.json')
    const { status, stdout } = sandclock('starts', log, plan, '--out', out)
    expect(status).toBe(0)
    expect(stdout).toMatch(/machine +12 +[78]\d\.\d s +[\d.]+ s to [\d.]+ s +from 20 starts on +80\.0 s/)
    expect(stdout).toMatch(/together +2 min \d+ s +2 min 37 s/)
    const again = sandclock('starts', log, out)
    // What was taken in is what the plan says now.
    expect(again.stdout).toMatch(/load +12 +(6\.\d\d s) .* \1/)
    expect(sandclock('simulate', out).stderr).not.toContain('can not')
  })

  it('says what it can not take', () => {
    expect(sandclock('starts', plan, plan).stderr).toContain('must name the columns "start", "stage" and "seconds" or "at"')
    expect(sandclock('starts', log, plan, '--service', 'nobody').stderr).toContain('is no service of the plan: pilot talk')
    expect(sandclock('starts', log, plan, '--variant', '3-bit').stderr).toContain('must be one that fits: 8-bit')
    expect(sandclock('starts', log, 'examples/one-configuration.json').stderr).toContain('has no start-up by stages')
  })
})

describe('sandclock recommend --worlds', () => {
  it('finds what holds with the certainty that a plan asks for, and says so', () => {
    const asked = { ...small, certainty: 0.95, doubt: { derived: 0.9, typed: 0.9 } }
    const [sure, plain] = [asked, small].map((plan, i) => sandclock('recommend', file(`sure-${i}.json`, plan)).stdout)
    expect(sure).toMatch(/It holds in at least 9[5-9] of 100 worlds, as the plan asks\./)
    const perMonth = (said: string) => Number(/^rent .* {2}([\d .]+) EUR/m.exec(said)?.[1].replaceAll(' ', ''))
    expect(perMonth(sure)).toBeGreaterThan(perMonth(plain))
    expect(sandclock('recommend', file('too-sure.json', { ...small, certainty: 1 })).stderr).toContain(
      'certainty is 1: it must be at most 0.99',
    )
  })

  it('says in how many worlds what is rented holds, and draws as many as it is told', () => {
    const plan = file('small-worlds.json', { ...small, doubt: { derived: 0.3 } })
    const { status, stdout } = sandclock('recommend', plan, '--explain', '--worlds', '7')
    expect(status).toBe(0)
    expect(stdout).toMatch(
      /pilot talk IN WORLDS: Every promise is kept in [0-7] of 7 worlds, .* derived step costs 30 %, typed ones and load tests 15 %/,
    )
    const refused = sandclock('recommend', plan, '--worlds', 'many')
    expect(refused.status).toBe(2)
    expect(sandclock('recommend', plan, '--worlds', '--json').stderr).toContain('--worlds: is told in words')
    expect(refused.stderr).toContain('--worlds is many: it must be a whole number from 1 to 10000')
    expect(sandclock('recommend', file('doubtful.json', { ...small, doubt: { derived: 15 } })).stderr).toContain(
      'doubt.derived is 15: it must be at most 1',
    )
  })
})

describe('sandclock recommend --explain', () => {
  it('says in words what to rent, what is tightest, what breaks it and what the nearest cheaper option misses', () => {
    const { status, stdout } = sandclock('recommend', file('small-explained.json', small), '--explain')
    expect(status).toBe(0)
    expect(stdout).toMatch(/^Every target is met for [\d .]+ EUR a month \([\d .]+ EUR for these \d+ \w+\)\./)
    expect(stdout).toMatch(
      /pilot talk: rent (up to )?\d+ × .+ side by side.*for [\d .]+ EUR a month \([\d .]+ EUR for these \d+ \w+\)\. (\d+-bit scores [\d.]+ % where .+ )?Tightest is pilot desk: p95 T(TFT|POT) of the worst hour .* to spare\./,
    )
    expect(stdout).toMatch(/It holds up to \d\.\d\d times the load/)
    expect(stdout).toMatch(
      /(The nearest that costs less is \d+ × .+ at [\d .]+ EUR: pilot desk: .+|Nothing that costs less came near enough)/,
    )
    expect(stdout).toMatch(/misses its .+ first, because late requests (wait|are in service)/)
    expect(stdout).not.toMatch(/undefined|NaN|null/)
  })
})

describe('sandclock simulate', () => {
  it('writes the times of every request, the same as the plain walk over every step', () => {
    const out = join(folder, 'out.csv')
    // The example for twenty minutes: the plain walk takes every step.
    const plan = { ...oneConfiguration, horizon: { ...oneConfiguration.horizon, seconds: 1200 } }
    const { status, stdout } = sandclock('simulate', file('one-walked.json', plan), '--per-request', out)
    expect(status).toBe(0)
    expect(stdout).toMatch(/pilot desk\s+p95 TTFT\s+600 ms\s+\d+ ms\s+\d+ ms to \d+ ms\s+[\d.]+ %\s+meets/)
    const [header, ...lines] = readFileSync(out, 'utf8').trimEnd().split('\n')
    expect(header).toBe('id,class,arrival,start,first_token,end,outcome,replica')
    const [service] = plan.services
    if (!service.configuration) throw new Error('the example states a configuration')
    const ready = configured(plan, service, service.configuration)
    if (!ready.ok) throw new Error('the example fits')
    const requests = generateRequests(plan, { seed: plan.seed })
    const rules: ServiceRules = {
      profile: partsOf(ready.spec).profile,
      routing: 'least-busy',
      queueLimit: 200,
      seed: 1,
      classes: [{ priority: 0, patienceSeconds: 30, cachedShare: 0 }],
      readyAtSeconds: new Float64Array(2),
      horizonSeconds: plan.horizon.seconds,
    }
    const walked = plainWalk(requests, rules).requests
    expect(lines).toHaveLength(walked.length)
    lines.forEach((line, i) => {
      const [id, , arrival, start, first, end, outcome, replica] = line.split(',')
      if (!/\.\d{9}$/.test(arrival)) throw new Error(`line ${i + 2} has no nanoseconds: ${line}`)
      if (outcome === 'unfinished') return
      const off = Math.max(
        ...[
          [arrival, requests.at[i]],
          [start, walked[i].start],
          [first, walked[i].firstToken],
          [end, walked[i].end],
        ].map(([a, b]) => Math.abs(Number(a) - Number(b))),
      )
      if (!(off <= 1e-6) || Number(id) !== i + 1 || outcome !== walked[i].outcome || Number(replica) !== walked[i].replica)
        throw new Error(`line ${i + 2}: ${line}, walked ${JSON.stringify(walked[i])}`)
    })
  })

  it('says with its exit status whether targets are met', () => {
    const harder = structuredClone(oneConfiguration)
    harder.classes[0].targets = [{ measure: 'ttft', percentile: 95, seconds: 0.1 }]
    const { status, stdout } = sandclock('simulate', file('harder.json', harder), '--json')
    expect(status).toBe(1)
    const result = JSON.parse(stdout) as { services: { targets: { certainty: string }[]; money: { perHour: number } }[] }
    expect(result.services[0].targets[0].certainty).toBe('misses')
    expect(result.services[0].money.perHour).toBe(5)
  })
})

describe('sandclock recommend', () => {
  it('answers a plan, with money, rivals and reasons', () => {
    const { status, stdout, stderr } = program('recommend', file('small.json', small))
    expect(status).toBe(0)
    expect(stdout).toMatch(/^rent +(up to )?\d+ × .+ EUR +[\d.]+ EUR +[\d.]+ EUR$/m)
    expect(stdout).toMatch(/^4\. +(up to )?\d+ ×/m)
    expect(stdout).toContain('weights 28.0 GB, memory 24.0 GB; needs 2 devices')
    expect(stdout).toMatch(/Every target is met for [\d ,.]+ EUR a month/)
    expect(stderr).not.toContain('rent')
  })

  it('replaces the load by a log and says what it left out', () => {
    const rows = Array.from({ length: 600 }, (_, i) => `${i * 3},pilot desk,${200 + i},50`)
    const log = file('log.csv', ['arrival,class,input,output', ...rows, 'x,pilot desk,1,1', '9,gulls,1,1'].join('\n'))
    const { status, stdout, stderr } = sandclock('recommend', 'examples/skerry-sound.json', '--requests', log, '--json')
    expect(status).toBe(0)
    expect(stderr).toContain('line 602, arrival is "x": it must be a number of seconds.')
    expect(stderr).toContain('1 row of class "gulls" stayed out: the plan has no such class.')
    expect(stderr).toContain('Class "hull watch" stayed out')
    const answer = JSON.parse(stdout) as {
      services: { classes: { counts: { arrivals: number } }[]; chosen: { targets: { interval: { runs: number } }[] } }[]
    }
    expect(answer.services).toHaveLength(1)
    expect(answer.services[0].chosen.targets[0].interval.runs).toBe(1)
  })

  it('ends with 1 when nothing meets the targets', () => {
    const never = structuredClone(small)
    never.classes[0].targets = [{ measure: 'ttft', percentile: 95, seconds: 0.001 }]
    const { status, stdout } = sandclock('recommend', file('never.json', never))
    expect(status).toBe(1)
    expect(stdout).toContain('No option meets the targets.')
  })
})

describe('sandclock fit', () => {
  it('shows what fits, how fast, and why not', () => {
    const { status, stdout } = sandclock('fit', file('fit.json', small))
    expect(status).toBe(0)
    expect(stdout).toMatch(
      /Northquay ledge +16-bit +1 +1\.94 EUR +28\.0 GB +80 566 tokens +\d+ +[\d.]+ ms a token +[\d.]+ ms a token +\d+ tokens/,
    )
    expect(stdout).toMatch(/Tarn plain +8-bit .*no 8-bit arithmetic: the device offers 16-bit/)
  })
})

describe('bad input', () => {
  it.each([
    [['simulate', 'nowhere.json'], 'nowhere.json does not exist.'],
    [['simulate', 'examples'], 'examples is a folder, not a file.'],
    [
      ['simulate', 'examples/skerry-sound.json'],
      'services[0].configuration: is missing; state one, or let "sandclock recommend" find one.',
    ],
    [['recommend', 'examples/skerry-sound-log.csv.gz'], 'This is not a plan file.'],
    [['recommend'], "missing required argument 'plan'"],
    [['dance'], "unknown command 'dance'"],
  ])('%j ends with 2 and a sentence', (args, sentence) => {
    const { status, stderr, stdout } = program(...args)
    expect(stderr).toContain(sentence)
    expect(status).toBe(2)
    expect(stdout).toBe('')
  })

  it('a configuration that does not fit says why', () => {
    const plan = structuredClone(small)
    plan.services[0].configuration = { machine: 'Northquay pebble', variant: '16-bit', sequences: 8, replicas: 1 }
    const { status, stderr } = sandclock('simulate', file('misfit.json', plan))
    expect(status).toBe(2)
    expect(stderr).toContain(
      'services[0].configuration.machine is "Northquay pebble": it can not be had or run: weights 28.0 GB, memory 24.0 GB; needs 2 devices.',
    )
  })
})

describe('table', () => {
  it('sets numbers to the right and words to the left', () => {
    expect(
      table(
        ['name', 'cost'],
        [
          ['a', '9 EUR'],
          ['bcd', '10 EUR'],
        ],
      ),
    ).toBe('name    cost\na      9 EUR\nbcd   10 EUR')
  })
})
