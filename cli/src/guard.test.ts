import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, expect, it } from 'vitest'
import { sandclock } from '../test/sandclock.ts'

const folder = mkdtempSync(join(tmpdir(), 'guard-'))
afterAll(() => rmSync(folder, { recursive: true }))

/** Two hours of a machine of 1.12 EUR an hour, as it is stated, with a guard. */
function planFile(budget: number): string {
  const plan = JSON.parse(readFileSync('examples/skerry-sound.json', 'utf8')) as Record<string, unknown> & {
    classes: { arrivals: unknown; targets: unknown }[]
    services: Record<string, unknown>[]
    horizon: object
  }
  const [desk] = plan.classes
  const { search: _, policies: __, start: ___, ...talk } = plan.services[0]
  const configuration = { machine: 'Northquay pebble', variant: '8-bit', sequences: 16, replicas: 1 }
  const file = join(folder, `${budget}.json`)
  writeFileSync(
    file,
    JSON.stringify({
      ...plan,
      budgetPerMonth: undefined,
      repetitions: 1,
      horizon: { ...plan.horizon, seconds: 7200, warmupSeconds: 0 },
      classes: [{ ...desk, arrivals: { kind: 'steady', ratePerSecond: 0.1 }, targets: [{ measure: 'lost', share: 0.5 }] }],
      services: [{ ...talk, configuration, guard: { budget, every: 'day' } }],
    }),
  )
  return file
}

it('that stops the plan’s own callers is said, and is no promise kept, in every command that runs what is stated', () => {
  for (const command of ['simulate', 'check', 'recommend']) {
    const run = (budget: number) => sandclock(command, planFile(budget))
    const [scarce, ample] = [run(1), run(50)]
    expect([command, scarce.status, ample.status]).toEqual([command, 1, 0])
    // 1.12 EUR an hour: after 53 minutes.
    expect(scarce.stdout).toMatch(/[Tt]he guard of 1.00\sEUR a day stops it on 1 of 1 days, first from Mon 00:5[34]/)
    expect(ample.stdout).not.toMatch(/stops it/)
  }
})
