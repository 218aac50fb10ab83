import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import type { Distribution } from '@sandclock/core'
import { plain, sandclock as run } from '../test/sandclock.ts'

const PLAN = 'examples/one-configuration.json'
const sandclock = (command: string, ...args: string[]) => run(command, PLAN, ...args)
const folder = mkdtempSync(join(tmpdir(), 'sandclock-'))

describe('--distributions', () => {
  it('has every request of --per-request in its bins, in a stretch and in all', () => {
    const [bins, rows] = [join(folder, 'bins.json'), join(folder, 'rows.csv')]
    sandclock('simulate', '--per-request', rows)
    const [header, ...lines] = readFileSync(rows, 'utf8').trim().split('\n')
    const at = (name: string) => header.split(',').indexOf(name)
    for (const [args, from, until] of [
      [[], 0, Infinity],
      [['--within', '10 min to 15 min'], 600, 900],
    ] as const) {
      sandclock('simulate', '--distributions', bins, ...args)
      const { format, services } = JSON.parse(readFileSync(bins, 'utf8'))
      expect(format).toBe('sand-clock-distributions')
      for (const d of services[0].distributions as Distribution[]) {
        if (d.measure !== 'latency' && d.measure !== 'wait') continue
        const times = lines.flatMap((line) => {
          const cells = line.split(',')
          const [arrival, end] = [Number(cells[at('arrival')]), Number(cells[at(d.measure === 'wait' ? 'start' : 'end')])]
          return arrival >= from && arrival < until && cells[at('outcome')] === 'finished' ? [end - arrival] : []
        })
        expect(d.spread.count).toBe(times.length)
        // The rows are rounded: only what lies on an edge can fall on its other side.
        for (const b of d.bins) {
          const inside = times.filter((t) => t >= b.fromSeconds && t < b.untilSeconds).length
          const near = times.filter((t) => Math.min(Math.abs(t - b.fromSeconds), Math.abs(t - b.untilSeconds)) < 2e-6).length
          expect(Math.abs(inside - b.requests)).toBeLessThanOrEqual(near)
        }
      }
    }
  })

  it('is text with a bar for each fifth of a power of ten, and what is promised beside it', () => {
    const words = plain(sandclock('simulate', '--distributions').stdout)
    expect(words).toMatch(/\n\nTTFT of pilot desk at talk: [\d ]+ requests, 0 lost\n/)
    expect(words).toMatch(/\n *100 ms to 158 ms +\d[\d.]* % +▇+( +p\d\d.*)?\n/)
    for (const mark of ['p50', 'p90', 'p95', 'p99']) expect(words).toContain(mark)
  })

  it.each([
    [['simulate', '--within', '1 h to 2 h'], '--within: is about --distributions'],
    [['simulate', '--distributions', '--within', 'Mon 08:00'], 'it must be two times with "to" between'],
    [['simulate', '--distributions', '--within', '2 h to 3 h'], 'it begins after the 1 h that are simulated'],
    [['recommend', '--distributions', '--explain'], '--distributions: is text of its own; beside --json or --explain name a file'],
    [['simulate', '--side-by-side', '4', '--distributions'], '--distributions: is about the load of the plan'],
  ])('refuses %s with a sentence', ([command, ...args], words) => {
    const { status, stdout, stderr } = sandclock(command, ...args)
    expect([status, stdout]).toEqual([2, ''])
    expect(plain(stderr)).toContain(words)
  })
})
