import { decimalExponent } from '../arithmetic/sameBits.ts'
import { grouped } from './number.ts'
import { parseFigure } from './parse.ts'

/** Quantities of hardware and models, with the unit in which the core holds them: bytes, bytes/s, operations/s, money/h. */
export type QuantityKind = 'bytes' | 'byteRate' | 'operations' | 'hourly' | 'money' | 'duration' | 'percent' | 'count' | 'number' | 'big'

/** What was read, or a sentence that says what to type instead. */
export type Reading = { value: number } | { complaint: string }

const PREFIXES: Record<string, number> = {
  '': 1,
  k: 1e3,
  K: 1e3,
  M: 1e6,
  G: 1e9,
  T: 1e12,
  P: 1e15,
  Ki: 1024,
  Mi: 1024 * 1024,
  Gi: 1024 * 1024 * 1024,
  Ti: 1024 * 1024 * 1024 * 1024,
}
/** Counts in words: 14B parameters are 14 thousand million. */
const SCALES: Record<string, number> = { '': 1, k: 1e3, K: 1e3, M: 1e6, B: 1e9, G: 1e9, T: 1e12 }

const HINTS: Record<QuantityKind, string> = {
  bytes: 'bytes such as 48 GB or 48 GiB',
  byteRate: 'bytes or bits a second such as 2 TB/s or 200 Gbit/s',
  operations: 'operations a second such as 180 T/s',
  hourly: 'a price such as 1.30 /h',
  money: 'an amount such as 0.002',
  duration: 'a duration such as 90 s or 8 µs',
  percent: 'a percentage such as 70 %',
  count: 'a whole number',
  number: 'a number',
  big: 'a number such as 14e9 or 14 B',
}

const tidy = (text: string) =>
  text
    .trim()
    .replace(/[\u2009\u00a0\u202f]/g, ' ')
    .replace('−', '-')

/**
 * Reads a quantity as people type it. Bits and bytes are told apart by B and bit (or b): "25 GB/s" is 25e9, "25 Gbit/s"
 * 3.125e9; a small b after a prefix of bytes ("48 gb") is refused, since nobody can know which was meant.
 *
 * @example readQuantity('48 GiB', 'bytes') // { value: 51539607552 }
 */
export function readQuantity(text: string, kind: QuantityKind): Reading {
  const reading = readWords(tidy(text), kind)
  // 25 µs are 2.5e-5 s, not what 25 times a rounded millionth comes to.
  return 'value' in reading ? { value: Number(reading.value.toPrecision(15)) } : reading
}

function readWords(words: string, kind: QuantityKind): Reading {
  switch (kind) {
    case 'bytes':
      return sized(words, kind)
    case 'byteRate':
      return sized(words.replace(/\s*(\/\s*s(ec)?|ps|per second|a second)$/i, ''), kind)
    case 'operations':
      return scaled(words.replace(/\s*((fl)?op(s|erations)?)?(\s*\/\s*s|ps|\/s)?$/i, ''), PREFIXES, kind)
    case 'hourly':
      return scaled(words.replace(/\s*(\/\s*(h|hour|hr)|an hour|per hour)$/i, '').replace(CURRENCY, ''), {}, kind)
    case 'money':
      return scaled(words.replace(CURRENCY, ''), {}, kind)
    case 'big':
      return scaled(words, SCALES, kind)
    default: {
      const value = parseFigure(words, kind)
      return Number.isNaN(value) ? { complaint: `Type ${HINTS[kind]}.` } : { value }
    }
  }
}

/** Signs and codes of currencies around an amount; the plan's own is the only one that there is. */
const CURRENCY = /^\s*(\p{Sc}|[A-Z]{3}\b)\s*|\s*(\p{Sc}|\b[A-Z]{3})\s*$/gu

function scaled(text: string, scales: Record<string, number>, kind: QuantityKind): Reading {
  const match = /^(.*?\d[\d.,eE+-]*?|.*?)\s*([A-Za-z]*)$/.exec(text)
  const suffix = match?.[2] ?? ''
  const scale = suffix === '' ? 1 : scales[suffix]
  const value = scale === undefined ? NaN : parseFigure(match?.[1] ?? '', 'number') * scale
  return Number.isNaN(value) ? { complaint: `Type ${HINTS[kind]}.` } : { value }
}

