import type { MeasurementRow } from '@sandclock/core'
import { RandomStream } from '@sandclock/core/random/stream'

/** [side by side, prompt tokens, answer tokens, requests] of the harbour office's trial. */
const RUNS = [
  [1, 180, 200, 40],
  [1, 600, 200, 40],
  [1, 2400, 200, 40],
  [2, 600, 200, 80],
  [4, 600, 200, 120],
  [8, 600, 300, 160],
  [8, 1600, 300, 160],
  [16, 600, 300, 240],
  [24, 600, 300, 240],
  [32, 600, 300, 320],
] as const

/** A made-up load test of Curlew 14B with 8 bits on one Gabbro 48: a little slower than derivation says, with 2 % of noise. */
export function loadTestRows(): MeasurementRow[] {
  const random = new RandomStream(20_270_215, 'load test')
  const noisy = (seconds: number) => Number((seconds * (1 + 0.04 * (random.next() - 0.5))).toPrecision(4))
  return RUNS.map(([concurrency, input, output, count]) => {
    const prefill = 0.011 + 9.1e-5 * input + 1.1e-9 * input ** 2
    const step = 0.0268 + 3.1e-7 * concurrency * (input + output / 2) + 7e-5 * concurrency
    const tpot = step + ((concurrency - 1) / (output - 1)) * prefill
    return {
      concurrency,
      input,
      output,
      count,
      ttftSeconds: noisy(prefill * (1 + 0.35 * (concurrency - 1) ** 0.5)),
      tpotSeconds: noisy(tpot),
    }
  })
}

/** The same as a table, as a tool would print it. */
export function loadTestTable(): string {
  const milli = (seconds: number | undefined) => ((seconds ?? 0) * 1000).toFixed(1)
  const rows = loadTestRows().map((r) =>
    ['Curlew 14B', '8-bit', 'Northquay ledge', r.concurrency, r.input, r.output, r.count, milli(r.ttftSeconds), milli(r.tpotSeconds)].join(
      ',',
    ),
  )
  return ['model,variant,machine,concurrency,prompt tokens,answer tokens,requests,ttft_ms,tpot_ms', ...rows, ''].join('\n')
}
