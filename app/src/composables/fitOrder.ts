import { bytes, threeDigits, type Combination, type FitRow } from '@sandclock/core'

export type Order = 'as listed' | 'price' | 'speed for the money' | 'time of a token' | 'free memory'
export const ORDERS: readonly Order[] = ['as listed', 'price', 'speed for the money', 'time of a token', 'free memory']

export const rowKey = (r: Combination) => `${r.machine} ${r.variant} ${r.devices}`
export const replicaHour = (r: FitRow) => ((r.pricePerHour ?? Infinity) * r.group.machines) / r.group.replicas
const alone = (r: FitRow) => (r.speed === null ? Infinity : r.speed.kind === 'token' ? r.speed.aloneSecondsPerToken : r.speed.aloneSeconds)
const free = (r: FitRow) => (r.reason === null ? (r.memory?.cacheBytes ?? 0) : -Infinity)

const BY: Record<Exclude<Order, 'as listed'>, (a: FitRow, b: FitRow) => number> = {
  price: (a, b) => replicaHour(a) - replicaHour(b),
  'speed for the money': (a, b) => b.forMoney - a.forMoney,
  'time of a token': (a, b) => alone(a) - alone(b),
  'free memory': (a, b) => free(b) - free(a),
}

/** Rows in an order; those that do not fit keep their place by price and name, and come last by speed. */
export function inOrder(rows: readonly FitRow[], order: Order): FitRow[] {
  return order === 'as listed' ? [...rows] : [...rows].sort(BY[order])
}

/** What may be typed to filter: every word has to stand in the row, or be what it is ("fits", "measured", "spot"). */
function wordsOf(r: FitRow): string {
  const state = [r.reason === null ? 'fits' : 'misfit', r.searched ? 'searched' : 'left-out', r.source ?? '', `${r.devices}-devices`]
  return [r.machine, r.provider, r.region, r.device, r.variant, ...state].join(' ').toLowerCase()
}

export function matching(rows: readonly FitRow[], filter: string): FitRow[] {
  const asked = filter
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '')
  return rows.filter((r) => {
    const words = wordsOf(r)
    return asked.every((w) => (w.startsWith('-') ? !words.includes(w.slice(1)) : words.includes(w)))
  })
}

/** How a replica lies on machines: "on 2", "over 2 machines". */
export function placeWords(r: FitRow): string {
  if (r.group.machines > 1) return `over ${r.group.machines} machines`
  return r.devices > 1 ? `on ${r.devices}` : ''
}

/** What can be had of an offer, in words. */
export function obtainWords(r: FitRow): string {
  const quota = r.quota !== null && r.quota <= r.stock ? ', the quota' : ''
  const had = r.availability === null ? '' : `; ${threeDigits(r.availability * 100)} of 100 attempts succeed`
  return `${r.obtainable} can be had${quota}${had}`
}

export const memoryWords = (r: FitRow) =>
  r.memory
    ? `${bytes(r.memory.cacheBytes)} for ${r.memory.bytesPerItem > 0 ? 'items' : r.memory.cacheBytesPerToken > 0 ? 'the cache' : 'all else'}, of ${bytes(r.memory.totalBytes)}`
    : 'no memory split is known'

/** @example tickWords(row) // 'Fenland twin, 8-bit, 2 devices' */
export const tickWords = ({ machine, variant, devices }: FitRow) =>
  `${machine}, ${variant}, ${devices === 1 ? '1 device' : `${devices} devices`}`
