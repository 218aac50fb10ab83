import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { likelyAsked, likelyPlace, oneRequest, readPlan } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { sandclock } from '../test/sandclock.ts'

const folder = mkdtempSync(join(tmpdir(), 'sand-clock-one-'))
const one = (...args: string[]) => sandclock('one', ...args)
const DEMO = 'examples/skerry-sound.json'

describe('sandclock one', () => {
  it('answers the first question of somebody who has a model and a machine, without a plan', () => {
    const { status, stdout, stderr } = one(
      '--model',
      '14b',
      '--on',
      'Fenland twin',
      '--prompt',
      '600',
      '--answer',
      '200',
      '--idle-before',
      '5h',
    )
    expect([status, stderr]).toEqual([0, expect.stringContaining('No plan is given')])
    expect(stdout).toContain('a prompt of 600 tokens and an answer of 200, which finds nothing there')
    // 8 GB of image at 0.6 GB/s; 28 GB of weights in files of 28.84 at 0.8 GB/s.
    expect(stdout).toMatch(/13\.3\ss\s+its image is pulled/)
    expect(stdout).toMatch(/36\.0\ss\s+the weights are fetched/)
    expect(stdout).toContain('one request says nothing of how many a second a replica can bear')
  })

  it('says to the digit what the core lays out, several side by side', () => {
    const plan = readPlan(readFileSync(DEMO, 'utf8'))
    const [service] = plan.services
    const place = likelyPlace(plan, service, { machine: 'Fenland twin' })
    if (!place) throw new Error('it fits there')
    const asked = likelyAsked(plan, service, place)
    const { stdout } = one(DEMO, '--service', 'pilot talk', '--on', 'Fenland twin', '--others', '0,8', '--json')
    const { requests } = JSON.parse(stdout) as { requests: unknown }
    expect(requests).toEqual(JSON.parse(JSON.stringify([0, 8].map((others) => oneRequest(plan, { ...asked, others })))))
  })

  it('estimates the tokens of a prompt that is given, and says so', () => {
    const file = join(folder, 'prompt.txt')
    writeFileSync(file, 'Where is berth four, and when is high water there?')
    const { stdout, stderr } = one('--model', '14b', '--on', 'Fenland twin', '--prompt-file', file)
    expect(stderr).toContain('13 tokens, an estimate by its letters')
    expect(stdout).toContain('a prompt of 13 tokens')
  })

  it('says what readings of real tries prove: no capacity, but those that are left, and what to try next', () => {
    const place = ['--model', '14b', '--variant', '8-bit', '--on', 'Fenland twin', '--prompt', '600', '--answer', '60']
    const { status, stdout } = one(...place, '--saw', 'whole=2.4', 'first=250ms')
    expect(status).toBe(0)
    expect(stdout).toMatch(
      /WHAT WAS READ\nOf 1.500 ways in which it may be \d+ are left, in which one replica bears [\d.]+ to [\d.]+ requests a second/,
    )
    const { proof } = JSON.parse(one(...place, '--saw', 'whole=2.4', 'first=250ms', '--json').stdout) as { proof: { kept: number } }
    expect(proof.kept).toBeGreaterThan(0)
  })

  it.each([
    [[DEMO, '--service', 'pilot talk', '--saw', 'tea=3'], '--saw is tea=3: it must be whole, first, speed and a figure'],
    [[], 'plan: is needed, or a model'],
    [['--model', '14b', '--on', 'x'], '--on is x: it must be one of Northquay pebble'],
    [['--model', '70b', '--on', 'Northquay pebble'], '--on: has no room for Godwit 70B on Northquay pebble; see sandclock fit'],
    [[DEMO], '--service: must say which: pilot talk, manifest desk, hull eyes'],
    [[DEMO, '--service', 'tea'], '--service is tea: it must be one of pilot talk'],
    [[DEMO, '--service', 'pilot talk', '--finds', 'x'], '--finds is x: it must be one of nothing, stopped, unloaded, warm'],
    [[DEMO, '--service', 'pilot talk', '--others', '1,x'], '--others is 1,x: it must be whole numbers such as 0,1,8'],
  ])('refuses %j with a sentence', (args, words) => {
    const { status, stdout, stderr } = one(...args)
    expect([status, stdout]).toEqual([2, ''])
    expect(stderr).toContain(words)
  })

  it('lays out what states its own step costs, with its price; where none is stated no money is told', () => {
    const { status, stdout } = one('examples/one-configuration.json', '--kept', '0')
    expect(status).toBe(0)
    expect(stdout).toContain('replica with given step costs, as stated, up to 48 side by side')
    // P0 + max(Pm, P1·600) + P2·600² = 0.006 + 0.054 + 0.000072 s; 2.50 an hour.
    expect(stdout).toMatch(/The first token comes after 60\.1\sms/)
    expect(stdout).toMatch(/On demand it costs 0\.00\d+\sEUR/)
    const plan = JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')) as { services: { configuration: object }[] }
    plan.services[0].configuration = { ...plan.services[0].configuration, pricePerReplicaHour: undefined }
    writeFileSync(join(folder, 'unpriced.json'), JSON.stringify(plan))
    const free = one(join(folder, 'unpriced.json'))
    expect([free.status, free.stdout.includes('it costs')]).toEqual([0, false])
  })
})
