import type { Meter } from '../engine/meter.ts'
import type { RunRecord } from '../engine/record.ts'
import { Stage, type LifeRecord } from '../life/startRules.ts'
import type { StepSeries } from '../measure/fleetPicture.ts'
import { billOf, steadyPerHour, type Bill, type Bought } from './bill.ts'

/** Where money went, in the plan's currency. The parts add up to the whole. */
export interface LedgerParts {
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
  /** committed to and not used */
  unused: number
  /** disks, also of stopped machines */
  storage: number
  /** what starts fetch */
  transfer: number
}

export const LEDGER_PARTS = [
  'serving',
  'idle',
  'starting',
  'leaving',
  'rounding',
  'unused',
  'storage',
  'transfer',
] as const satisfies readonly (keyof LedgerParts)[]

/** The money of a run over its horizon, and the same in equal pieces of it. */
export interface Ledger extends LedgerParts {
  total: number
  pieceSeconds: number
  pieces: LedgerParts[]
}

/** A fleet that is there all the time: it starts up, then works or is idle. */
export function fixedLedger(
  meter: Meter,
  bought: Bought,
  { groups, replicasPerGroup, startupSeconds }: { groups: number; replicasPerGroup: number; startupSeconds: number },
): Ledger {
  const { pieceSeconds, busySeconds } = meter
  const storage = (groups * bought.prices.storagePerHour) / 3600
  const rate = steadyPerHour(bought, groups) / 3600 - storage
  const pieces = Array.from(busySeconds, (busy, i) => {
    const starting = rate * Math.min(pieceSeconds, Math.max(0, startupSeconds - i * pieceSeconds))
    const serving = (rate * busy) / (groups * replicasPerGroup)
    return { ...NOTHING, starting, serving, idle: rate * pieceSeconds - starting - serving, storage: storage * pieceSeconds }
  })
  return wholeOf(pieces, pieceSeconds)
}

/** A fleet that comes and goes: every machine's paid time by what its replicas did. */
export function livingLedger(
  meter: Meter,
  life: LifeRecord,
  bought: Bought,
  { horizonSeconds, replicasPerGroup, committedGroups }: { horizonSeconds: number; replicasPerGroup: number; committedGroups: number },
): Ledger {
  const bill = billOf(bought, life, horizonSeconds, committedGroups)
  const { pieceSeconds, busySeconds } = meter
  const pieces = Array.from(busySeconds, () => ({ ...NOTHING }))
  const spread = (part: keyof LedgerParts, from: number, until: number, perSecond: number) =>
    eachPiece(pieces.length, pieceSeconds, from, until, (i, seconds) => (pieces[i][part] += seconds * perSecond))
  const serving = servingTimes(life)
  const busy = busyOfGroups(meter, life, horizonSeconds)
  bill.groups.forEach((group, n) => {
    const { from, until, roundingSeconds } = group
    // Where a place that is committed to covers it, its time is taken out of what that costs.
    const spreadPrice = (part: keyof LedgerParts, start: number, stop: number) => {
      spread(part, start, Math.min(stop, group.coveredFrom), group.perHour / 3600)
      spread(part, Math.max(start, group.coveredFrom), stop, bought.prices.committedPerHour / 3600)
    }
    const ready = Math.min(until, serving[n].first)
    const left = Math.max(ready, Math.min(until, serving[n].last))
    spreadPrice('starting', from, ready)
    spreadPrice('idle', ready, left)
    spreadPrice('leaving', left, until)
    if (roundingSeconds > 0)
      pieces[Math.min(pieces.length - 1, Math.floor(Math.min(until, group.coveredFrom) / pieceSeconds))].rounding +=
        (roundingSeconds * group.perHour) / 3600
    busy[n].forEach((seconds, i) => {
      const middle = Math.min(until, Math.max(from, (i + 0.5) * pieceSeconds))
      const paid = (seconds * (middle >= group.coveredFrom ? bought.prices.committedPerHour : group.perHour)) / 3600 / replicasPerGroup
      pieces[i].serving += paid
      pieces[i].idle -= paid
    })
  })
  addCommitted(pieces, pieceSeconds, bill, bought.prices)
  for (const { from, until } of [...life.nodes, ...life.stopped]) spread('storage', from, until, bought.prices.storagePerHour / 3600)
  for (const { seconds, bytes } of life.fetched)
    pieces[Math.min(pieces.length - 1, Math.floor(seconds / pieceSeconds))].transfer += bytes * bought.prices.transferPerByte
  return wholeOf(pieces, pieceSeconds)
}

/** Calls or tokens that are paid one by one: all of it serves, spread by when there were requests in service. */
export function callLedger({ busySeconds, pieceSeconds }: Meter, total: number): Ledger {
  const busy = busySeconds.reduce((a, b) => a + b, 0)
  return wholeOf(
    Array.from(busySeconds, (b) => ({ ...NOTHING, serving: busy > 0 ? (total * b) / busy : total / busySeconds.length })),
    pieceSeconds,
  )
}

const NOTHING: LedgerParts = { serving: 0, idle: 0, starting: 0, leaving: 0, rounding: 0, unused: 0, storage: 0, transfer: 0 }

