import type { ClassLoad } from './classLoad.ts'
import { emptyRequests, type Bytes, type Chain, type Requests } from './requests.ts'

/**
 * Merges classes by (arrival, class, place in the class), and cuts answers off at the cap of their class.
 *
 * @param caps largest answer by class, tokens; Infinity for none
 */
export function mergeLoads(loads: readonly ClassLoad[], caps: readonly number[], bytes: Bytes): Requests {
  const out = emptyRequests(loads.reduce((sum, l) => sum + l.at.length, 0), bytes)
  const cutOff = new Uint8Array(new bytes(caps.some((c) => c < Infinity) ? out.count : 0))
  const heads = loads.map(() => 0)
  for (let i = 0; i < out.count; i++) {
    const c = soonest(loads, heads)
    const h = heads[c]++
    out.at[i] = loads[c].at[h]
    out.classIndex[i] = c
    out.input[i] = loads[c].input[h]
    out.output[i] = loads[c].output[h]
    out.id[i] = loads[c].id?.[h] ?? i + 1
    if (out.output[i] > caps[c]) {
      out.output[i] = caps[c]
      cutOff[i] = 1
    }
  }
  return {
    ...out,
    ...(cutOff.length > 0 && { cutOff }),
    ...(loads.some((l) => l.next) && { chain: mergeChains(loads, out, bytes) }),
  }
}

function soonest(loads: readonly ClassLoad[], heads: readonly number[]): number {
  let c = -1
  for (let j = 0; j < loads.length; j++) {
    if (heads[j] < loads[j].at.length && (c < 0 || loads[j].at[heads[j]] < loads[c].at[heads[c]])) c = j
  }
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
