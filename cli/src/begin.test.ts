import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readPlan, readPlanYaml } from '@sandclock/core'
import { describe, expect, it } from 'vitest'

const folder = mkdtempSync(join(tmpdir(), 'sand-clock-begin-'))
const sandclock = (...args: string[]) => spawnSync('node', ['cli/bin/sandclock.mjs', ...args], { encoding: 'utf8', maxBuffer: 1e8 })

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
    expect(json.stderr).toContain('assumed, services[0].limits.queue: 500 requests may wait')
  })

  it.each([
    [['--like', 'tea'], '--like is tea: it must be one of chat, documents, pictures, classifier, bulk, experts.'],
    [['--like', 'bulk', '--ttft', '3'], '--ttft: is not what "bulk" promises; give --latency.'],
    [['--model', 'sketch'], '--model is sketch: it must be one that "chat" can use: 3b, 8b, 14b, 32b, 70b, experts.'],
    [['--like', 'pictures', '--output', '20'], '--output: is not asked for by "pictures", whose requests have no tokens.'],
    [['--rate', '-1'], '--rate is -1: it must be a number above 0.'],
    [['--provider', 'Nowhere'], '--provider is Nowhere: it is not among the offers, which are of Northquay, Fenland, Tarn.'],
    [['--offers', 'nothing.csv'], 'nothing.csv does not exist.'],
  ])('refuses %s with a sentence, and writes nothing', (args, words) => {
    const { status, stdout, stderr } = sandclock('begin', ...args)
    expect([status, stdout]).toEqual([2, ''])
    expect(stderr).toContain(words)
  })
})
