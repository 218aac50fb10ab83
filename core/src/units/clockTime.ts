const DAY_SECONDS = 86_400

/** Seconds since midnight of a time of day. @example clockSeconds('07:30') // 27000 */
export function clockSeconds(text: string): number {
  const [hours, minutes] = text.split(':').map(Number)
  return hours * 3600 + minutes * 60
}

/** A time of day to the minute; whole days are taken off. @example clockText(27_000) // '07:30' */
export function clockText(seconds: number): string {
  const minutes = Math.round((((seconds % DAY_SECONDS) + DAY_SECONDS) % DAY_SECONDS) / 60) % 1440
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`
}

/** Seconds by which the clock of a date and time is ahead of UTC. */
export function offsetSeconds(time: string): number {
  const found = /([+-])(\d\d):?(\d\d)$/.exec(time)
  if (!found) return 0
  const [, sign, hours, minutes] = found
  return (sign === '-' ? -1 : 1) * (Number(hours) * 3600 + Number(minutes) * 60)
}
