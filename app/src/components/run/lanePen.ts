import { Stage, valueAt, type StepSeries, type Timeline } from '@sandclock/core'
import { scaleLinear, type ScaleContinuousNumeric } from 'd3-scale'
import { colourOf } from '../../charts/ink.ts'
import type { FleetView, RunView } from '../../worker/runViews.ts'
import { PLOT, timeScale } from './frame.ts'
import { paintLanes } from './lanes.ts'

/** What a panel of lanes draws. */
export interface LaneFrame {
  run: RunView
  /** what was shown before the last change, whose wish stays behind the one of now */
  before: RunView | null
  rows: number
  startupSeconds: number
  width: number
  height: number
}

/** Lanes that were drawn: a change beside them must not paint them again. */
const painted = new WeakMap<Timeline, { key: string; canvas: HTMLCanvasElement }>()

function laneCanvas({ timeline, lanes, maxSequences }: RunView, mostRows: number, colour: string): HTMLCanvasElement {
  const key = `${mostRows} ${colour}`
  const known = painted.get(timeline)
  if (known?.key === key) return known.canvas
  const { image } = paintLanes(timeline, lanes, maxSequences, mostRows, colour)
  const canvas = document.createElement('canvas')
  canvas.width = image.width
  canvas.height = image.height
  canvas.getContext('2d')?.putImageData(image, 0, 0)
  painted.set(timeline, { key, canvas })
  return canvas
}

/** Lanes lower than this have no room for strokes: their stages are flat. */
const LEAST_TEXTURED = 5

/** A stretch of a replica, in pixels. */
interface Stretch {
  replica: number
  stage: number
  x1: number
  x2: number
}

/** The panel of the replicas: the one part of a run that no chart library draws. */
export class LanePen {
  private readonly c: CanvasRenderingContext2D
  private readonly f: LaneFrame
  private readonly x: ScaleContinuousNumeric<number, number>

  constructor(c: CanvasRenderingContext2D, frame: LaneFrame) {
    this.c = c
    this.f = frame
    this.x = timeScale({ timeline: frame.run.timeline, width: frame.width })
  }

  /** A lane for each replica: the fuller, the deeper the water; hatched until it is ready. */
  draw(): void {
    const { c } = this
    const { run, rows, height, startupSeconds, width, before } = this.f
    const { lanes: replicas, fleet } = run
    const lane = height / rows
    c.fillStyle = this.colour('--leaf')
    c.fillRect(PLOT.left, 0, width - PLOT.left - PLOT.right, height)
    c.imageSmoothingEnabled = false
    c.drawImage(laneCanvas(run, Math.floor(height), this.colour('--water')), PLOT.left, 0, width - PLOT.left - PLOT.right, lane * replicas)
    if (lane > 6) for (let r = 1; r < rows; r++) this.line(PLOT.left, r * lane, width - PLOT.right, r * lane, '--paper', 2)
    if (lane > 11) for (let r = 0; r < replicas; r++) this.text(`#${r + 1}`, width - PLOT.right + 6, r * lane + lane / 2 + 4)
    else this.text(`${replicas} rows`, width - PLOT.right + 6, 12)
    if (!fleet) return this.hatch(Math.min(width - PLOT.right, this.x(startupSeconds)))
    const y = scaleLinear([0, rows], [0, height])
    if (before?.fleet) this.step(before.fleet.wanted, y, '--faded', [1, 3])
    this.stages(fleet, lane)
    // The line lies under the last lane that is wanted: full lanes above it, none below, is as it should be.
    this.step(fleet.wanted, y, '--ink', [4, 3])
  }

  /**
   * Stages by texture: dots for a machine, strokes for image and weights, bars for load and warm-up; a frame for draining; nothing where
   * nobody is.
   */
  private stages({ spans }: FleetView, lane: number): void {
    const { first, stage, from, until } = spans
    for (let replica = 0; replica + 1 < first.length; replica++) {
      for (let i = first[replica]; i < first[replica + 1]; i++) {
        const x1 = Math.max(PLOT.left, this.x(from[i]))
        const x2 = Math.min(this.f.width - PLOT.right, this.x(until[i]))
        if (x2 <= x1) continue
        const place = { replica, stage: stage[i], x1, x2 }
        if (stage[i] === Stage.ready) this.frame(place, lane)
        else if (lane < LEAST_TEXTURED || x2 - x1 < 3) this.flat(place, lane)
        else this.texture(place, lane)
      }
    }
  }

