import { valueAt, type StepSeries, type Timeline } from '@sandclock/core'
import { scaleLinear, type ScaleContinuousNumeric } from 'd3-scale'
import { token } from '../../composables/classColour.ts'

/** Room for titles on the left and for limits on the right, CSS pixels. */
export const LEFT = 128
export const RIGHT = 88

export type Y = ScaleContinuousNumeric<number, number>

export function timeScale(frame: { timeline: Timeline; width: number }) {
  return scaleLinear([frame.timeline.fromSeconds, frame.timeline.untilSeconds], [LEFT, frame.width - RIGHT])
}

/** What every panel of the run is drawn with: words, lines, curves over pieces of time, steps, in the colours of the theme. */
export class Pen<Frame extends { timeline: Timeline; width: number; cursorSeconds: number }> {
  protected readonly c: CanvasRenderingContext2D
  protected readonly f: Frame
  protected readonly x: Y
  protected readonly piece: number
  protected readonly colour: (name: string) => string

  constructor(c: CanvasRenderingContext2D, frame: Frame) {
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

  protected text(words: string, x: number, y: number, colour = '--faded', weight = 400, align: CanvasTextAlign = 'left', size = 12): void {
    const { c } = this
    c.font = `${weight} ${size}px 'Commissioner Variable', sans-serif`
    c.textAlign = align
    c.fillStyle = this.colour(colour)
    c.fillText(words, x, y)
  }

  protected line(x1: number, y1: number, x2: number, y2: number, colour: string, width = 1, dash: number[] = []): void {
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

  protected mid(i: number): number {
    const { timeline } = this.f
    return this.x(timeline.fromSeconds + ((i + 0.5) * (timeline.untilSeconds - timeline.fromSeconds)) / timeline.pieces)
  }

  protected curve(values: ArrayLike<number>, y: Y, colour: string, width: number, dash: number[] = [], fillTo?: number): void {
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

  /** A number that holds from each time on, as a line of steps. */
  protected step({ seconds, values }: StepSeries, y: Y, colour: string, dash: number[] = [], fillTo?: number): void {
    const { c } = this
    const { fromSeconds, untilSeconds } = this.f.timeline
    const path = new Path2D()
    let now = valueAt({ seconds, values }, fromSeconds)
    path.moveTo(LEFT, y(now))
    for (let i = 0; i < seconds.length; i++) {
      if (seconds[i] <= fromSeconds || seconds[i] >= untilSeconds) continue
      const at = this.x(seconds[i])
      path.lineTo(at, y(now))
      now = values[i]
      path.lineTo(at, y(now))
    }
    path.lineTo(this.x(untilSeconds), y(now))
    c.setLineDash(dash)
    c.lineWidth = 1.2
    c.strokeStyle = this.colour(colour)
    c.stroke(path)
    c.setLineDash([])
    if (fillTo === undefined) return
    path.lineTo(this.x(untilSeconds), fillTo)
    path.lineTo(LEFT, fillTo)
    c.globalAlpha = 0.4
    c.fillStyle = this.colour(colour)
    c.fill(path)
    c.globalAlpha = 1
  }

  /** What lies between the least and the most of each piece, filled. */
  protected band(low: ArrayLike<number>, high: ArrayLike<number>, y: Y, colour: string): void {
    const { c } = this
    const { timeline, width } = this.f
    const piece = (width - RIGHT - LEFT) / timeline.pieces
    c.globalAlpha = 0.3
    c.fillStyle = this.colour(colour)
    for (let i = 0; i < high.length; i++) if (high[i] >= low[i]) c.fillRect(LEFT + i * piece, y(high[i]), piece + 0.5, Math.max(1, y(low[i]) - y(high[i])))
    c.globalAlpha = 1
  }

  /** The difference of two runs, filled: solid where the first is lower, hatched where it is higher. One value a piece. */
  protected between(first: (piece: number) => number, second: (piece: number) => number, y: Y): void {
    const { c } = this
    const { timeline, width } = this.f
    const piece = (width - RIGHT - LEFT) / timeline.pieces
    const [low, high] = y.domain()
    const at = (value: number) => y(Math.min(high, Math.max(low, value)))
    for (let i = 0; i < timeline.pieces; i++) {
      const [a, b] = [first(i), second(i)]
      if (!(a !== b) || Number.isNaN(a) || Number.isNaN(b)) continue
      const x = LEFT + i * piece
      const top = Math.min(at(a), at(b))
      const bottom = Math.max(at(a), at(b))
      if (bottom - top < 0.5) continue
      const better = a < b
      c.globalAlpha = better ? 0.35 : 0.3
      c.fillStyle = this.colour(better ? '--moss' : '--rust')
      c.fillRect(x, top, piece + 0.5, bottom - top)
      c.globalAlpha = 1
      if (!better) for (let up = bottom; up > top; up -= 4) this.line(x, up, x + piece, up, '--rust', 1)
    }
  }
}
