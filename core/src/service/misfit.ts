import type { ShareInterval } from './quality.ts'

/** Why a variant can not run on a machine as asked, with the figures that decide. */
export type Misfit =
  | { kind: 'devices'; needed: number; inMachine: number }
  | { kind: 'split'; devices: number; allowed: number[] }
  | { kind: 'groups'; devices: number; inMachine: number }
  | { kind: 'no-link'; devices: number }
  /** attention does not divide evenly over so many devices */
  | { kind: 'heads'; devices: number; heads: number; which: 'query' | 'key-value' }
  /** hosts that hold whole layers hold equally many */
  | { kind: 'layers'; layers: number; hosts: number }
  | { kind: 'no-host-link'; devices: number; inMachine: number }
  | { kind: 'arithmetic'; bits: number; offered: string[] }
  | { kind: 'memory'; neededBytes: number; weightBytes: number; usableBytes: number; totalBytes: number; devicesNeeded: number }
  /** the cache holds less than one request of the longest kind that the service says it takes */
  | { kind: 'context'; contextTokens: number; cacheTokens: number; devicesNeeded: number }
  /** something sold by tokens takes shorter requests than the service says it takes */
  | { kind: 'sold-context'; contextTokens: number; takes: number }
  /** something sold by tokens is another model, or another variant of it */
  | { kind: 'sold-as'; soldAs: string; asked: string }
  | { kind: 'host-memory'; neededBytes: number; hostBytes: number }
  | { kind: 'host-cores'; needed: number; hostCores: number }
  | { kind: 'no-host' }
  | { kind: 'memory-step'; neededBytes: number; largestBytes: number }
  | { kind: 'package'; fileBytes: number; limitBytes: number }
  /** image and kept weights are larger than the disk of a machine */
  | { kind: 'disk'; imageBytes: number; weightBytes: number; diskBytes: number }
  | { kind: 'no-accelerator' }
  /** more side by side than there is room for */
  | { kind: 'sequences'; asked: number; most: number; boundBy: SlotBound }
  | { kind: 'no-profile' }
  | { kind: 'licence'; note: string | undefined }
  | { kind: 'quality'; floor: number; score: ShareInterval | undefined; samplesNeeded: number }
  /** the search may not go there */
  | { kind: 'region' | 'zone' | 'provider'; has: string; allowed: readonly string[] }
  | { kind: 'trust'; has: number; least: number }
  | { kind: 'dropped' }

/** What bounds the requests that one replica may have in service. */
export type SlotBound = 'concurrency ceiling' | 'memory' | 'cores'
