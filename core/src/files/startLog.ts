import Papa from 'papaparse'
import { BadInput } from '../plan/problem.ts'
import { readQuantity } from '../units/quantity.ts'
import type { CellProblem } from './catalogue.ts'

/** Stages of a start-up that a log may name. */
export const LOGGED_STAGES = ['machine', 'image', 'weights', 'load', 'warm-up'] as const
export type LoggedStage = (typeof LOGGED_STAGES)[number]
/** Ends a start whose rows say when each stage began. */
const READY = 'ready'

/** One stage of one start. */
export interface LoggedStart {
  start: string
  stage: LoggedStage
  seconds: number
}
export interface StartLogReading {
  rows: LoggedStart[]
  problems: CellProblem[]
}

const TITLE = 'This is no log of start-ups.'
const headsOf = (line: string) => line.split(/[,;\t]/).map((h) => h.replaceAll('"', '').trim().toLowerCase())
const isDuration = (head: string) => /^(seconds|duration|took)/.test(head)
const isTime = (head: string) => /^(at|time|timestamp|began)$/.test(head)

/** Whether a header line is that of a log of start-ups. */
export function looksLikeStarts(header: string): boolean {
  const heads = headsOf(header)
  return heads.includes('start') && heads.includes('stage') && heads.some((h) => isDuration(h) || isTime(h))
}

/**
 * Reads a log of start-ups: a row a stage, with the start that it belongs to, and either how long it took ("seconds", or with its unit in
 * the cell) or when it began ("at": seconds, or a time such as 2027-03-01T06:00:00Z), where a row of the stage "ready" ends each start.
 *
 * @throws BadInput when there are no such columns, or no start whose stages are known
 */
export function readStartLog(text: string): StartLogReading {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' })
  const [head = [], ...cells] = data
  const heads = head.map((h) => h.trim().toLowerCase())
  const place = (is: (h: string) => boolean) => heads.findIndex(is)
  const [start, stage, took, at] = [place((h) => h === 'start'), place((h) => h === 'stage'), place(isDuration), place(isTime)]
  if (start < 0 || stage < 0 || (took < 0 && at < 0))
    throw new BadInput(TITLE, [{ path: 'header', rule: 'must name the columns "start", "stage" and "seconds" or "at"' }])
  const reader = new StartReader(heads[took < 0 ? at : took])
  cells.forEach((row, i) => reader.take(i + 2, row[start]?.trim() ?? '', row[stage] ?? '', row[took < 0 ? at : took] ?? '', took < 0))
  const rows = reader.ended()
  if (rows.length === 0)
    throw new BadInput(TITLE, [
      {
        path: 'rows',
        rule: `have no stage whose duration is known: a stage is ${LOGGED_STAGES.join(', ')}; "at" needs a last row "${READY}"`,
      },
    ])
  return { rows, problems: reader.problems }
}

/** Takes rows in their order; stages that are told by when they began end when the next of the same start begins. */
class StartReader {
  readonly problems: CellProblem[] = []
  private readonly timeHead: string
  private readonly rows: LoggedStart[] = []
  private readonly open = new Map<string, { stage: LoggedStage; seconds: number; line: number }>()

  constructor(timeHead: string) {
    this.timeHead = timeHead
  }

  take(line: number, start: string, stageText: string, timeText: string, isBegin: boolean): void {
    if (start === '') return this.complain(line, 'start', start, 'is missing: a name or a number that all stages of one start have')
    const stage = stageOf(stageText)
    if (stage === undefined || (stage === READY && !isBegin))
      return this.complain(line, 'stage', stageText, `is no stage: it must be ${LOGGED_STAGES.join(', ')}${isBegin ? ` or ${READY}` : ''}`)
    const seconds = isBegin ? timeOf(timeText) : durationOf(timeText)
    if (seconds === undefined)
      return this.complain(
        line,
        this.timeHead,
        timeText,
        isBegin ? 'must be a time or seconds' : 'must be a duration of 0 or more, such as 12.5 s',
      )
    if (!isBegin) return void (stage !== READY && this.rows.push({ start, stage, seconds }))
    this.begin(line, start, stage, seconds)
  }

  private begin(line: number, start: string, stage: LoggedStage | typeof READY, seconds: number): void {
    const before = this.open.get(start)
    if (before && seconds < before.seconds)
      return this.complain(line, this.timeHead, String(seconds), `is before the stage "${before.stage}" of the same start began`)
    if (before) this.rows.push({ start, stage: before.stage, seconds: seconds - before.seconds })
    if (stage === READY) this.open.delete(start)
    else this.open.set(start, { stage, seconds, line })
  }

  /** What is not ended is left out, and said. */
  ended(): LoggedStart[] {
    for (const [start, { stage, line }] of this.open)
      this.complain(line, 'stage', stage, `of start "${start}" has no end: a row "${READY}" must follow; it was left out`)
    this.problems.sort((a, b) => a.row - b.row)
    return this.rows
  }

  private complain(row: number, field: string, found: string, rule: string): void {
    this.problems.push({ row, field, found, rule })
  }
}

function stageOf(text: string): LoggedStage | typeof READY | undefined {
  const word = text
    .trim()
    .toLowerCase()
    .replace(/[ _]/g, '-')
    .replace(/^warmup$/, 'warm-up')
  return word === READY ? READY : LOGGED_STAGES.find((s) => s === word)
}

function durationOf(text: string): number | undefined {
  const reading = readQuantity(text.trim(), 'duration')
  return 'value' in reading && reading.value >= 0 ? reading.value : undefined
}

function timeOf(text: string): number | undefined {
  const plain = text.trim()
  if (plain === '') return undefined
  const seconds = Number(plain)
  if (Number.isFinite(seconds)) return seconds
  const milliseconds = Date.parse(plain)
  return Number.isNaN(milliseconds) ? undefined : milliseconds / 1000
}
