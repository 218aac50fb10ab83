import { spawnSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Plan } from '@sandclock/core'
import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../examples/make/skerrySound.ts'
import { plain, sandclock } from '../test/sandclock.ts'

const [pilots, readers] = skerrySound.classes
const [talk, manifests] = skerrySound.services
const short = { ...skerrySound, repetitions: 2, horizon: { ...skerrySound.horizon, seconds: 3 * 3600, warmupSeconds: 600 } }

/** The pilot desk for three hours. */
const desk: Plan = {
  ...short,
  classes: [{ ...pilots, arrivals: { kind: 'steady', ratePerSecond: 1 } }],
  services: [{ ...talk, search: { sequences: [32], devices: [1] } }],
}
/** The readers for three hours, on machines or by the call. */
const byCall: Plan = { ...short, classes: [{ ...readers, arrivals: { kind: 'steady', ratePerSecond: 0.2 } }], services: [manifests] }

const folder = mkdtempSync(join(tmpdir(), 'sand-clock-details-'))
function fileOf(name: string, plan: Plan): string {
  const path = join(folder, name)
  writeFileSync(path, JSON.stringify(plan))
  return path
}
const path = fileOf('desk.json', desk)

/** The rows under a title, until the next line that is no row: each as its cells. */
function rowsUnder(text: string, title: RegExp): string[][] {
  const lines = text.split('\n')
  const from = lines.findIndex((l) => title.test(l))
  if (from < 0) throw new Error(`no ${title} in:\n${text}`)
  const until = lines.findIndex((l, i) => i > from + 1 && !/\S {2,}\S/.test(l))
  return lines.slice(from + 2, until < 0 ? undefined : until).map((l) => l.trim().split(/ {2,}/))
}
const figure = (s: string) => Number(s.replaceAll(/[^\d.]/g, ''))

function details(of: string): { status: number | null; text: string } {
  const { status, stdout } = sandclock('recommend', of, '--details')
  return { status, text: plain(stdout) }
}

describe('sandclock recommend --details', () => {
  const { status, text } = details(path)

  it('shows start-ups whose stages add up, and what time-out they need', () => {
    expect(status).toBe(0)
    expect(text).toMatch(/start-up \(time-out 15 min; it takes [\d.]+ s once a machine is there\)/)
    const rows = rowsUnder(text, /^start-up/)
    expect(rows.map(([from]) => from)).toEqual([
      'from nothing',
      'from a stopped machine',
      'from a machine that is there',
      'from where one was before',
    ])
    const there = rows[2].slice(1).map((c) => (c.includes('ms') ? figure(c) / 1000 : figure(c)))
    expect(there.slice(0, -1).reduce((a, b) => a + b)).toBeCloseTo(there.at(-1) ?? NaN, 0)
  })

  it('shows what is wanted against stock and quota, and the replicas by the clock', () => {
    const [supply] = rowsUnder(text, /^what can be had/)
    const offer = desk.machines.find((m) => m.name === supply[0])
    expect(supply[2]).toBe(String(offer?.stock))
    expect(supply[3]).toBe(offer?.quota === undefined ? 'none' : String(offer.quota))
    expect(rowsUnder(text, /^replicas over the day/)).toHaveLength(3)
  })

  it('shows a ledger whose parts are the whole, and a histogram of all that finished', () => {
    const ledger = rowsUnder(text, /^where a month’s money goes/)
    const parts = ledger.slice(0, -1).reduce((sum, [, amount]) => sum + figure(amount), 0)
    expect(Math.abs(parts / figure(ledger.at(-1)?.[1] ?? '') - 1)).toBeLessThan(0.01)
    const shares = rowsUnder(text, /^latency of pilot desk/).map(([, , share]) => figure(share))
    expect(Math.abs(shares.reduce((a, b) => a + b) - 100)).toBeLessThan(0.5)
  })

  it('compares the variants', () => {
    const variants = rowsUnder(text, /^quality of the variants/)
    expect(variants.filter((r) => r.at(-1) === 'this')).toHaveLength(1)
    expect(variants.length).toBeGreaterThan(2)
  })

  it('says from how many calls on machines cost less, and what calls cost between all warm and all cold', () => {
    const told = details(fileOf('calls.json', byCall)).text
    expect(told).toMatch(/Below [\d ]+ calls a month .*Northquay call by the call costs less, above it .* does; the plan has/)
    const [, mean, warm, cold] = (
      /calls cost ([\d .]+) EUR a month: ([\d .]+) EUR if none found an instance cold, ([\d .]+) EUR if each did/.exec(told) ?? []
    ).map(figure)
    expect(warm).toBeLessThanOrEqual(mean)
    expect(cold).toBeGreaterThan(mean)
  })
})

it('a reader that goes away in the middle is no error', () => {
  const { stdout, stderr } = spawnSync(
    'bash',
    [
      '-c',
      `node cli/bin/sandclock.mjs recommend '${path}' --json --all 2>'${path}.err' | head -c 20; echo " \${PIPESTATUS[0]}"; cat '${path}.err' >&2`,
    ],
    { encoding: 'utf8' },
  )
  expect(stdout).toMatch(/^\{\s+"format": "sand- 0\n$/)
  expect(stderr).not.toMatch(/EPIPE|Error/)
})
