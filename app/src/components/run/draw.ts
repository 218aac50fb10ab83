import { clock, duration, MEASURE_NAMES, Stage, STAGES, threeDigits, valueAt, type FleetPicture, type Plan, type Timeline } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { classColour, classDash } from '../../composables/classColour.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { paintLanes } from './lanes.ts'
import { LEFT, Pen, RIGHT } from './pen.ts'

/** What the run picture needs to know besides the run itself. */
export interface RunFrame {
  plan: Plan
  timeline: Timeline
  ghost: Timeline | null
  replicas: number
  maxSequences: number
  startupSeconds: number
  perHour: number
  /** how the fleet came and went; null for one that is there all the time */
  fleet: FleetPicture | null
  perMachineHour: number
  cursorSeconds: number
  width: number
  height: number
}

const BOTTOM = 22
const GAP = 15

interface Panel {
  top: number
  height: number
}

/** Shares of the height that the five panels get, in order from above. */
const SHARES = { load: 0.2, waiting: 0.13, lanes: 0.29, latency: 0.27, money: 0.06 }

/** Draws load, waiting, replicas, latency and money over one another on one axis, with the cursor through all. */
export function drawRun(c: CanvasRenderingContext2D, frame: RunFrame): void {
  const ink = new Ink(c, frame)
  c.clearRect(0, 0, frame.width, frame.height)
  const room = frame.height - BOTTOM - GAP * 4
  let top = 4
  const panel = (share: number): Panel => {
    const p = { top, height: room * share }
    top += p.height + GAP
    return p
  }
  ink.grid()
  ink.load(panel(SHARES.load))
  ink.waiting(panel(SHARES.waiting))
  ink.lanes(panel(SHARES.lanes))
  ink.latency(panel(SHARES.latency))
  ink.money(panel(SHARES.money))
  ink.cursor()
}

/** The lanes of the last run that was drawn: moving the cursor must not paint them again. */
let painted: { timeline: Timeline; key: string; canvas: HTMLCanvasElement } | undefined

function laneCanvas(timeline: Timeline, replicas: number, maxSequences: number, mostRows: number, colour: string): HTMLCanvasElement {
  const key = `${replicas} ${maxSequences} ${mostRows} ${colour}`
  if (painted?.timeline === timeline && painted.key === key) return painted.canvas
  const { image } = paintLanes(timeline, replicas, maxSequences, mostRows, colour)
  const canvas = document.createElement('canvas')
  canvas.width = image.width
  canvas.height = image.height
  canvas.getContext('2d')?.putImageData(image, 0, 0)
  painted = { timeline, key, canvas }
  return canvas
}

class Ink extends Pen<RunFrame> {
  private title(p: Panel, name: string, reading: string, more = ''): void {
    this.text(name, 0, p.top + 11, '--faded')
    this.text(reading, 0, p.top + 27, '--ink', 600, 'left', 13)
    if (more !== '') this.text(more, 0, p.top + 43, '--faded')
  }

  grid(): void {
    const { plan, timeline, height } = this.f
    for (const tick of timeTicks(plan.horizon.start, timeline.fromSeconds, timeline.untilSeconds)) {
      this.line(this.x(tick.seconds), 0, this.x(tick.seconds), height - BOTTOM + 4, '--rule')
      this.text(tick.label, this.x(tick.seconds) + 4, height - 6)
    }
  }

  load(p: Panel): void {
    const { timeline, plan, width } = this.f
    const mine = timeline.arrivals.map((a, i) => ({ a, i })).filter(({ a }) => a.some((v) => v > 0))
    const top = Math.max(0.01, ...mine.map(({ a }) => a.reduce((m, v) => Math.max(m, v), 0)))
    const y = scaleLinear([0, top * 1.08], [p.top + p.height, p.top])
    this.line(LEFT, y(0), width - RIGHT, y(0), '--rule')
    for (const { a, i } of mine) this.curve(a, y, classColour(i), 1.4, classDash(i).split(' ').filter(Boolean).map(Number), y(0))
    const now = mine.reduce((sum, { a }) => sum + a[this.piece], 0)
    this.title(p, 'arrivals', `${threeDigits(now)} /s`, mine.map(({ i }) => plan.classes[i].name).join(', '))
    this.text(`${threeDigits(top)} /s`, width - RIGHT + 6, y(top) + 4)
  }

