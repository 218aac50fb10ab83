import { offsetSeconds } from './clockTime.ts'
import { parseFigure } from './parse.ts'

/** A stretch of the horizon, in seconds from its start. */
export interface Stretch {
  fromSeconds: number
  untilSeconds: number
}

const DAYS = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat']
const DAY = 86_400
const WEEK = 7 * DAY

/**
 * Reads a stretch as people say it: two times with "to" between them, each a weekday and time of the plan's clock ("Mon 08:00": the first
 * such time; the first one after that for its end) or a duration from the start ("1 h 30 min").
 *
 * @param startIso of the horizon
 * @returns undefined where it can not be read, or does not go forward
 */
export function parseStretch(text: string, startIso: string): Stretch | undefined {
  const ends = text.split(/\s+to\s+/)
  if (ends.length !== 2) return undefined
  const [from, until] = ends.map((end) => parseMoment(end, startIso))
  if (!from || !until) return undefined
  const fromSeconds = from.seconds
  const untilSeconds = until.seconds <= fromSeconds && until.isClock ? until.seconds + WEEK : until.seconds
  return fromSeconds >= 0 && untilSeconds > fromSeconds ? { fromSeconds, untilSeconds } : undefined
}

function parseMoment(text: string, startIso: string): { seconds: number; isClock: boolean } | undefined {
  const clock = /^([a-z]{3})[a-z]*\s+(\d{1,2}):(\d\d)$/i.exec(text.trim())
  if (!clock) {
    const seconds = parseFigure(text, 'duration')
    return seconds === seconds ? { seconds, isClock: false } : undefined
  }
  const day = DAYS.indexOf(clock[1].toLowerCase())
  const [hours, minutes] = [Number(clock[2]), Number(clock[3])]
  if (day < 0 || hours > 24 || minutes > 59) return undefined
  const start = new Date(Date.parse(startIso) + offsetSeconds(startIso) * 1000)
  const ofWeek =
    start.getTime() / 1000 - Date.UTC(start.getUTCFullYear(), start.getUTCMonth(), start.getUTCDate()) / 1000 + start.getUTCDay() * DAY
  return { seconds: (((day * DAY + hours * 3600 + minutes * 60 - ofWeek) % WEEK) + WEEK) % WEEK, isClock: true }
}
