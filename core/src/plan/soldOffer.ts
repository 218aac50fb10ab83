import type { Machine } from './machineSchema.ts'
import { MOST_REPLICAS } from './primitives.ts'
import type { Sold } from './soldSchema.ts'

/** Something sold by tokens as an offer among others: one replica, of which nothing is rented. */
export function offerOf(sold: Sold): Machine {
  const { name, provider, region, zone, trust, oneKey } = sold
  return {
    name,
    provider,
    region,
    ...(zone !== undefined && { zone }),
    ...(trust !== undefined && { trust }),
    device: 'service',
    devices: 1,
    memoryBytesPerDevice: Number.MAX_SAFE_INTEGER,
    bandwidthBytesPerSecond: 1,
    arithmeticPerSecond: {},
    stock: MOST_REPLICAS,
    ...(oneKey && { ceilings: { oneModel: true } }),
    sold,
  }
}
