const DIGIT_0 = 48
const DIGIT_9 = 57

/**
 * Seconds since 1970-01-01T00:00:00Z of an ISO 8601 time such as 2027-03-01T09:00:00.25Z, 2027-03-01 09:00 or
 * 2027-03-01T11:00:00+02:00; one without a zone is taken as UTC. Digits below a millisecond are kept, since request logs
 * carry them. Read digit by digit: a log has a million of them.
 *
 * @returns NaN when it is no such time
 */
export function isoSeconds(text: string): number {
  const between = text.charCodeAt(10)
  if (text[4] !== '-' || text[7] !== '-' || text[13] !== ':' || (between !== 84 && between !== 116 && between !== 32)) return NaN
  const day = daySeconds(digits(text, 0, 4), digits(text, 5, 2), digits(text, 8, 2))
  const hour = digits(text, 11, 2)
  const minute = digits(text, 14, 2)
  let at = 16
  let second = 0
  if (text[at] === ':') {
    second = digits(text, at + 1, 2)
    at += 3
    if (text[at] === '.' || text[at] === ',') {
      const from = ++at
      while (isDigit(text.charCodeAt(at))) at++
      second += at === from ? NaN : Number(`0.${text.slice(from, at)}`)
    }
  }
  if (hour > 24 || minute > 59 || second >= 61) return NaN
  return day + hour * 3600 + minute * 60 + second - zoneSeconds(text, at)
}

const isDigit = (code: number) => code >= DIGIT_0 && code <= DIGIT_9

/** The number that so many digits make, NaN when one of them is none. */
function digits(text: string, from: number, count: number): number {
  let value = 0
  for (let i = from; i < from + count; i++) {
    const code = text.charCodeAt(i)
    if (!isDigit(code)) return NaN
    value = value * 10 + code - DIGIT_0
  }
  return value
}

/** The day that was asked for last: the rows of a log share theirs with the row before. */
const lastDay = { year: NaN, month: NaN, day: NaN, seconds: NaN }

function daySeconds(year: number, month: number, day: number): number {
  if (year !== lastDay.year || month !== lastDay.month || day !== lastDay.day)
    Object.assign(lastDay, { year, month, day, seconds: reckonDay(year, month, day) })
  return lastDay.seconds
}

function reckonDay(year: number, month: number, day: number): number {
  const ms = Date.UTC(year, month - 1, day)
  const back = new Date(ms)
  return back.getUTCMonth() === month - 1 && back.getUTCDate() === day ? ms / 1000 : NaN // 31 February is no day
}

/** Seconds that the zone at the end of a time is ahead of UTC; 0 for none or Z. */
function zoneSeconds(text: string, at: number): number {
  if (at === text.length) return 0
  if ((text[at] === 'Z' || text[at] === 'z') && at + 1 === text.length) return 0
  const sign = text[at] === '+' ? 1 : text[at] === '-' || text[at] === '−' ? -1 : NaN
  const colon = text[at + 3] === ':' ? 1 : 0
  if (at + 5 + colon !== text.length) return NaN
  return sign * (digits(text, at + 1, 2) * 3600 + digits(text, at + 3 + colon, 2) * 60)
}
