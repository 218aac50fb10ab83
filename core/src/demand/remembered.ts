import type { Requests } from './requests.ts'

const known = new WeakMap<Requests, Map<string, unknown>>()

/**
 * What is found of some requests once and asked for many times: requests never change. The key says what, with all else that it depends
 * on.
 */
export function remembered<T>(requests: Requests, key: string, find: () => T): T {
  const mine = known.get(requests) ?? new Map<string, unknown>()
  known.set(requests, mine)
  if (!mine.has(key)) mine.set(key, find())
  return mine.get(key) as T // a key is asked for with one kind of finding
}
