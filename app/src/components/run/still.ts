import { duration, MEASURE_NAMES, Stage, threeDigits, valueAt, type Timeline } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { classColour, classDash } from '../../composables/classColour.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import type { FleetView, RunView } from '../../worker/viewWorker.ts'
import type { RunFrame } from './draw.ts'
import { paintLanes } from './lanes.ts'
import { BOTTOM, type Panel } from './panels.ts'
import { LEFT, Pen, RIGHT, type Y } from './pen.ts'

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

/** The panels of the run without what the cursor reads. */
export class Still extends Pen<RunFrame> {
  grid(): void {
    const { plan, timeline, height } = this.f
    for (const tick of timeTicks(plan.horizon.start, timeline.fromSeconds, timeline.untilSeconds)) {
      this.line(this.x(tick.seconds), 0, this.x(tick.seconds), height - BOTTOM + 4, '--rule')
      this.text(tick.label, this.x(tick.seconds) + 4, height - 6)
    }
  }

  load(p: Panel): void {
    const { timeline, width } = this.f
    const mine = timeline.arrivals.map((a, i) => ({ a, i })).filter(({ a }) => a.some((v) => v > 0))
    const top = Math.max(0.01, ...mine.map(({ a }) => a.reduce((m, v) => Math.max(m, v), 0)))
    const y = scaleLinear([0, top * 1.08], [p.top + p.height, p.top])
    this.line(LEFT, y(0), width - RIGHT, y(0), '--rule')
    for (const { a, i } of mine) this.curve(a, y, classColour(i), 1.4, classDash(i).split(' ').filter(Boolean).map(Number), y(0))
    this.text(`${threeDigits(top)} /s`, width - RIGHT + 6, y(top) + 4)
  }

  waiting(p: Panel): void {
    const { timeline, ghost, other, width } = this.f
    const most = (t: Timeline) => t.waiting.reduce((m, v) => Math.max(m, v), 0)
    const top = Math.max(1, most(timeline), other ? most(other.timeline) : 0)
    const y = scaleLinear([0, top * 1.05], [p.top + p.height, p.top])
    this.line(LEFT, y(0), width - RIGHT, y(0), '--rule')
    if (ghost && !other) this.curve(ghost.timeline.waiting, y, '--faded', 1, [2, 3])
    if (other) {
      this.between((i) => timeline.waiting[i], (i) => other.timeline.waiting[i], y)
      this.curve(other.timeline.waiting, y, '--ink', 1, [2, 2])
    }
    this.curve(timeline.waiting, y, '--sand', 1.4, [], other ? undefined : y(0))
    this.text(`${threeDigits(top)} requests`, width - RIGHT + 6, y(top) + 4)
    for (let i = 0; i < timeline.lost.length; i++) if (timeline.lost[i] > 0) this.line(this.mid(i), y(0), this.mid(i), y(0) + 5, '--rust', 2)
  }

  /** A lane for each replica: the fuller, the deeper the water; hatched until it is ready. */
  lanes(p: Panel, run: RunView, rows: number): void {
    const { c } = this
    const { lanes: replicas, fleet } = run
    const { startupSeconds, width, ghost, other } = this.f
    const lane = p.height / rows
    c.fillStyle = this.colour('--leaf')
    c.fillRect(LEFT, p.top, width - LEFT - RIGHT, p.height)
    c.imageSmoothingEnabled = false
    c.drawImage(laneCanvas(run, Math.floor(p.height), this.colour('--water')), LEFT, p.top, width - LEFT - RIGHT, lane * replicas)
    if (lane > 6) for (let r = 1; r < rows; r++) this.line(LEFT, p.top + r * lane, width - RIGHT, p.top + r * lane, '--paper', 2)
    if (lane > 11) for (let r = 0; r < replicas; r++) this.text(`#${r + 1}`, width - RIGHT + 6, p.top + r * lane + lane / 2 + 4)
    else this.text(`${replicas} rows`, width - RIGHT + 6, p.top + 12)
    if (!fleet) return this.hatch(p, Math.min(width - RIGHT, this.x(startupSeconds)))
    const y = scaleLinear([0, rows], [p.top, p.top + p.height])
    if (ghost?.fleet && !other) this.step(ghost.fleet.wanted, y, '--faded', [1, 3])
    this.stages(p, fleet, lane)
    // The line lies under the last lane that is wanted: full lanes above it, none below, is as it should be.
    this.step(fleet.wanted, y, '--ink', [4, 3])
  }