  waiting(p: Panel): void {
    const { timeline, ghost, width } = this.f
    const top = Math.max(1, timeline.waiting.reduce((m, v) => Math.max(m, v), 0))
    const y = scaleLinear([0, top * 1.05], [p.top + p.height, p.top])
    this.line(LEFT, y(0), width - RIGHT, y(0), '--rule')
    if (ghost) this.curve(ghost.waiting, y, '--faded', 1, [2, 3])
    this.curve(timeline.waiting, y, '--sand', 1.4, [], y(0))
    const lost = timeline.lost[this.piece]
    this.title(p, 'waiting', `${threeDigits(timeline.waiting[this.piece])} requests`, lost > 0 ? `${threeDigits(lost)} /s lost` : '')
    this.text(`${threeDigits(top)} requests`, width - RIGHT + 6, y(top) + 4)
    for (let i = 0; i < timeline.lost.length; i++) if (timeline.lost[i] > 0) this.line(this.mid(i), y(0), this.mid(i), y(0) + 5, '--rust', 2)
  }

  /** A lane for each replica: the fuller, the deeper the water; hatched until it is ready. */
  lanes(p: Panel): void {
    const { c } = this
    const { timeline, replicas, maxSequences, startupSeconds, width } = this.f
    const lane = p.height / replicas
    c.fillStyle = this.colour('--leaf')
    c.fillRect(LEFT, p.top, width - LEFT - RIGHT, p.height)
    c.imageSmoothingEnabled = false
    c.drawImage(laneCanvas(timeline, replicas, maxSequences, Math.floor(p.height), this.colour('--water')), LEFT, p.top, width - LEFT - RIGHT, p.height)
    if (lane > 6) for (let r = 1; r < replicas; r++) this.line(LEFT, p.top + r * lane, width - RIGHT, p.top + r * lane, '--paper', 2)
    if (this.f.fleet) this.stages(p, this.f.fleet, lane)
    else this.hatch(p, Math.min(width - RIGHT, this.x(startupSeconds)))
    if (lane > 11) for (let r = 0; r < replicas; r++) this.text(`#${r + 1}`, width - RIGHT + 6, p.top + r * lane + lane / 2 + 4)
    else this.text(`${replicas} rows`, width - RIGHT + 6, p.top + 12)
    let busy = 0
    for (let r = 0; r < replicas; r++) busy += timeline.inService[r * timeline.pieces + this.piece]
    if (this.f.fleet) return this.fleetTitle(p, this.f.fleet, busy)
    const ready = this.f.cursorSeconds >= startupSeconds
    this.title(p, replicas === 1 ? '1 replica' : `${replicas} replicas`, `${threeDigits(busy)} in service`, ready ? `of ${replicas * maxSequences}` : 'starting up')
  }

  private fleetTitle(p: Panel, { wanted, ready, unplaced }: FleetPicture, busy: number): void {
    const at = this.f.cursorSeconds
    const missing = valueAt(unplaced, at)
    this.title(p, `${valueAt(ready, at)} of ${valueAt(wanted, at)} wanted`, `${threeDigits(busy)} in service`, missing > 0 ? `${missing} without room` : this.stageAt(at))
  }

  /** The stage of whoever starts up under the cursor. */
  private stageAt(at: number): string {
    const starting = this.f.fleet?.spans.find((s) => s.from <= at && at < s.until && s.stage < Stage.ready)
    return starting ? `one starts: ${STAGES[starting.stage]}` : ''
  }

  /** Stages by texture: dots for a machine, strokes for image and weights, bars for load and warm-up; a frame for draining; nothing where nobody is. */
  private stages(p: Panel, { spans, wanted }: FleetPicture, lane: number): void {
    const { c } = this
    const left = LEFT
    const right = this.f.width - RIGHT
    for (const { replica, stage, from, until } of spans) {
      const x1 = Math.max(left, this.x(from))
      const x2 = Math.min(right, this.x(until))
      if (x2 <= x1 || stage === Stage.ready) continue
      c.save()
      c.beginPath()
      c.rect(x1, p.top + replica * lane, Math.max(1, x2 - x1), lane)
      c.clip()
      const gap = stage <= Stage.machine ? 7 : stage <= Stage.weights ? 4 : 3
      const colour = stage === Stage.unplaced ? '--rust' : stage === Stage.draining ? '--moss' : '--faded'
      if (x2 - x1 < 3) this.line(x1, p.top, x1, p.top + p.height, colour, 2)
      else for (let x = x1 - lane; x < x2; x += gap) this.line(x, p.top + (replica + 1) * lane, x + (stage <= Stage.machine ? 0 : lane), p.top + replica * lane, colour, 1, stage <= Stage.machine ? [1, 3] : [])
      c.restore()
    }
    for (const { replica, stage, from, until } of spans) if (stage === Stage.ready) this.frame(p, replica, lane, from, until)
    // The line lies under the last lane that is wanted: full lanes above it, none below, is as it should be.
    this.step(wanted, scaleLinear([0, p.height / lane], [p.top, p.top + p.height]), '--ink', [4, 3])
  }

