import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { sandclock as run } from '../test/sandclock.ts'

const sandclock = (...args: string[]) => run('session', ...args)
const PLACE = ['--model', '14b', '--on', 'Fenland twin', '--variant', '8-bit']

describe('sandclock session', () => {
  it('says what some use costs, what each way of ending it costs after it, and when to switch off', () => {
    const { status, stdout } = sandclock(...PLACE, '--requests', '12', '--pause', '2min', '--idle', '30min', '--until', '18:00')
    expect(status).toBe(0)
    expect(stdout).toMatch(/12 requests, each 2\smin after the one before; it costs 0\.80\sEUR/)
    // 1.78 EUR an hour: a day more is 42.72 EUR more, half an hour 0.89.
    expect(stdout).toMatch(/never noticed\s+0\.80\sEUR\s+43\.52\sEUR/)
    expect(stdout).toMatch(/given back when it was idle\s+0\.80\sEUR\s+1\.69\sEUR/)
    expect(stdout).toMatch(/Forgetting it costs more than the session itself from 27\smin after its end on/)
    expect(stdout).toContain('it never costs more than twice what somebody pays who knows when the next call comes')
  })

  it('is the same as JSON', () => {
    const { stdout } = sandclock(...PLACE, '--json')
    const { session, switchOff } = JSON.parse(stdout) as {
      session: { branches: { ending: string }[]; seconds: number; forgettingSeconds: number; cost: number; perHour: number }
      switchOff: { calls: { fair: { cost: number }; best: { cost: number }; clairvoyantCost: number } }
    }
    expect(session.branches.map((b) => b.ending)).toEqual(['deleted', 'stopped', 'idle', 'until', 'never'])
    // What is billed is whole minutes.
    expect(session.forgettingSeconds).toBeCloseTo(Math.ceil(session.seconds / 60) * 60, 6)
    expect((session.forgettingSeconds * session.perHour) / 3600).toBeCloseTo(session.cost, 9)
    const { calls } = switchOff
    expect(calls.clairvoyantCost).toBeLessThanOrEqual(calls.best.cost)
    expect(calls.best.cost).toBeLessThanOrEqual(calls.fair.cost)
    expect(calls.fair.cost).toBeLessThanOrEqual(2 * calls.clairvoyantCost)
  })

  it('knows the gaps of a log that came, which its plan names', () => {
    const folder = mkdtempSync(join(tmpdir(), 'sand-clock-session-'))
    const [log, plan] = [join(folder, 'log.csv'), join(folder, 'plan.yaml')]
    const rows = Array.from({ length: 60 }, (_, i) => `${i * 600},400,100`)
    writeFileSync(log, ['arrival,input_tokens,output_tokens', ...rows].join('\n'))
    run('begin', '--from', log, '--as', 'came', '--out', plan)
    const { status, stdout, stderr } = sandclock(plan)
    expect(status, stderr).toBe(0)
    // Ten minutes from each call to the next, of which it is idle for nearly all.
    expect(stdout).toContain('Over the 59 gaps of the plan’s own calls')
  })

  it('takes a small load in place of requests by hand', () => {
    const { stdout } = sandclock(...PLACE, '--rate', '30', '--lasts', '3h')
    expect(stdout).toMatch(
      /of start-up, and \d+ requests over 3\sh \(30\.0 an hour, as chance has it\), half of them answered within .+; it costs/,
    )
  })

  it.each([
    [[...PLACE, '--rate', '5', '--requests', '3'], '--rate: is a small load in place of requests by hand'],
    [[...PLACE, '--rate', 'many'], '--rate is many: it must be requests an hour above 0'],
    [[...PLACE, '--lasts', '2h'], '--rate: must be requests an hour above 0'],
    [[...PLACE, '--requests', '0'], '--requests is 0: it must be a whole number of at least 1'],
    [[...PLACE, '--until', '25:00'], '--until is 25:00: it must be an hour of the day such as 18:00'],
    [[...PLACE, '--pause', 'long'], '--pause is long: it must be a time such as 5h or 30min'],
    [[...PLACE, '--worth', '-1'], '--worth is -1: it must be an amount of at least 0'],
    [['--model', '14b', '--on', 'x'], '--on is x: it must be one of'],
  ])('refuses %j with a sentence', (args, words) => {
    const { status, stdout, stderr } = sandclock(...args)
    expect([status, stdout]).toEqual([2, ''])
    expect(stderr).toContain(words)
  })
})
