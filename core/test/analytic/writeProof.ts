import fc from 'fast-check'
import { writeFileSync } from 'node:fs'
import { compare, RUNS, withScript, type Comparison } from '../property/randomRuns.ts'
import { idleWhileWaiting, serviceArea, systemArea, type Sides } from '../property/runLaws.ts'
import { coverage, INTERVALS, RUNS as RUNS_OF_A_STUDY } from './coverage.ts'
import { agrees, LAWS, readLaw } from './laws.ts'

/** Random runs of each kind of service that are compared with the plain walk. */
const COMPARED = 1500
const digits = (value: number) => Number(value.toPrecision(5)).toString()
const row = (cells: readonly (string | number)[]) => `| ${cells.join(' | ')} |`
const heads = (cells: readonly string[]) => [row(cells), row(cells.map(() => '---'))]

function laws(): string[] {
  const rows = LAWS.map((law) => {
    const reading = readLaw(law)
    const { value, half, seeds } = reading
    console.log(`${law.law}, ${law.parameters}, ${law.quantity}`)
    return row([
      law.law,
      law.parameters,
      law.quantity,
      digits(law.exact),
      digits(value),
      `${digits(value - half)} to ${digits(value + half)}`,
      seeds,
      agrees(law, reading) ? 'agrees' : '**does not agree**',
    ])
  })
  return [...heads(['law', 'parameters', 'quantity', 'exact', 'simulated', '99 % interval', 'seeds', 'verdict']), ...rows]
}

function agreement(): string[] {
  const rows = Object.entries(RUNS).flatMap(([kind, runs]) =>
    [false, true].map((scripted) => {
      console.log(`comparing ${kind}`)
      let largest = 0
      let requests = 0
      for (const [i, fixed] of fc.sample<Comparison>(runs, { numRuns: COMPARED, seed: 7 }).entries()) {
        const run = scripted ? withScript(fixed, i) : fixed
        largest = Math.max(largest, compare(run).difference)
        requests += run.requests.count
      }
      return row([
        scripted ? `${kind}, replicas come and go` : kind,
        COMPARED,
        requests,
        largest.toExponential(1),
        largest <= 1e-6 ? 'agrees' : '**does not agree**',
      ])
    }),
  )
  return [...heads(['service', 'random runs', 'requests', 'largest difference of any time, s', 'verdict']), ...rows]
}

const off = ({ left, right }: Sides) => Math.abs(left - right) / Math.max(1, right)

function invariants(): string[] {
  const rows = Object.entries(RUNS).flatMap(([kind, runs]) => {
    console.log(`laws of ${kind}`)
    const sample = fc.sample<Comparison>(runs, { numRuns: COMPARED, seed: 17 })
    const inSystem = sample.map(systemArea)
    const inService = sample.map(serviceArea).filter((s) => s !== undefined)
    const idle = sample.map(idleWhileWaiting)
    const readings: [string, number, number, number, string][] = [
      ["Little's law, in the system", inSystem.length, Math.max(...inSystem.map(off)), 1e-5, 'of the area'],
      ["Little's law, in service", inService.length, Math.max(0, ...inService.map(off)), 1e-9, 'of the area'],
      [
        `work conservation, ${idle.reduce((sum, i) => sum + i.waits, 0)} waits`,
        idle.length,
        Math.max(...idle.map((i) => i.seconds)),
        1e-6,
        's idle',
      ],
    ]
    return readings.map(([law, count, worst, allowed, unit]) =>
      row([
        kind,
        law,
        count,
        count === 0 ? 'does not apply' : `${worst.toExponential(1)} ${unit}`,
        count === 0 ? '' : worst <= allowed ? 'holds' : '**does not hold**',
      ]),
    )
  })
  return [...heads(['service', 'law', 'random runs', 'worst', 'verdict']), ...rows]
}

function intervals(): string[] {
  const rows = [0.5, 0.95, 0.99].map((q) => {
    const share = coverage(q)
    return row([
      `${q * 100}th percentile of latency`,
      INTERVALS,
      RUNS_OF_A_STUDY,
      `${(share * 100).toFixed(1)} %`,
      share >= 0.93 && share <= 0.97 ? 'holds' : '**does not hold**',
    ])
  })
  return [...heads(['quantity', 'studies', 'runs of each', 'intervals that cover the true value', 'verdict']), ...rows]
}

const page = [
  '# What the engine is held to',
  '',
  'Written by `npm run proof`; the same settings are tests in `core/test/analytic` and `core/test/property`. Nothing here is typed by hand.',
  '',
  '## Closed forms',
  '',
  'Each is a setting of the real engine that reduces to a queue with a known answer. Times are in seconds, service has mean 1 s where nothing else is said. A reading',
  'is the mean over independent seeds. One in a hundred lies outside its interval though the law holds; such a one is taken anew from 240 other seeds, which decide.',
  '',
  ...laws(),
  '',
  '## Leaping against walking',
  '',
  'The engine leaps over steps in closed form; a second implementation walks through every one of them with lists and scans (`core/test/reference`). Both get the same',
  'requests under random limits, routings, classes, reservations and start-ups, and have to agree on who ends how, where, and when, to 1 µs; also while replicas open, drain, are lost',
  'and open again at random.',
  '',
  ...agreement(),
  '',
  '## Laws of every run',
  '',
  "Little's law: the area under the number in the system (from the pieces that pictures are drawn from, in single precision) is the sum of the latencies; the area under the number in service (from what the",
  'engine meters at its steps) is the sum of the times in service. Work conservation: the longest that a replica was idle while a request that it had to take waited.',
  '',
  ...invariants(),
  '',
  '## Intervals',
  '',
  "A percentile's 95 % interval is Student's t over independent runs. On M/M/1 at load 0.6 the true percentile is known, and the interval has to cover it in 93 to 97 of 100 studies.",
  '',
  ...intervals(),
  '',
]
writeFileSync('docs/proof.md', page.join('\n'))