  private stageColour(stage: number): string {
    return stage === Stage.unplaced ? '--rust' : stage === Stage.draining ? '--moss' : '--faded'
  }

  private flat({ replica, stage, x1, x2 }: Stretch, lane: number): void {
    const { c } = this
    c.globalAlpha = lane < LEAST_TEXTURED ? 0.5 : 1
    c.fillStyle = this.colour(this.stageColour(stage))
    c.fillRect(x1, replica * lane, Math.max(1, x2 - x1), Math.max(1, lane))
    c.globalAlpha = 1
  }

  private texture({ replica, stage, x1, x2 }: Stretch, lane: number): void {
    const { c } = this
    c.save()
    c.beginPath()
    c.rect(x1, replica * lane, x2 - x1, lane)
    c.clip()
    const upright = stage <= Stage.machine
    const gap = upright ? 7 : stage <= Stage.weights ? 4 : 3
    for (let x = x1 - lane; x < x2; x += gap)
      this.line(x, (replica + 1) * lane, x + (upright ? 0 : lane), replica * lane, this.stageColour(stage), 1, upright ? [1, 3] : [])
    c.restore()
  }

  /** A thin outline says that a replica is there, even while it is empty. */
  private frame({ replica, x1, x2 }: Stretch, lane: number): void {
    if (lane < LEAST_TEXTURED) {
      this.c.globalAlpha = 0.12
      this.c.fillStyle = this.colour('--water')
      this.c.fillRect(x1, replica * lane, Math.max(1, x2 - x1), lane)
      this.c.globalAlpha = 1
      return
    }
    this.c.lineWidth = 1
    this.c.strokeStyle = this.colour('--water')
    this.c.strokeRect(x1 + 0.5, replica * lane + 1, Math.max(1, x2 - x1 - 1), Math.max(1, lane - 2))
  }

  private hatch(until: number): void {
    const { c } = this
    const { height } = this.f
    if (until <= PLOT.left) return
    c.save()
    c.beginPath()
    c.rect(PLOT.left, 0, until - PLOT.left, height)
    c.clip()
    for (let x = PLOT.left - height; x < until; x += 6) this.line(x, height, x + height, 0, '--faded', 1)
    c.restore()
  }

  private colour(name: string): string {
    return colourOf(name)
  }

  private text(words: string, x: number, y: number): void {
    const { c } = this
    c.font = "400 12px 'Commissioner Variable', sans-serif"
    c.fillStyle = this.colour('--faded')
    c.fillText(words, x, y)
  }

  private line(x1: number, y1: number, x2: number, y2: number, colour: string, width = 1, dash: number[] = []): void {
    const { c } = this
    c.beginPath()
    c.setLineDash(dash)
    c.moveTo(x1, y1)
    c.lineTo(x2, y2)
    c.lineWidth = width
    c.strokeStyle = this.colour(colour)
    c.stroke()
    c.setLineDash([])
  }

  /** A number that holds from each time on, as a line of steps. */
  private step({ seconds, values }: StepSeries, y: (value: number) => number, colour: string, dash: number[]): void {
    const { c } = this
    const { fromSeconds, untilSeconds } = this.f.run.timeline
    let now = valueAt({ seconds, values }, fromSeconds)
    c.beginPath()
    c.moveTo(PLOT.left, y(now))
    for (let i = 0; i < seconds.length; i++) {
      if (seconds[i] <= fromSeconds || seconds[i] >= untilSeconds) continue
      c.lineTo(this.x(seconds[i]), y(now))
      now = values[i]
      c.lineTo(this.x(seconds[i]), y(now))
    }
    c.lineTo(this.x(untilSeconds), y(now))
    c.setLineDash(dash)
    c.lineWidth = 1.2
    c.strokeStyle = this.colour(colour)
    c.stroke()
    c.setLineDash([])
  }
}
