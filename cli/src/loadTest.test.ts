import { describe, expect, it } from 'vitest'
import type { LoadTest } from '@sandclock/core'
import { plain, sandclock as run } from '../test/sandclock.ts'

const PLAN = 'examples/one-configuration.json'
const sandclock = (...args: string[]) => run('simulate', PLAN, ...args)

describe('sandclock simulate --side-by-side', () => {
  it('says throughput and percentiles by callers at once, and where it bends, in words and as JSON', () => {
    const words = plain(sandclock('--side-by-side', '64,1,128,8').stdout)
    expect(words).toContain('PILOT DESK at talk, requests as they come: 2 replicas, 96 places')
    expect(words).toMatch(/at once +requests\/s +answer tokens\/s +p50 +p90 +p95 +p99 +waiting +first p50/)
    expect(words).toMatch(/From 64 to 128 at once it bends: .+ there are 96 places, so that callers wait .+ of their time\.\n$/)
    const { format, tests } = JSON.parse(sandclock('--side-by-side', '64,1,128,8', '--json').stdout)
    expect(format).toBe('sand-clock-load-test')
    expect(tests[0].steps.map((s: { clients: number }) => s.clients)).toEqual([1, 8, 64, 128])
    for (const { clients, requestsPerSecond, latency } of tests[0].steps) {
      expect(latency.p50).toBeLessThan(latency.p90)
      expect(requestsPerSecond * latency.mean).toBeGreaterThan(0.95 * clients)
    }
  })

  it('of rates, and of short against long requests, climbs to what each bears', () => {
    const { tests } = JSON.parse(sandclock('--rates', '--sizes', 'short,long', '--json').stdout)
    const most = tests.map((t: LoadTest) => Math.max(...t.steps.map((s) => s.requestsPerSecond)))
    expect(tests.map((t: LoadTest) => [t.sent, t.pressing])).toEqual([
      ['short', 'a second'],
      ['long', 'a second'],
    ])
    expect(most[0]).toBeGreaterThan(3 * most[1])
    const words = plain(sandclock('--rates', '0.5,100', '--sizes', 'long').stdout)
    expect(words).toMatch(/long requests \(10 of 100 are longer\)/)
    expect(words).toMatch(/Up to 0\.500 \/s as many are answered as come .+; of 100 \/s only [\d.]+ \/s are/)
  })

  it.each([
    [['--rates', '0'], '--rates is 0: it must be requests a second, above 0'],
    [['--rates', '--sizes', 'tiny'], '--sizes is tiny: it must be drawn, short or long'],
    [['--sizes', 'short'], '--sizes: is about a load test'],
    [['--side-by-side', '1,two'], '--side-by-side is 1,two: it must be whole numbers of callers from 1 to 10000, such as 1,2,4,8.'],
    [['--side-by-side', '0'], 'must be whole numbers of callers'],
    [['--side-by-side', '4', '--details'], '--details: is about the load of the plan, and a load test replaces that'],
    [['--side-by-side', '4', '--per-request', 'out.csv'], '--per-request: is about the load of the plan'],
  ])('refuses %s with a sentence', (args, words) => {
    const { status, stdout, stderr } = sandclock(...args)
    expect([status, stdout]).toEqual([2, ''])
    expect(plain(stderr)).toContain(words)
  })
})
