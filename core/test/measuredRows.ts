import type { ProbedRequest } from '../src/probe/probed.ts'
import { readied, type Served } from '../src/probe/costs/replay.ts'
import { specOfSteps } from '../src/service/measured/stepCoefficients.ts'
import { RandomStream } from '../src/random/stream.ts'
import { LiveRun } from '../src/run/liveRun.ts'

/** A load to be measured: callers who come again, or one that is due at times of its own. */
export type TestLoad = { part: string; sizes: [input: number, output: number][] } & (
  { clients: number; requestsEach: number } | { perSecond: number; requests: number } | { due: readonly number[] }
)

/** Callers come again so long after their answer was made, once they have seen all of it. */
const AGAIN_SECONDS = 1e-3

/**
 * What a probe would measure of a service with these coefficients (the last is the way there), each token seen a little later than it was
 * made, as chance has it.
 */
export function measuredRows(
  values: readonly number[],
  served: Served,
  loads: readonly TestLoad[],
  jitterSeconds: number,
  seed: number,
): ProbedRequest[] {
  const random = new RandomStream(seed, 'measured rows')
  const way = values[5]
  const rows: ProbedRequest[] = []
  let from = 0
  for (const load of loads) {
    const { plan, of } = readied(specOfSteps(values), served)
    const count = 'clients' in load ? load.clients * load.requestsEach : 'due' in load ? load.due.length : load.requests
    const tokens: number[][] = Array.from({ length: count }, () => [])
    const sent: number[] = []
    const live = new LiveRun(
      plan,
      of,
      { tokens: (r, n, now) => void tokens[r].push(...new Array<number>(n).fill(now)), ended: (_, now) => void again.push(now) },
      count,
    )
    const again: number[] = []
    const next: number[] =
      'clients' in load
        ? Array.from({ length: load.clients }, () => 0)
        : 'due' in load
          ? [...load.due]
          : poisson(load.perSecond, count, random)
    const size = (i: number) => load.sizes[i % load.sizes.length]
    while (sent.length < count) {
      next.sort((a, b) => a - b)
      // Whoever comes next comes, unless somebody ends before, who may come again sooner.
      const ends = live.nextTime()
      if (next.length > 0 && next[0] + way <= ends) {
        const at = next.shift()!
        live.advance(at + way)
        live.arrive(at + way, 0, ...size(sent.length))
        sent.push(at)
      } else live.advance(ends)
      for (const end of again.splice(0)) if ('clients' in load) next.push(end + Math.max(AGAIN_SECONDS, jitterSeconds))
    }
    while (live.nextTime() < Infinity) live.advance(live.nextTime())
    const seen = tokens.map((times) => times.map((t) => t + random.next() * jitterSeconds).sort((a, b) => a - b))
    sent.forEach((s, i) =>
      rows.push(
        rowOf(
          load.part,
          rows.length,
          from + s,
          seen[i].map((t) => from + t),
          size(i),
        ),
      ),
    )
    rows.forEach(
      (r) =>
        (r.atOnce = r.part === load.part ? rows.filter((o) => o.part === r.part && o.sent <= r.sent && o.end > r.sent).length : r.atOnce),
    )
    from += Math.max(...seen.map((t) => t.at(-1)!)) + 5
  }
  return rows
}

function rowOf(part: string, number: number, sent: number, times: number[], [input, output]: [number, number]): ProbedRequest {
  return {
    number,
    part,
    warmUp: false,
    due: sent,
    sent,
    atOnce: 1,
    firstToken: times[0],
    end: times.at(-1)!,
    outcome: 'finished',
    status: 200,
    why: '',
    input,
    output,
    gaps: times.slice(1).map((t, i) => t - times[i]),
  }
}

function poisson(perSecond: number, count: number, random: RandomStream): number[] {
  let t = 0
  return Array.from({ length: count }, () => (t -= Math.log(random.open()) / perSecond))
}