  /** Stages by texture: dots for a machine, strokes for image and weights, bars for load and warm-up; a frame for draining; nothing where nobody is. */
  private stages(p: Panel, { spans }: FleetView, lane: number): void {
    const { first, stage, from, until } = spans
    for (let replica = 0; replica + 1 < first.length; replica++) {
      for (let i = first[replica]; i < first[replica + 1]; i++) {
        const x1 = Math.max(LEFT, this.x(from[i]))
        const x2 = Math.min(this.f.width - RIGHT, this.x(until[i]))
        if (x2 <= x1) continue
        const place = { replica, stage: stage[i], x1, x2 }
        if (stage[i] === Stage.ready) this.frame(p, place, lane)
        else if (lane < LEAST_TEXTURED || x2 - x1 < 3) this.flat(p, place, lane)
        else this.texture(p, place, lane)
      }
    }
  }

  private stageColour(stage: number): string {
    return stage === Stage.unplaced ? '--rust' : stage === Stage.draining ? '--moss' : '--faded'
  }

  private flat(p: Panel, { replica, stage, x1, x2 }: Stretch, lane: number): void {
    const { c } = this
    c.globalAlpha = lane < LEAST_TEXTURED ? 0.5 : 1
    c.fillStyle = this.colour(this.stageColour(stage))
    c.fillRect(x1, p.top + replica * lane, Math.max(1, x2 - x1), Math.max(1, lane))
    c.globalAlpha = 1
  }

  private texture(p: Panel, { replica, stage, x1, x2 }: Stretch, lane: number): void {
    const { c } = this
    c.save()
    c.beginPath()
    c.rect(x1, p.top + replica * lane, x2 - x1, lane)
    c.clip()
    const upright = stage <= Stage.machine
    const gap = upright ? 7 : stage <= Stage.weights ? 4 : 3
    for (let x = x1 - lane; x < x2; x += gap) this.line(x, p.top + (replica + 1) * lane, x + (upright ? 0 : lane), p.top + replica * lane, this.stageColour(stage), 1, upright ? [1, 3] : [])
    c.restore()
  }

  /** A thin outline says that a replica is there, even while it is empty. */
  private frame(p: Panel, { replica, x1, x2 }: Stretch, lane: number): void {
    if (lane < LEAST_TEXTURED) {
      this.c.globalAlpha = 0.12
      this.c.fillStyle = this.colour('--water')
      this.c.fillRect(x1, p.top + replica * lane, Math.max(1, x2 - x1), lane)
      this.c.globalAlpha = 1
      return
    }
    this.c.lineWidth = 1
    this.c.strokeStyle = this.colour('--water')
    this.c.strokeRect(x1 + 0.5, p.top + replica * lane + 1, Math.max(1, x2 - x1 - 1), Math.max(1, lane - 2))
  }

  private hatch(p: Panel, until: number): void {
    const { c } = this
    if (until <= LEFT) return
    c.save()
    c.beginPath()
    c.rect(LEFT, p.top, until - LEFT, p.height)
    c.clip()
    for (let x = LEFT - p.height; x < until; x += 6) this.line(x, p.top + p.height, x + p.height, p.top, '--faded', 1)
    c.restore()
  }

