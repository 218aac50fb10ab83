import type { ClassLoad } from './classLoad.ts'
import { emptyRequests, type Bytes, type Chain, type Requests } from './requests.ts'

/**
 * Merges classes by (arrival, class, place in the class), and cuts answers off at the cap of their class.
 *
 * @param caps largest answer by class, tokens; Infinity for none
 */
export function mergeLoads(loads: readonly ClassLoad[], caps: readonly number[], bytes: Bytes): Requests {
  const out = emptyRequests(
    loads.reduce((sum, l) => sum + l.at.length, 0),
    bytes,
  )
  const cutOff = new Uint8Array(new bytes(caps.some((c) => c < Infinity) ? out.count : 0))
  const heads = new Int32Array(loads.length)
  const nextAt = Float64Array.from(loads, ({ at }) => at[0] ?? Infinity)
  for (let i = 0; i < out.count; i++) {
    const c = soonest(nextAt)
    const load = loads[c]
    const h = heads[c]++
    out.at[i] = nextAt[c]
    nextAt[c] = h + 1 < load.at.length ? load.at[h + 1] : Infinity
    out.classIndex[i] = c
    out.input[i] = load.input[h]
    out.output[i] = load.output[h]
    out.id[i] = load.id ? load.id[h] : i + 1
    if (out.output[i] > caps[c]) {
      out.output[i] = caps[c]
      cutOff[i] = 1
    }
  }
  return { ...out, ...(cutOff.length > 0 && { cutOff }), ...(loads.some((l) => l.next) && { chain: mergeChains(loads, out, bytes) }) }
}

/** The class whose next request comes first, of equals the first class. */
function soonest(nextAt: Float64Array): number {
  let c = 0
  for (let j = 1; j < nextAt.length; j++) if (nextAt[j] < nextAt[c]) c = j
  return c
}

function mergeChains(loads: readonly ClassLoad[], out: Requests, bytes: Bytes): Chain {
  const next = new Int32Array(new bytes(4 * out.count)).fill(-1)
  const pause = new Float64Array(new bytes(8 * out.count)).fill(NaN)
  const places = loads.map((l) => new Int32Array(l.at.length))
  const heads = loads.map(() => 0)
  for (let i = 0; i < out.count; i++) places[out.classIndex[i]][heads[out.classIndex[i]]++] = i
  loads.forEach((load, c) => {
    load.next?.forEach((follower, h) => {
      if (follower < 0) return
      next[places[c][h]] = places[c][follower]
      pause[places[c][follower]] = load.pause?.[follower] ?? 0
    })
  })
  return { next, pause }
}
