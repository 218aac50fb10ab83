import type { Meter } from '../engine/meter.ts'
import { Stage, type LifeRecord } from '../life/startRules.ts'

/** Where the money of a run went, in the plan's currency over the horizon. The parts add up to the whole. */
export interface Ledger {
  /** machines whose replicas work */
  serving: number
  /** machines that are ready and have nothing to do, or not for all of their replicas */
  idle: number
  /** from the order until the first replica of a machine is ready */
  starting: number
  /** machines after their last replica, until they are given back */
  leaving: number
  /** what billing steps and minimums add */
  rounding: number
  total: number
}

export interface Paid {
  /** of one group of machines: one machine, or those over which a replica lies */
  pricePerHour: number
  replicasPerGroup: number
  /** what was paid for over the horizon, rounded as the offer says */
  total: number
}

/** A fleet that is there all the time: it starts up, then works or is idle. */
export function fixedLedger(meter: Meter, groups: number, startupSeconds: number, { pricePerHour, replicasPerGroup, total }: Paid): Ledger {
  const each = pricePerHour / 3600
  const horizon = meter.pieceSeconds * meter.busySeconds.length
  const starting = each * groups * Math.min(startupSeconds, horizon)
  return closed({ starting, leaving: 0, rounding: total - each * groups * horizon, serving: (each * sum(meter.busySeconds)) / replicasPerGroup, total })
}

/** A fleet that comes and goes: every machine's paid time by what its replicas did. */
export function livingLedger(meter: Meter, life: LifeRecord, { pricePerHour, replicasPerGroup, total }: Paid): Ledger {
  const each = pricePerHour / 3600
  const ready = life.nodes.map(() => ({ first: Infinity, last: -Infinity }))
  const since = new Map<number, number>()
  const on = new Map<number, number>()
  for (const { replica, node, stage, seconds } of life.events) {
    if (stage === Stage.ready) {
      on.set(replica, node)
      since.set(replica, seconds)
      ready[node].first = Math.min(ready[node].first, seconds)
    } else if (stage === Stage.none && since.has(replica)) {
      const at = on.get(replica) ?? node
      ready[at].last = Math.max(ready[at].last, seconds)
      since.delete(replica)
    }
  }
  for (const replica of since.keys()) ready[on.get(replica) ?? 0].last = Infinity
  let starting = 0
  let leaving = 0
  life.nodes.forEach(({ from, until }, n) => {
    const { first, last } = ready[n]
    starting += Math.min(until, first) - from
    if (first < until) leaving += Math.max(0, until - Math.max(first, Math.min(until, last)))
  })
  const paid = life.nodes.reduce((seconds, { from, until }) => seconds + until - from, 0)
  return closed({ starting: each * starting, leaving: each * leaving, rounding: total - each * paid, serving: (each * sum(meter.busySeconds)) / replicasPerGroup, total })
}

const sum = (values: Float64Array) => values.reduce((a, b) => a + b, 0)

/** What is left of the whole is idle. */
function closed(parts: Omit<Ledger, 'idle'>): Ledger {
  return { ...parts, idle: parts.total - parts.serving - parts.starting - parts.leaving - parts.rounding }
}
