const ISO = /^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}/
const ZONE = /(?:[zZ]|[+-]\d{2}:?\d{2})$/

/** Whether a text looks like an ISO 8601 time with date and clock. */
export function looksIso(text: string): boolean {
  return ISO.test(text)
}

/**
 * Seconds since 1970-01-01T00:00:00Z of an ISO time; one without a zone is taken as UTC. Digits below a
 * millisecond are kept, since request logs carry them.
 *
 * @returns NaN when it is no such time
 */
export function isoSeconds(text: string): number {
  if (!ISO.test(text)) return NaN
  const fraction = /\.\d+/.exec(text)
  const whole = fraction === null ? text : text.replace(fraction[0], '')
  const iso = whole.replace(' ', 'T')
  const ms = Date.parse(ZONE.test(iso) ? iso : `${iso}Z`)
  return ms / 1000 + (fraction === null ? 0 : Number(fraction[0]))
}

/** Seconds from a plain number; NaN for an empty text or anything else. */
export function plainSeconds(text: string): number {
  return text === '' ? NaN : Number(text)
}