  /** What the scaler read, a copy on average: between the least and the most of each piece; and what it aims at. */
  reads(p: Panel): void {
    const { reads, run, ghost, width } = this.f
    if (!reads || !run.reads) return
    const y = scaleLinear([0, readsTop(run, reads.target)], [p.top + p.height, p.top])
    const { low, high } = run.reads
    this.line(LEFT, y(0), width - RIGHT, y(0), '--rule')
    if (ghost?.reads) this.curve(ghost.reads.high, y, '--faded', 1, [2, 3])
    this.band(low, high, y, '--moss')
    this.curve(high, y, '--moss', 1.2)
    this.line(LEFT, y(reads.target), width - RIGHT, y(reads.target), '--ink', 1, [4, 3])
  }

  latency(p: Panel): void {
    const { timeline, ghost, other } = this.f
    const finite = [timeline, ...(other ? [other.timeline] : [])].flatMap((t) => t.readings.flatMap((r) => [...r.values].filter((v) => v > 0 && Number.isFinite(v)).concat(r.limitSeconds)))
    const y = scaleLog([Math.max(1e-4, Math.min(...finite) / 1.3), Math.max(...finite) * 1.5], [p.top + p.height, p.top])
    timeline.readings.forEach((_, k) => this.reading(k, y, other?.timeline, ghost?.timeline))
  }

  /** One promise over time: its line, what it measured, what another run or the run before measured, and where it broke. */
  private reading(k: number, y: Y, other: Timeline | undefined, ghost: Timeline | undefined): void {
    const { timeline, width } = this.f
    const r = timeline.readings[k]
    const dashes = [[], [6, 3], [2, 3], [8, 3, 2, 3]]
    const before = ghost?.readings[k]
    const second = other?.readings[k]
    if (second) {
      this.between((i) => r.values[i], (i) => second.values[i], y)
      this.curve(second.values, y, '--ink', 1, [2, 2])
    } else if (before) this.curve(before.values, y, '--faded', 1, [2, 3])
    this.curve(r.values, y, k === 0 ? '--water' : classColour(k + r.classIndex), 1.3, dashes[k % dashes.length])
    this.line(LEFT, y(r.limitSeconds), width - RIGHT, y(r.limitSeconds), '--rust', 1, [4, 3])
    this.text(`${MEASURE_NAMES[r.measure]} ${duration(r.limitSeconds)}`, width - RIGHT + 6, y(r.limitSeconds) + 4, '--rust', 600, 'left', 11)
    if (second) return
    for (let i = 0; i < r.values.length; i++) {
      if (r.values[i] > r.limitSeconds) this.line(this.mid(i), y(r.limitSeconds), this.mid(i), y(Number.isFinite(r.values[i]) ? r.values[i] : y.domain()[1]), '--rust', 2)
    }
  }

  money(p: Panel): void {
    const { width, run, other, ghost, timeline } = this.f
    const most = ({ paid }: RunView) => paid.values.reduce((m, v) => Math.max(m, v), 0)
    const y = scaleLinear([0, Math.max(1e-9, most(run), other ? most(other) : 0)], [p.top + p.height, p.top + 2])
    if (other) {
      const [a, b] = [run.paid, other.paid]
      const middle = (i: number) => timeline.fromSeconds + ((i + 0.5) * (timeline.untilSeconds - timeline.fromSeconds)) / timeline.pieces
      this.between((i) => valueAt(a, middle(i)), (i) => valueAt(b, middle(i)), y)
      this.step(b, y, '--ink', [2, 2])
    } else if (ghost) this.step(ghost.paid, y, '--faded', [2, 3])
    this.step(run.paid, y, '--sand', [], other ? undefined : p.top + p.height)
    const middle = p.top + p.height / 2
    this.text(`${run.perHour.toFixed(2)} on average`, width - RIGHT + 6, middle + (other ? -2 : 6), '--faded', 400, 'left', 11)
    if (other) this.text(`below ${other.perHour.toFixed(2)}`, width - RIGHT + 6, middle + 13, '--faded', 400, 'left', 11)
  }
}

/** The largest value that the panel of what the policy reads has room for. */
export function readsTop(run: RunView, target: number): number {
  return Math.max(target * 1.25, run.reads?.high.reduce((m, v) => (v > m ? v : m), 0) ?? 0) * 1.05
}
