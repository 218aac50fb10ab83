import {
  judgedTable,
  probedTables,
  readHowToAsk,
  stepCostsTable,
  tellMeasured,
  threeDigits,
  type Measured,
  type ProbedTable,
} from '@sandclock/core'
import { runProbe } from '@sandclock/outside'
import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { writeFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { SHAPE } from './network.ts'

const SEQUENCES = 16
const LOAD = {
  kind: 'find-costs',
  clients: [1, 4, 16],
  requestsEach: 12,
  judgeSeconds: 60,
  sizes: [
    { input: 60, output: 40 },
    { input: 180, output: 60 },
  ],
  warmUp: 4,
  seed: 1,
} as const

/** Measures the network by itself in its own process, and prints what comes of it. @param server its bundle */
export async function writeMeasured(server: string): Promise<void> {
  const child = spawn('node', [server], { stdio: ['ignore', 'pipe', 'inherit'] })
  try {
    const [said] = (await once(child.stdout, 'data')) as [Buffer]
    const url = /http:\S+/.exec(said.toString())?.[0]
    const how = readHowToAsk(`format: sand-clock-how-to-ask\nversion: 1\nurl: ${url}\nas: chat\n`)
    const order = {
      how,
      shape: { ...LOAD, clients: [...LOAD.clients], sizes: [...LOAD.sizes] },
      bounds: { requests: 5000, seconds: 1800, money: Infinity },
    }
    const { rows } = await runProbe({ ...order, allowed: [], environment: {} }, new AbortController().signal, {
      part: (p) => process.stdout.write(`${p.part}: ${p.requests} requests, ${threeDigits(p.perSecond)} answered a second\n`),
    })
    const told = tellMeasured(rows, { replicas: 1, sequences: SEQUENCES, prompts: 'whole' })
    process.stdout.write(`${told.belief}\n`)
    writeFileSync('docs/measured.md', page(told))
  } finally {
    child.kill()
  }
}

const table = (header: readonly string[], rows: readonly (readonly string[])[]) =>
  [header, header.map(() => '---'), ...rows].map((cells) => `| ${cells.join(' | ')} |`).join('\n')

const asTable = ({ header, rows }: ProbedTable) => table(header, rows)

function page({ belief, fitted, judged, bend, parts, remarks }: Measured): string {
  const { layers, width, heads } = SHAPE
  const [cores] = [cpus().length]
  return `# A real network, measured and predicted

Written by \`npm run measured\` on ${new Date().toISOString().slice(0, 10)}, on a machine of ${cores} cores, with whatever error came out. No figure here is tested: no two runs are
alike, and other programs on the machine are in it.

Who is asked is \`examples/realModel\`: a decoder of ${layers} layers of width ${width} with ${heads} heads and random weights, which computes every token for real in a
tensor runtime, up to ${SEQUENCES} sequences side by side. Between two steps those that are done leave and those that wait come in; prompts have
steps of their own. It answers over HTTP by server-sent events, and is asked as anything else would be ([measure.md](measure.md)): ${LOAD.clients.join(', ')} at
once to find its step costs, then new requests at 70 % of what it answered at best, and a spike, to judge them by.

**${belief}**

${judged ? asTable(judgedTable(judged)) : ''}

## Step costs behind it

${fitted ? asTable(stepCostsTable(fitted)) : 'They could not be found.'}

## Where it bends

${table(
  ['callers at once', 'answers/s measured', 'predicted', 'nine in ten of the draws'],
  bend.map((b) => [
    String(b.clients),
    b.measuredPerSecond === undefined ? '–' : threeDigits(b.measuredPerSecond),
    threeDigits(b.predictedPerSecond),
    b.band ? `${threeDigits(b.band.low)} … ${threeDigits(b.band.high)}` : '–',
  ]),
)}

## What was measured

${probedTables(parts).map(asTable).join('\n\n')}

${remarks.map((r) => `- ${r}`).join('\n')}
`
}
