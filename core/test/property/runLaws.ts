import { Meter } from '../../src/engine/meter.ts'
import type { RunRecord } from '../../src/engine/record.ts'
import type { ServiceRules } from '../../src/engine/rules.ts'
import { simulate } from '../../src/engine/simulate.ts'
import { timeline } from '../../src/measure/timeline.ts'
import type { Comparison } from './randomRuns.ts'

/** What a law comes to in one run: both of its sides, in seconds (or requests × seconds). */
export interface Sides {
  left: number
  right: number
}

const end = (record: RunRecord, i: number) => (record.end[i] === record.end[i] ? record.end[i] : Math.max(record.endSeconds, record.at[i]))
const started = (record: RunRecord, i: number) => record.start[i] === record.start[i]

/**
 * Little's law for those in service: what the engine's meter saw, step by step, is what the requests say of their own
 * time in it. Not for whole prompts, where a sequence in service waits while others are prefilled, nor once a cache was
 * taken away, nor for batches of items that are not whole requests.
 */
export function serviceArea({ requests, rules }: Comparison): Sides | undefined {
  const { profile } = rules
  // To the last end: an empty stretch of a long horizon would only thin the pieces out.
  const horizonSeconds = Math.min(rules.horizonSeconds, 1e4)
  const meter = new Meter(horizonSeconds, 50)
  const record = simulate(requests, { ...rules, horizonSeconds }, { meter })
  if (record.evictions > 0 || (profile.kind === 'batch' && requests.output.some((items) => items > 1))) return undefined
  if ((profile.kind === 'token' && profile.prompts === 'whole') || record.end.some((t, i) => started(record, i) && t !== t))
    return undefined
  let right = 0
  for (let i = 0; i < requests.count; i++) {
    if (!started(record, i)) continue
    right += record.end[i] - record.start[i]
  }
  return { left: meter.batchSeconds.reduce((a, b) => a + b, 0), right }
}

/** Little's law for all who are there: the number in the system, averaged over pieces of time, against Σ latency. */
export function systemArea({ requests, rules }: Comparison): Sides {
  const record = simulate(requests, { ...rules, horizonSeconds: Math.min(rules.horizonSeconds, 1e4) })
  const { length: replicas } = rules.readyAtSeconds
  const pieces = 40
  const picture = timeline(record, replicas, 2, [], 0, record.endSeconds, pieces)
  const width = record.endSeconds / pieces
  let left = 0
  for (const row of [picture.waiting, picture.inService]) for (const mean of row) left += mean * width
  let right = 0
  for (let i = 0; i < requests.count; i++) if (record.at[i] === record.at[i]) right += end(record, i) - record.at[i]
  return { left, right }
}

/**
 * Work conservation: seconds that requests waited in front of an idle replica that had to take them. One that is bound to
 * a replica waits only while that one works or is not yet ready; under a shared queue nobody waits while any ready replica is
 * idle where what is taken begins at once. (A token replica may take two that turn out not to fit together, and one that
 * gathers a batch keeps whom it took though a higher priority fills the batch: docs/model.md.) The window that a batch may wait to fill is
 * allowed for; those who came again are left out, their pause is no wait.
 */
export function idleWhileWaiting({ requests, rules }: Comparison): { seconds: number; waits: number } {
  const record = simulate(requests, rules)
  const replicas = rules.readyAtSeconds.length
  const busy: [number, number][][] = Array.from({ length: replicas }, () => [])
  for (let i = 0; i < requests.count; i++) if (started(record, i)) busy[record.replica[i]].push([record.start[i], end(record, i)])
  for (const spans of busy) spans.sort((a, b) => a[0] - b[0])
  let seconds = 0
  let waits = 0
  for (let i = 0; i < requests.count; i++) {
    if (!started(record, i) || (record.retries?.[i] ?? 0) > 0) continue
    const allowed = rules.profile.kind === 'batch' ? rules.profile.windowSeconds : 0
    for (const r of whoHadToTake(rules, record.replica[i])) {
      const from = Math.max(record.at[i] + allowed, rules.readyAtSeconds[r])
      if (record.start[i] - from < 1e-6) continue
      waits++
      seconds = Math.max(seconds, idleWithin(busy[r], from, record.start[i]))
    }
  }
  return { seconds, waits }
}

function whoHadToTake(rules: ServiceRules, boundTo: number): number[] {
  const { profile } = rules
  const beginsAtOnce = profile.kind === 'shared' || (profile.kind === 'batch' && profile.windowSeconds === 0)
  return rules.routing === 'shared-queue' && beginsAtOnce ? Array.from(rules.readyAtSeconds, (_, r) => r) : [boundTo]
}

/** Seconds of [from, until) that no span covers; spans in order of their start. */
function idleWithin(spans: readonly [number, number][], from: number, until: number): number {
  let idle = 0
  let covered = from
  for (const [start, stop] of spans) {
    if (start >= until) break
    if (start > covered) idle += start - covered
    covered = Math.max(covered, stop)
  }
  return idle + Math.max(0, until - covered)
}
