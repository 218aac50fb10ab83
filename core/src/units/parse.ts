/** Kinds of figure that a person may type, and the unit in which the core holds them. */
export type FigureKind = 'count' | 'number' | 'duration' | 'percent' | 'rate' | 'factor'

const DURATION_SECONDS: Record<string, number> = {
  µs: 1e-6,
  us: 1e-6,
  ms: 1e-3,
  s: 1,
  sec: 1,
  second: 1,
  seconds: 1,
  min: 60,
  m: 60,
  minute: 60,
  minutes: 60,
  h: 3600,
  hour: 3600,
  hours: 3600,
  d: 86_400,
  day: 86_400,
  days: 86_400,
}

/**
 * Reads a figure as people type it: "600 ms", "1.5 s", "4 h 30 min", "12 %", "1 200", "9 /s". A comma is a decimal
 * comma unless three digits follow it. Durations without a unit are seconds, percentages without one per cent.
 *
 * @returns seconds, shares (0.12 for "12 %") or plain numbers; NaN when it can not be read
 * @example parseFigure('600 ms', 'duration') // 0.6
 */
export function parseFigure(text: string, kind: FigureKind): number {
  const tidy = text
    .trim()
    .replace(/[\u2009\u00a0\u202f]/g, ' ')
    .replace('−', '-')
    .replace(/(\d) (?=\d{3}(\D|$))/g, '$1')
  if (kind === 'duration') return parseDuration(tidy)
  const bare =
    kind === 'percent'
      ? tidy.replace(/\s*%$/, '')
      : kind === 'rate'
        ? tidy.replace(/\s*(\/\s*s|a second|per second)$/, '')
        : tidy.replace(/\s*[×x]$/, '').replace(/^[×x]\s*/, '')
  const value = plainNumber(bare)
  if (kind === 'percent') return value / 100
  if (kind === 'count') return Number.isInteger(value) ? value : NaN
  return value
}

function parseDuration(text: string): number {
  const bare = plainNumber(text)
  if (!Number.isNaN(bare)) return bare
  const parts = [...text.matchAll(/([\d.,]+(?:e-?\d+)?)\s*([a-zµ]+)\s*/giy)]
  if (parts.length === 0 || parts.map((p) => p[0]).join('') !== text) return NaN
  return parts.reduce((sum, [, number, unit]) => sum + plainNumber(number) * (DURATION_SECONDS[unit.toLowerCase()] ?? NaN), 0)
}

function plainNumber(text: string): number {
  const grouped = text.replace(/,(?=\d{3}(\D|$))/g, '').replace(',', '.')
  return /^-?(\d+\.?\d*|\.\d+)(e-?\d+)?$/i.test(grouped) ? Number(grouped) : NaN
}
