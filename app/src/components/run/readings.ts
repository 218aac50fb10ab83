import { duration, MEASURE_NAMES, Stage, stageAt, STAGES, threeDigits, valueAt } from '@sandclock/core'
import type { FleetView, RunView } from '../../worker/runViews.ts'
import { pieceAt, type RunFrame } from './frame.ts'
import type { PanelName } from './panels.ts'

/** A line of words beside a panel. */
export interface Reading {
  words: string
  look: 'title' | 'value' | 'late' | 'more'
}

/** What the cursor reads of every panel: its title, the value, and more where there is room. */
export function readingsOf(name: PanelName, frame: RunFrame, at: number): Reading[] {
  const piece = pieceAt(frame.run.timeline, at)
  switch (name) {
    case 'load':
      return load(frame, piece)
    case 'waiting':
      return waiting(frame, piece)
    case 'lanes':
      return lanes(frame, frame.run, piece, at)
    case 'otherLanes':
      return frame.other ? lanes(frame, frame.other, piece, at) : []
    case 'reads':
      return reads(frame, piece)
    case 'latency':
      return latency(frame, piece)
    case 'money':
      return titled('money', `${valueAt(frame.run.paid, at).toFixed(2)} ${frame.plan.currency}/h`)
  }
}

function titled(title: string, value: string, more = ''): Reading[] {
  return [
    { words: title, look: 'title' },
    { words: value, look: 'value' },
    ...(more === '' ? [] : [{ words: more, look: 'more' } as const]),
  ]
}

function load({ run: { timeline }, plan }: RunFrame, piece: number): Reading[] {
  const mine = timeline.arrivals.map((a, i) => ({ a, i })).filter(({ a }) => a.some((v) => v > 0))
  return titled(
    'arrivals',
    `${threeDigits(mine.reduce((sum, { a }) => sum + a[piece], 0))} /s`,
    mine.map(({ i }) => plan.classes[i].name).join(', '),
  )
}

function waiting({ run: { timeline }, other }: RunFrame, piece: number): Reading[] {
  const lost = timeline.lost[piece]
  return titled(
    'waiting',
    `${threeDigits(timeline.waiting[piece])} requests`,
    lost > 0 ? `${threeDigits(lost)} /s lost` : other ? `below ${threeDigits(other.timeline.waiting[piece])}` : '',
  )
}

function lanes(
  { startupSeconds }: RunFrame,
  { timeline, lanes: rows, maxSequences, fleet, byTokens }: RunView,
  piece: number,
  at: number,
): Reading[] {
  let busy = 0
  for (let r = 0; r < rows; r++) busy += timeline.inService[r * timeline.pieces + piece]
  const inService = `${threeDigits(busy)} in service`
  if (byTokens) return titled('by tokens', inService, `${maxSequences} at most`)
  if (!fleet)
    return titled(
      rows === 1 ? '1 replica' : `${rows} replicas`,
      inService,
      at >= startupSeconds ? `of ${rows * maxSequences}` : 'starting up',
    )
  const missing = valueAt(fleet.unplaced, at)
  return titled(
    `${valueAt(fleet.ready, at)} of ${valueAt(fleet.wanted, at)} wanted`,
    inService,
    missing > 0 ? `${missing} without room` : startingAt(fleet, rows, at),
  )
}

/** The stage of whoever starts up at a moment. */
function startingAt({ spans }: FleetView, rows: number, at: number): string {
  for (let r = 0; r < rows; r++) {
    const stage = stageAt(spans, r, at)
    if (stage > Stage.none && stage < Stage.ready) return `one starts: ${STAGES[stage]}`
  }
  return ''
}

function reads({ reads: read, run }: RunFrame, piece: number): Reading[] {
  const high = run.reads?.high[piece]
  return read ? titled('the policy reads', high === undefined || Number.isNaN(high) ? 'nothing' : read.show(high), read.name) : []
}

function latency({ run: { timeline }, other, plan }: RunFrame, piece: number): Reading[] {
  const { readings } = timeline
  const words = readings.map((r, k): Reading => {
    const second = other?.timeline.readings[k]
    const value = duration(r.values[piece])
    return {
      words: second
        ? `${MEASURE_NAMES[r.measure]} ${value}, ${duration(second.values[piece])}`
        : `p${r.percentile} ${MEASURE_NAMES[r.measure]} ${value}`,
      look: r.values[piece] > r.limitSeconds ? 'late' : 'value',
    }
  })
  return [
    { words: other ? 'above, and below' : 'against target', look: 'title' },
    ...words,
    { words: readings.length === 0 ? 'no time target' : plan.classes[readings[0].classIndex].name, look: 'more' },
  ]
}
