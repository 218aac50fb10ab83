import { duration, MEASURE_NAMES, threeDigits, valueAt, type StepSeries, type Timeline } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import type { Axis, LineSeries, Mark, Point } from '../../charts/spec.ts'
import { classColour, classDash } from '../../composables/classColour.ts'
import type { RunView } from '../../worker/runViews.ts'
import { middleOf, readsTop, type RunFrame } from './frame.ts'
import type { PanelName } from './panels.ts'

/** A panel that the chart library draws, in a picture of its own height. */
export interface PanelChart {
  y: Axis
  series: LineSeries[]
  marks: Mark[]
  /** words on the right, each at the height of a value */
  beside: { words: string; value: number; colour: string }[]
}
export type ChartedPanel = Exclude<PanelName, 'lanes' | 'otherLanes'>

/** What the panels of load, waiting, readings, latency and money draw. @param height of the panel, in pixels */
export const CHARTS: Record<ChartedPanel, (frame: RunFrame, height: number) => PanelChart> = { load, waiting, reads, latency, money }

const plain = (scale: Axis['scale'], log = false): Axis => ({ scale, log, ticks: log ? [] : [{ at: 0, label: '' }] })
const most = (values: ArrayLike<number>) =>
  Array.prototype.reduce.call<ArrayLike<number>, [(m: number, v: number) => number, number], number>(values, (m, v) => Math.max(m, v), 0)
const NOTHING = { colour: 'transparent', width: 0 }
const BEFORE = { colour: '--faded', width: 1, dash: [2, 3] }
const BELOW = { colour: '--ink', width: 1, dash: [2, 2] }

/** One value for each piece of time, at its middle. Endless ones lie at the top, what is not there breaks the line. */
function line(timeline: Timeline, values: ArrayLike<number>, looks: Omit<LineSeries, 'kind' | 'points'>, top = Infinity): LineSeries {
  return {
    kind: 'line',
    ...looks,
    points: Array.from(values, (v, i) => ({
      x: middleOf(timeline, i),
      y: Number.isFinite(v) ? Math.min(v, top) : Number.isNaN(v) ? NaN : top,
    })),
  }
}

/** A number that holds from each time on, in the stretch that is seen. */
function steps(
  { fromSeconds, untilSeconds }: Timeline,
  series: StepSeries,
  looks: Omit<LineSeries, 'kind' | 'points' | 'stepped'>,
): LineSeries {
  const points: Point[] = [{ x: fromSeconds, y: valueAt(series, fromSeconds) }]
  series.seconds.forEach((x, i) => {
    if (x > fromSeconds && x < untilSeconds) points.push({ x, y: series.values[i] })
  })
  return { kind: 'line', ...looks, stepped: true, points: [...points, { x: untilSeconds, y: valueAt(series, untilSeconds) }] }
}

/** Upright strokes at the middles of some pieces. */
function strokes(timeline: Timeline, at: (piece: number) => [from: number, until: number] | null): LineSeries {
  const points = Array.from({ length: timeline.pieces }, (_, i) => i).flatMap((i): Point[] => {
    const stroke = at(i)
    const x = middleOf(timeline, i)
    return stroke
      ? [
          { x, y: stroke[0] },
          { x, y: stroke[1] },
          { x, y: NaN },
        ]
      : []
  })
  return { kind: 'line', points, colour: '--rust', width: 2 }
}

/** The difference of two lines: filled where the first is lower, hatched where it is higher. */
function between(first: LineSeries, second: LineSeries): LineSeries[] {
  return [
    { ...second, ...NOTHING, dash: [] },
    {
      ...first,
      ...NOTHING,
      dash: [],
      fill: { to: 'line before', ink: { colour: '--rust', hatch: 'slant', alpha: 0.7 }, below: { colour: '--moss', alpha: 0.35 } },
    },
  ]
}

function load({ run: { timeline } }: RunFrame, height: number): PanelChart {
  const mine = timeline.arrivals.map((a, i) => ({ a, i })).filter(({ a }) => a.some((v) => v > 0))
  const top = Math.max(0.01, ...mine.map(({ a }) => most(a)))
  const series = mine.map(({ a, i }) =>
    line(timeline, a, { colour: classColour(i), dash: classDash(i), fill: { to: 'axis', ink: { colour: classColour(i), alpha: 0.16 } } }),
  )
  return {
    y: plain(scaleLinear([0, top * 1.08], [height, 0])),
    series,
    marks: [],
    beside: [{ words: `${threeDigits(top)} /s`, value: top, colour: '--faded' }],
  }
}

