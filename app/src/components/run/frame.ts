import type { Plan, Timeline } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { across } from '../../charts/plot.ts'
import type { RunView } from '../../worker/runViews.ts'

/** Room for titles on the left and for limits on the right, CSS pixels. */
export const PLOT = { left: 128, right: 88 }

/** What the run picture shows. */
export interface RunFrame {
  plan: Plan
  run: RunView
  /** what was shown before the last change, behind what is shown now */
  ghost: RunView | null
  /** another run of the same requests: its lanes below, differences filled */
  other: RunView | null
  /** rows of lanes, a few more than there were replicas where a policy may have more */
  rows: number
  /** what the policy reads, and what it aims at; null where it reads nothing */
  reads: { name: string; target: number; show: (value: number) => string } | null
  startupSeconds: number
  width: number
  height: number
}

/** Which panels a picture has. */
export const kindOf = ({ other, reads }: Pick<RunFrame, 'other' | 'reads'>) => (other ? 'beside' : reads ? 'scaled' : 'alone')

/** From seconds of the horizon to pixels of the picture. */
export function timeScale({ timeline, width }: { timeline: Timeline; width: number }) {
  return scaleLinear([timeline.fromSeconds, timeline.untilSeconds], across(PLOT, width))
}

/** The middle of a piece of time. */
export function middleOf({ fromSeconds, untilSeconds, pieces }: Timeline, piece: number): number {
  return fromSeconds + ((piece + 0.5) * (untilSeconds - fromSeconds)) / pieces
}

/** The piece in which a moment lies; the nearest for one that is not seen. */
export function pieceAt({ fromSeconds, untilSeconds, pieces }: Timeline, seconds: number): number {
  return Math.min(pieces - 1, Math.max(0, Math.floor(((seconds - fromSeconds) / (untilSeconds - fromSeconds)) * pieces)))
}

/** The largest value that the panel of what the policy reads has room for. */
export function readsTop(run: RunView, target: number): number {
  return Math.max(target * 1.25, run.reads?.high.reduce((m, v) => (v > m ? v : m), 0) ?? 0) * 1.05
}