  /** A thin outline says that a replica is there, even while it is empty. */
  private frame(p: Panel, replica: number, lane: number, from: number, until: number): void {
    const x1 = Math.max(LEFT, this.x(from))
    const x2 = Math.min(this.f.width - RIGHT, this.x(until))
    if (x2 <= x1) return
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

  latency(p: Panel): void {
    const { timeline, ghost, width, plan } = this.f
    const finite = timeline.readings.flatMap((r) => [...r.values].filter((v) => v > 0 && Number.isFinite(v)).concat(r.limitSeconds))
    const y = scaleLog([Math.max(1e-4, Math.min(...finite) / 1.3), Math.max(...finite) * 1.5], [p.top + p.height, p.top])
    const dashes = [[], [6, 3], [2, 3], [8, 3, 2, 3]]
    timeline.readings.forEach((r, k) => {
      const colour = k === 0 ? '--water' : classColour(k + r.classIndex)
      const before = ghost?.readings[k]
      if (before) this.curve(before.values, y, '--faded', 1, [2, 3])
      this.curve(r.values, y, colour, 1.3, dashes[k % dashes.length])
      this.line(LEFT, y(r.limitSeconds), width - RIGHT, y(r.limitSeconds), '--rust', 1, [4, 3])
      this.text(`${MEASURE_NAMES[r.measure]} ${duration(r.limitSeconds)}`, width - RIGHT + 6, y(r.limitSeconds) + 4, '--rust', 600, 'left', 11)
      for (let i = 0; i < r.values.length; i++) {
        if (r.values[i] > r.limitSeconds) this.line(this.mid(i), y(r.limitSeconds), this.mid(i), y(Number.isFinite(r.values[i]) ? r.values[i] : y.domain()[1]), '--rust', 2)
      }
    })
    const words = timeline.readings.map((r) => `p${r.percentile} ${MEASURE_NAMES[r.measure]} ${duration(r.values[this.piece])}`)
    this.text('against target', 0, p.top + 11)
    timeline.readings.forEach((r, k) => {
      const late = r.values[this.piece] > r.limitSeconds
      this.text(words[k], 0, p.top + 28 + k * 16, late ? '--rust' : '--ink', 600, 'left', 12.5)
    })
    if (timeline.readings.length === 0) this.text('no time target', 0, p.top + 28)
    else this.text(plan.classes[timeline.readings[0].classIndex].name, 0, p.top + 30 + timeline.readings.length * 16)
  }

  money(p: Panel): void {
    const { width, perHour, plan, fleet, perMachineHour, cursorSeconds } = this.f
    if (fleet) {
      const y = scaleLinear([0, Math.max(1, ...fleet.machines.values)], [p.top + p.height, p.top + 2])
      this.step(fleet.machines, y, '--sand', [], p.top + p.height)
      this.text('money', 0, p.top + 9)
      this.text(`${(valueAt(fleet.machines, cursorSeconds) * perMachineHour).toFixed(2)} ${plan.currency}/h`, 0, p.top + 25, '--ink', 600, 'left', 13)
      return this.text(`${perHour.toFixed(2)} on average`, width - RIGHT + 6, p.top + p.height / 2 + 6, '--faded', 400, 'left', 11)
    }
    const { c } = this
    c.fillStyle = this.colour('--sand')
    c.globalAlpha = 0.5
    c.fillRect(LEFT, p.top + 6, width - LEFT - RIGHT, Math.max(3, p.height - 8))
    c.globalAlpha = 1
    this.text('money', 0, p.top + 9)
    this.text(`${perHour.toFixed(2)} ${plan.currency}/h`, 0, p.top + 25, '--ink', 600, 'left', 13)
    this.text('all hours', width - RIGHT + 6, p.top + p.height / 2 + 6)
  }

  cursor(): void {
    const { cursorSeconds, height, plan, width } = this.f
    const at = this.x(cursorSeconds)
    if (at < LEFT - 1 || at > width - RIGHT + 1) return
    this.line(at, 0, at, height - BOTTOM + 2, '--ink', 1)
    const words = clock(plan.horizon.start, cursorSeconds)
    const { c } = this
    c.font = "600 12px 'Commissioner Variable', sans-serif"
    const half = c.measureText(words).width / 2 + 6
    const centre = Math.min(width - RIGHT - half, Math.max(LEFT + half, at))
    c.fillStyle = this.colour('--ink')
    c.fillRect(centre - half, height - BOTTOM + 2, half * 2, 18)
    this.text(words, centre, height - BOTTOM + 15, '--paper', 600, 'center')
  }
}