function waiting({ run: { timeline }, ghost, other }: RunFrame, height: number): PanelChart {
  const top = Math.max(1, most(timeline.waiting), other ? most(other.timeline.waiting) : 0)
  const mine = line(timeline, timeline.waiting, {
    colour: '--sand',
    width: 1.4,
    ...(!other && { fill: { to: 'axis', ink: { colour: '--sand', alpha: 0.16 } } }),
  })
  const below = other && line(timeline, other.timeline.waiting, BELOW)
  return {
    y: plain(scaleLinear([0, top * 1.05], [height, 0])),
    marks: [],
    beside: [{ words: `${threeDigits(top)} requests`, value: top, colour: '--faded' }],
    series: [
      ...(ghost && !other ? [line(timeline, ghost.timeline.waiting, BEFORE)] : []),
      ...(below ? [...between(mine, below), below] : []),
      mine,
      // Whoever is lost leaves a stroke on the ground.
      strokes(timeline, (i) => (timeline.lost[i] > 0 ? [0, (5 / height) * top] : null)),
    ],
  }
}

/** What the scaler read, a copy on average: between the least and the most of each piece; and what it aims at. */
function reads({ run, ghost, reads: read }: RunFrame, height: number): PanelChart {
  const { timeline } = run
  const target = read?.target ?? 1
  const { low, high } = run.reads ?? { low: [], high: [] }
  return {
    y: plain(scaleLinear([0, readsTop(run, target)], [height, 0])),
    marks: [{ kind: 'line', y: target, colour: '--ink', dash: [4, 3] }],
    beside: [],
    series: [
      ...(ghost?.reads ? [line(timeline, ghost.reads.high, BEFORE)] : []),
      line(timeline, low, NOTHING),
      line(timeline, high, { colour: '--moss', width: 1.2, fill: { to: 'line before', ink: { colour: '--moss', alpha: 0.3 } } }),
    ],
  }
}

const DASHES = [[], [6, 3], [2, 3], [8, 3, 2, 3]]

/** Every promise over time: its line, what it measured, what another run or the run before measured, and where it broke. */
function latency({ run: { timeline }, ghost, other }: RunFrame, height: number): PanelChart {
  const finite = [timeline, ...(other ? [other.timeline] : [])].flatMap((t) =>
    t.readings.flatMap((r) => [...r.values].filter((v) => v > 0 && Number.isFinite(v)).concat(r.limitSeconds)),
  )
  const [low, high] = finite.length > 0 ? [Math.max(1e-4, Math.min(...finite) / 1.3), Math.max(...finite) * 1.5] : [0.1, 1]
  const series = timeline.readings.flatMap((r, k): LineSeries[] => {
    const mine = line(
      timeline,
      r.values,
      { colour: k === 0 ? '--water' : classColour(k + r.classIndex), width: 1.3, dash: DASHES[k % DASHES.length] },
      high,
    )
    const [second, before] = [other?.timeline.readings[k], ghost?.timeline.readings[k]]
    const below = second && line(timeline, second.values, BELOW, high)
    if (below) return [...between(mine, below), below, mine]
    const broken = strokes(timeline, (i) => (r.values[i] > r.limitSeconds ? [r.limitSeconds, Math.min(high, r.values[i])] : null))
    return [...(before ? [line(timeline, before.values, BEFORE, high)] : []), mine, broken]
  })
  return {
    y: plain(scaleLog([low, high], [height, 0]), true),
    series,
    marks: timeline.readings.map((r) => ({ kind: 'line', y: r.limitSeconds, colour: '--rust', dash: [4, 3] })),
    beside: timeline.readings.map((r) => ({
      words: `${MEASURE_NAMES[r.measure]} ${duration(r.limitSeconds)}`,
      value: r.limitSeconds,
      colour: '--rust',
    })),
  }
}

function money({ run, ghost, other }: RunFrame, height: number): PanelChart {
  const { timeline } = run
  const top = Math.max(1e-9, most(run.paid.values), other ? most(other.paid.values) : 0)
  const mine = steps(timeline, run.paid, {
    colour: '--sand',
    width: 1.2,
    ...(!other && { fill: { to: 'axis', ink: { colour: '--sand', alpha: 0.4 } } }),
  })
  const average = ({ perHour }: RunView) => perHour.toFixed(2)
  return {
    y: plain(scaleLinear([0, top], [height, 2])),
    marks: [],
    series: other
      ? [...between(atMiddles(timeline, run.paid), atMiddles(timeline, other.paid)), steps(timeline, other.paid, BELOW), mine]
      : [...(ghost ? [steps(timeline, ghost.paid, BEFORE)] : []), mine],
    beside: [
      { words: `mean ${average(run)}`, value: top * (other ? 0.75 : 0.5), colour: '--faded' },
      ...(other ? [{ words: `below ${average(other)}`, value: top * 0.2, colour: '--faded' }] : []),
    ],
  }
}

/** Steps that change at different times, at common ones. */
function atMiddles(timeline: Timeline, series: StepSeries): LineSeries {
  return {
    ...line(
      timeline,
      Array.from({ length: timeline.pieces }, (_, i) => valueAt(series, middleOf(timeline, i))),
      NOTHING,
    ),
  }
}
