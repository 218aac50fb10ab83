import { boundsOf, probedCsv, readHowToAsk } from '@sandclock/core'
import { histogramOf, runProbe, type ProbeRecord } from '@sandclock/outside'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { textFile } from '../input.ts'
import { measuredText } from '../measuredText.ts'
import { optional, shapeOf, type ProbeShapeOptions } from '../probeShape.ts'
import { note, ProgressLine } from '../progress.ts'
import { checkWritable, writeJson, writePieces } from '../writePieces.ts'

interface MeasureOptions extends ProbeShapeOptions {
  firstToken?: string
  latency?: string
  mostRequests?: string
  mostTime?: string
  mostMoney?: string
  allowHost?: string[]
  out?: string
  histogram?: string
  json?: string
}

/** Sends requests to a real endpoint and tells how long they took. Ends early, with what there is, when it is told to. */
export async function measureCommand(howFile: string, options: MeasureOptions): Promise<ExitStatus> {
  const how = readHowToAsk(await textFile(howFile))
  const shape = await shapeOf(options)
  const bounds = boundsOf(how, shape, {
    requests: optional('--most-requests', options.mostRequests, 'count', 'mostRequests'),
    seconds: optional('--most-time', options.mostTime, 'duration', 'mostSeconds'),
    money: optional('--most-money', options.mostMoney, 'number', 'mostMoney'),
  })
  const firstTokenSeconds = optional('--first-token', options.firstToken, 'duration', 'promisedSeconds')
  const latencySeconds = optional('--latency', options.latency, 'duration', 'promisedSeconds')
  const promise = { ...(firstTokenSeconds !== undefined && { firstTokenSeconds }), ...(latencySeconds !== undefined && { latencySeconds }) }
  for (const file of [options.out, options.histogram, options.json]) if (file !== undefined) await checkWritable(file)
  const told = new AbortController()
  const stop = () => told.abort()
  process.once('SIGINT', stop).once('SIGTERM', stop)
  const line = new ProgressLine()
  let count = 0
  const record = await runProbe({ how, shape, bounds, promise, allowed: options.allowHost ?? [], environment: process.env }, told.signal, {
    row: (r) => line.show(`${++count} requests, ${r.part}`),
  }).finally(() => {
    line.done()
    process.off('SIGINT', stop).off('SIGTERM', stop)
  })
  process.stdout.write(`${measuredText(how, shape, record)}\n`)
  if (options.out !== undefined) {
    await writePieces(options.out, probedCsv(record.rows))
    note(`wrote ${options.out}`)
  }
  if (options.histogram !== undefined) await writeJson(options.histogram, histograms(record))
  if (options.json !== undefined)
    await writeJson(options.json, { format: 'sand-clock-measured', version: 1, shape: shape.kind, ...record, rows: undefined })
  const counted = record.parts.filter((p) => !p.warmUp)
  return counted.some((p) => (p.outcomes.finished ?? 0) > 0) && counted.every((p) => !p.isVoid) ? MET : NOT_MET
}

function histograms({ rows }: ProbeRecord): object {
  const counted = rows.filter((r) => !r.warmUp && r.outcome === 'finished')
  return {
    format: 'sand-clock-histogram',
    version: 1,
    parts: [...new Set(counted.map((r) => r.part))].map((part) => {
      const own = counted.filter((r) => r.part === part)
      return {
        part,
        firstToken: histogramOf(own.map((r) => r.firstToken - r.due)),
        gap: histogramOf(own.flatMap((r) => r.gaps)),
        latency: histogramOf(own.map((r) => r.end - r.due)),
      }
    }),
  }
}
