import { clock, duration, MEASURE_NAMES, threeDigits, type Plan, type Timeline } from '@sandclock/core'
import { scaleLinear, scaleLog, type ScaleContinuousNumeric } from 'd3-scale'
import { classColour, classDash, token } from '../../composables/classColour.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { paintLanes } from './lanes.ts'

/** What the run picture needs to know besides the run itself. */
export interface RunFrame {
  plan: Plan
  timeline: Timeline
  ghost: Timeline | null
  replicas: number
  maxSequences: number
  startupSeconds: number
  perHour: number
  cursorSeconds: number
  width: number
  height: number
}

/** Room for titles on the left and for limits on the right, CSS pixels. */
export const LEFT = 128
export const RIGHT = 88
const BOTTOM = 22
const GAP = 15

type Y = ScaleContinuousNumeric<number, number>
interface Panel {
  top: number
  height: number
}

/** Shares of the height that the five panels get, in order from above. */
const SHARES = { load: 0.2, waiting: 0.13, lanes: 0.29, latency: 0.27, money: 0.06 }

export function timeScale(frame: Pick<RunFrame, 'timeline' | 'width'>) {
  return scaleLinear([frame.timeline.fromSeconds, frame.timeline.untilSeconds], [LEFT, frame.width - RIGHT])
}

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

class Ink {
  private readonly c: CanvasRenderingContext2D
  private readonly f: RunFrame
  private readonly x: Y
  private readonly piece: number
  private readonly colour: (name: string) => string

  constructor(c: CanvasRenderingContext2D, frame: RunFrame) {
    this.c = c
    this.f = frame
    this.x = timeScale(frame)
    const { timeline } = frame
    const at = (frame.cursorSeconds - timeline.fromSeconds) / (timeline.untilSeconds - timeline.fromSeconds)
    this.piece = Math.min(timeline.pieces - 1, Math.max(0, Math.floor(at * timeline.pieces)))
    const known = new Map<string, string>()
    this.colour = (name) => {
      const bare = name.startsWith('var(') ? name.slice(4, -1) : name
      if (!known.has(bare)) known.set(bare, token(bare))
      return known.get(bare) ?? '#888'
    }
  }

  private text(words: string, x: number, y: number, colour = '--faded', weight = 400, align: CanvasTextAlign = 'left', size = 12): void {
    const { c } = this
    c.font = `${weight} ${size}px 'Commissioner Variable', sans-serif`
    c.textAlign = align
    c.fillStyle = this.colour(colour)
    c.fillText(words, x, y)
  }

  private title(p: Panel, name: string, reading: string, more = ''): void {
    this.text(name, 0, p.top + 11, '--faded')
    this.text(reading, 0, p.top + 27, '--ink', 600, 'left', 13)
    if (more !== '') this.text(more, 0, p.top + 43, '--faded')
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

  private mid(i: number): number {
    const { timeline } = this.f
    return this.x(timeline.fromSeconds + ((i + 0.5) * (timeline.untilSeconds - timeline.fromSeconds)) / timeline.pieces)
  }

  private curve(values: ArrayLike<number>, y: Y, colour: string, width: number, dash: number[] = [], fillTo?: number): void {
    const { c } = this
    c.beginPath()
    let drawing = false
    for (let i = 0; i < values.length; i++) {
      if (Number.isNaN(values[i])) continue
      const at = y(Number.isFinite(values[i]) ? values[i] : y.domain()[1])
      if (drawing) c.lineTo(this.mid(i), at)
      else c.moveTo(this.mid(i), at)
      drawing = true
    }
    c.lineWidth = width
    c.strokeStyle = this.colour(colour)
    c.setLineDash(dash)
    c.stroke()
    c.setLineDash([])
    if (fillTo === undefined || values.length === 0) return
    c.lineTo(this.mid(values.length - 1), fillTo)
    c.lineTo(this.mid(0), fillTo)
    c.globalAlpha = 0.16
    c.fillStyle = this.colour(colour)
    c.fill()
    c.globalAlpha = 1
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
    this.hatch(p, Math.min(width - RIGHT, this.x(startupSeconds)))
    if (lane > 11) for (let r = 0; r < replicas; r++) this.text(`#${r + 1}`, width - RIGHT + 6, p.top + r * lane + lane / 2 + 4)
    else this.text(`${replicas} rows`, width - RIGHT + 6, p.top + 12)
    let busy = 0
    for (let r = 0; r < replicas; r++) busy += timeline.inService[r * timeline.pieces + this.piece]
    const ready = this.f.cursorSeconds >= startupSeconds
    this.title(p, replicas === 1 ? '1 replica' : `${replicas} replicas`, `${threeDigits(busy)} in service`, ready ? `of ${replicas * maxSequences}` : 'starting up')
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
    const { width, perHour, plan } = this.f
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