/** What is committed to is paid evenly; what of it nobody used is left over. */
function addCommitted(pieces: LedgerParts[], pieceSeconds: number, bill: Bill, { committedPerHour }: Bought['prices']): void {
  if (bill.committedGroups === 0) return
  for (const p of pieces) p.unused = bill.committed / pieces.length
  for (const g of bill.groups) {
    eachPiece(
      pieces.length,
      pieceSeconds,
      g.coveredFrom,
      g.until,
      (i, seconds) => (pieces[i].unused -= (seconds * committedPerHour) / 3600),
    )
  }
}

function eachPiece(count: number, pieceSeconds: number, from: number, until: number, add: (piece: number, seconds: number) => void): void {
  for (let i = Math.floor(from / pieceSeconds); i < count && i * pieceSeconds < until; i++) {
    const seconds = Math.min(until, (i + 1) * pieceSeconds) - Math.max(from, i * pieceSeconds)
    if (seconds > 0) add(i, seconds)
  }
}

/**
 * Busy replica-seconds of each group of machines, by piece. A replica's number may have been on several machines in one piece:
 * what it did then is theirs in proportion to its time on each.
 */
function busyOfGroups(meter: Meter, life: LifeRecord, endSeconds: number): Float64Array[] {
  const { pieceSeconds, busySeconds } = meter
  const spans = servingSpans(life, endSeconds)
  const served = new Map<number, Float64Array>()
  for (const { replica, from, until } of spans) {
    const seconds = served.get(replica) ?? new Float64Array(busySeconds.length)
    served.set(replica, seconds)
    eachPiece(busySeconds.length, pieceSeconds, from, until, (i, s) => (seconds[i] += s))
  }
  const out = life.nodes.map(() => new Float64Array(busySeconds.length))
  for (const { replica, node, from, until } of spans) {
    const busy = meter.busyOf(replica)
    const all = served.get(replica)
    if (busy && all) eachPiece(busySeconds.length, pieceSeconds, from, until, (i, s) => (out[node][i] += (busy[i] * s) / all[i]))
  }
  return out
}

/** From when until when each replica served, and on which machine. */
function servingSpans(life: LifeRecord, endSeconds: number): { replica: number; node: number; from: number; until: number }[] {
  const open = new Map<number, { node: number; from: number }>()
  const out: ReturnType<typeof servingSpans> = []
  for (const { replica, node, stage, seconds } of life.events) {
    const since = open.get(replica)
    if (stage === Stage.ready) open.set(replica, { node, from: seconds })
    else if (stage === Stage.none && since) {
      out.push({ replica, ...since, until: seconds })
      open.delete(replica)
    }
  }
  for (const [replica, since] of open) out.push({ replica, ...since, until: endSeconds })
  return out
}

/** When the first replica of each machine was ready, and until when the last was there. */
function servingTimes(life: LifeRecord): { first: number; last: number }[] {
  const ready = life.nodes.map(() => ({ first: Infinity, last: -Infinity }))
  const on = new Map<number, number>()
  for (const { replica, node, stage, seconds } of life.events) {
    if (stage === Stage.ready) {
      on.set(replica, node)
      ready[node].first = Math.min(ready[node].first, seconds)
    } else if (stage === Stage.none && on.has(replica)) {
      const at = on.get(replica) ?? node
      ready[at].last = Math.max(ready[at].last, seconds)
      on.delete(replica)
    }
  }
  for (const node of on.values()) ready[node].last = Infinity
  return ready
}

function wholeOf(pieces: LedgerParts[], pieceSeconds: number): Ledger {
  const whole = { ...NOTHING }
  for (const p of pieces) for (const part of LEDGER_PARTS) whole[part] += p[part]
  return { ...whole, total: LEDGER_PARTS.reduce((sum, part) => sum + whole[part], 0), pieceSeconds, pieces }
}

/**
 * Share of each class in the time that requests were in service: what its part of the money is reckoned by. 0 for all when nothing was
 * served.
 */
export function classShares(record: RunRecord, classes: number): number[] {
  const { requests, start, end, endSeconds } = record
  const seconds = new Array<number>(classes).fill(0)
  for (let i = 0; i < requests.count; i++) {
    if (start[i] !== start[i]) continue
    const until = end[i] === end[i] ? end[i] : endSeconds
    seconds[requests.classIndex[i]] += Math.max(0, until - start[i])
  }
  const total = seconds.reduce((a, b) => a + b, 0)
  return seconds.map((s) => (total > 0 ? s / total : 0))
}

/** What is paid an hour, over time: machines that are there, and committed places used or not. */
export function paidSeries({ groups, committedGroups }: Bill, { prices }: Bought): StepSeries {
  const steady = committedGroups === 0 ? 0 : committedGroups * prices.committedPerHour
  const changes = groups.flatMap(({ from, until, perHour, coveredFrom }) => [
    { at: from, by: (coveredFrom > from ? perHour : 0) + prices.storagePerHour },
    ...(coveredFrom > from && coveredFrom < until ? [{ at: coveredFrom, by: -perHour }] : []),
    { at: until, by: -(coveredFrom < until ? 0 : perHour) - prices.storagePerHour },
  ])
  changes.sort((a, b) => a.at - b.at)
  const series: StepSeries = { seconds: [0], values: [steady] }
  for (const { at, by } of changes) {
    const last = series.values.length - 1
    if (series.seconds[last] === at) series.values[last] += by
    else {
      series.seconds.push(at)
      series.values.push(series.values[last] + by)
    }
  }
  return series
}
