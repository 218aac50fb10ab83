import { clock, duration, MEASURE_NAMES, Stage, stageAt, STAGES, threeDigits, valueAt, type Plan, type Timeline } from '@sandclock/core'
import type { FleetView, RunView } from '../../worker/viewWorker.ts'
import { BOTTOM, runPanels, type Panel, type PanelName } from './panels.ts'
import { LEFT, Pen, RIGHT } from './pen.ts'
import { Still } from './still.ts'

/** What the run picture shows. */
export interface RunFrame {
  plan: Plan
  run: RunView
  /** of the run; the picture's axis */
  timeline: Timeline
  /** what was shown before the last change, behind what is shown now */
  ghost: RunView | null
  /** another run of the same requests: its lanes below, differences filled */
  other: RunView | null
  /** rows of lanes, a few more than there were replicas where a policy may have more */
  rows: number
  /** what the policy reads, and what it aims at; null where it reads nothing */
  reads: { name: string; target: number; show: (value: number) => string } | null
  startupSeconds: number
  cursorSeconds: number
  width: number
  height: number
}

/** Which panels a picture has. */
export const kindOf = ({ other, reads }: Pick<RunFrame, 'other' | 'reads'>) => (other ? 'beside' : reads ? 'scaled' : 'alone')

/** Draws what does not depend on the cursor: load, waiting, replicas, latency and money over one another on one axis. */
export function drawStill(c: CanvasRenderingContext2D, frame: RunFrame): void {
  const still = new Still(c, frame)
  const panels = runPanels(frame.height, kindOf(frame))
  still.grid()
  if (panels.load) still.load(panels.load)
  if (panels.waiting) still.waiting(panels.waiting)
  if (panels.lanes) still.lanes(panels.lanes, frame.run, frame.rows)
  if (panels.otherLanes && frame.other) still.lanes(panels.otherLanes, frame.other, frame.other.lanes)
  if (panels.reads) still.reads(panels.reads)
  if (panels.latency) still.latency(panels.latency)
  if (panels.money) still.money(panels.money)
}

/** Draws what the cursor reads, and the cursor. */
export function drawReadings(c: CanvasRenderingContext2D, frame: RunFrame): void {
  const readings = new Readings(c, frame)
  const panels = runPanels(frame.height, kindOf(frame))
  for (const [name, panel] of Object.entries(panels)) readings.of(name as PanelName, panel) // the names of runPanels
  readings.cursor()
}

class Readings extends Pen<RunFrame> {
  of(name: PanelName, p: Panel): void {
    const { other, run } = this.f
    if (name === 'load') this.load(p)
    if (name === 'waiting') this.waiting(p)
    if (name === 'lanes') this.lanes(p, run)
    if (name === 'otherLanes' && other) this.lanes(p, other)
    if (name === 'reads') this.reads(p)
    if (name === 'latency') this.latency(p)
    if (name === 'money') this.money(p)
  }

  private title(p: Panel, name: string, reading: string, more = ''): void {
    this.text(name, 0, p.top + 11, '--faded')
    this.text(reading, 0, p.top + 27, '--ink', 600, 'left', 13)
    if (more !== '' && p.height > 34) this.text(more, 0, p.top + 43, '--faded')
  }

  private load(p: Panel): void {
    const { timeline, plan } = this.f
    const mine = timeline.arrivals.map((a, i) => ({ a, i })).filter(({ a }) => a.some((v) => v > 0))
    const now = mine.reduce((sum, { a }) => sum + a[this.piece], 0)
    this.title(p, 'arrivals', `${threeDigits(now)} /s`, mine.map(({ i }) => plan.classes[i].name).join(', '))
  }

  private waiting(p: Panel): void {
    const { timeline, other } = this.f
    const lost = timeline.lost[this.piece]
    const second = other ? `below ${threeDigits(other.timeline.waiting[this.piece])}` : ''
    this.title(p, 'waiting', `${threeDigits(timeline.waiting[this.piece])} requests`, lost > 0 ? `${threeDigits(lost)} /s lost` : second)
  }

  private lanes(p: Panel, { timeline, lanes, maxSequences, fleet }: RunView): void {
    const { cursorSeconds: at, startupSeconds } = this.f
    let busy = 0
    for (let r = 0; r < lanes; r++) busy += timeline.inService[r * timeline.pieces + this.piece]
    if (!fleet) return this.title(p, lanes === 1 ? '1 replica' : `${lanes} replicas`, `${threeDigits(busy)} in service`, at >= startupSeconds ? `of ${lanes * maxSequences}` : 'starting up')
    const missing = valueAt(fleet.unplaced, at)
    this.title(p, `${valueAt(fleet.ready, at)} of ${valueAt(fleet.wanted, at)} wanted`, `${threeDigits(busy)} in service`, missing > 0 ? `${missing} without room` : this.startingAt(fleet, lanes, at))
  }

  /** The stage of whoever starts up under the cursor. */
  private startingAt({ spans }: FleetView, lanes: number, at: number): string {
    for (let r = 0; r < lanes; r++) {
      const stage = stageAt(spans, r, at)
      if (stage > Stage.none && stage < Stage.ready) return `one starts: ${STAGES[stage]}`
    }
    return ''
  }

  private reads(p: Panel): void {
    const { reads, run } = this.f
    const high = run.reads?.high[this.piece]
    if (reads) this.title(p, 'the policy reads', high === undefined || Number.isNaN(high) ? 'nothing' : reads.show(high), reads.name)
  }

  private latency(p: Panel): void {
    const { timeline, other, plan } = this.f
    const { readings } = timeline
    this.text(other ? 'above, and below' : 'against target', 0, p.top + 11)
    readings.forEach((r, k) => {
      const late = r.values[this.piece] > r.limitSeconds
      const second = other?.timeline.readings[k]
      const words = second ? `${MEASURE_NAMES[r.measure]} ${duration(r.values[this.piece])}, ${duration(second.values[this.piece])}` : `p${r.percentile} ${MEASURE_NAMES[r.measure]} ${duration(r.values[this.piece])}`
      this.text(words, 0, p.top + 28 + k * 16, late ? '--rust' : '--ink', 600, 'left', second ? 11 : 12.5)
    })
    const below = p.top + 30 + readings.length * 16
    if (readings.length === 0) this.text('no time target', 0, p.top + 28)
    else if (below < p.top + p.height) this.text(plan.classes[readings[0].classIndex].name, 0, below)
  }

  private money(p: Panel): void {
    const { run, plan, cursorSeconds } = this.f
    const rate = valueAt(run.paid, cursorSeconds)
    this.text('money', 0, p.top + 9)
    this.text(`${rate.toFixed(2)} ${plan.currency}/h`, 0, p.top + 25, '--ink', 600, 'left', 13)
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