function sized(text: string, kind: 'bytes' | 'byteRate'): Reading {
  const match = /^([\d., eE+-]*\d[.,]?)\s*([A-Za-z]*)$/.exec(text)
  const number = match ? parseFigure(match[1].trim(), 'number') : NaN
  if (Number.isNaN(number)) return { complaint: `Type ${HINTS[kind]}.` }
  const unit = match?.[2] ?? ''
  if (unit === '') return number === 0 || number >= 1e6 ? { value: number } : { complaint: `Say in which unit: ${HINTS[kind]}.` }
  const bits = /^([kKMGTP]?i?)(bits?|b)$/.exec(unit)
  if (bits && kind === 'byteRate' && PREFIXES[bits[1]] !== undefined) return { value: (number * PREFIXES[bits[1]]) / 8 }
  if (bits) return { complaint: `Write GB for bytes; "${unit}" means bits.` }
  const whole = /^([kKMGTP]?i?)(B|bytes?)$/.exec(unit)
  if (whole && PREFIXES[whole[1]] !== undefined) return { value: number * PREFIXES[whole[1]] }
  return {
    complaint: /^[kmgtp]?i?b$/i.test(unit)
      ? `Write ${unit[0].toUpperCase()}B for bytes${kind === 'byteRate' ? `, ${unit[0].toUpperCase()}bit for bits` : ''}: "${unit}" could be either.`
      : `Type ${HINTS[kind]}.`,
  }
}

const STEPS = ['', 'k', 'M', 'G', 'T', 'P']
const SIZES = [1, 1e3, 1e6, 1e9, 1e12, 1e15]

/** Decimals that a figure is written with, without a power of ten. */
function decimalsOf(value: number): number {
  const text = String(value)
  const fraction = text.includes('e-') ? value.toFixed(18).split('.')[1].replace(/0+$/, '') : (text.split('.')[1] ?? '')
  return fraction.length
}

/** As many digits as there are, up to nine: what is shown reads back as the same figure. */
function exact(value: number): string {
  const rounded = Number(value.toPrecision(9))
  return grouped(rounded, Math.min(decimalsOf(rounded), Math.max(0, 9 - decimalExponent(rounded))))
}

/**
 * All digits before the point, and up to nine decimals, thousands separated by a narrow no-break space. (A browser's own words for numbers
 * load the tables of a language first, tens of milliseconds.)
 *
 * @param value within ±1e21, ends excluded; NaN gives "NaN"
 * @example allDigits(1234567.25) // '1 234 567.25'
 */
export function allDigits(value: number): string {
  const rounded = Number(value.toFixed(9))
  return grouped(rounded, Math.min(9, decimalsOf(rounded)))
}

function prefixed(value: number, unit: string): string {
  const step = value === 0 ? 0 : Math.max(0, Math.min(STEPS.length - 1, Math.floor(decimalExponent(value) / 3)))
  return `${exact(value / SIZES[step])}\u00a0${STEPS[step]}${unit}`.trimEnd()
}

/**
 * A quantity with its normal unit, for a cell: exact to nine digits, so that it reads back as itself.
 *
 * @example showQuantity(51539607552, 'bytes') // '51.5396076 GB'
 */
export function showQuantity(value: number, kind: QuantityKind): string {
  switch (kind) {
    case 'bytes':
      return prefixed(value, 'B')
    case 'byteRate':
      return prefixed(value, 'B/s')
    case 'operations':
      return prefixed(value, '/s')
    case 'hourly':
      return `${exact(value)}\u00a0/h`
    case 'percent':
      return `${exact(value * 100)}\u00a0%`
    case 'duration':
      return seconds(value)
    case 'big':
      return value >= 1e9 ? `${exact(value / 1e9)}\u00a0B` : value >= 1e6 ? `${exact(value / 1e6)}\u00a0M` : exact(value)
    case 'money':
      return value >= 1000 ? allDigits(value) : exact(value)
    default:
      return exact(value)
  }
}

function seconds(value: number): string {
  if (value === 0 || value >= 1) return `${exact(value)}\u00a0s`
  return value >= 1e-3 ? `${exact(value * 1e3)}\u00a0ms` : `${exact(value * 1e6)}\u00a0µs`
}
