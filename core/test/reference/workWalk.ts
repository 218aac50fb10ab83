import { drawOf } from '../../src/random/mixer.ts'
import { normalQuantile } from '../../src/random/normalQuantile.ts'
import {
  aloneSeconds,
  batchSeconds,
  slowness,
  type BatchProfile,
  type DrawnSeconds,
  type SharedProfile,
  type SoldProfile,
} from '../../src/service/profile.ts'
import { TIE, type Kind, type Server, type World } from './world.ts'

/** Whole batches with a window: a batch counts items, and a request of several may be spread over batches. */
export function batchWalk(world: World, p: BatchProfile): Kind {
  const { requests } = world
  const itemsLeft = Array.from({ length: requests.count }, (_, id) => Math.max(1, requests.output[id]))
  const batches: { id: number; items: number }[][] = world.servers.map(() => [])
  const held: (number | undefined)[] = world.servers.map(() => undefined)
  const sum = (ids: readonly number[]) => ids.reduce((all, id) => all + itemsLeft[id], 0)
  const deadline = (s: Server) => Math.min(...s.bound.map((id) => world.since[id])) + p.windowSeconds

  function take(s: Server, id: number, room: number): number {
    const items = Math.min(room, itemsLeft[id])
    itemsLeft[id] -= items
    batches[s.number].push({ id, items })
    held[s.number] = itemsLeft[id] > 0 ? id : undefined
    return room - items
  }

  const kind: Kind = {
    inService: (s) => new Set([...batches[s.number].map((b) => b.id), ...(held[s.number] === undefined ? [] : [held[s.number]])]).size,
    hasRoom: (s) => batches[s.number].length === 0 && sum(s.bound) < p.maxBatch,
    begins: (s, id) => {
      if (s.stepping || sum(s.bound) >= p.maxBatch) return 0
      if (p.windowSeconds === 0) return 1
      if (sum(s.bound) + itemsLeft[id] < p.maxBatch) return 0
      const line = [...s.bound]
      world.join(line, id)
      const beginning = line.filter((_, i) => sum(line.slice(0, i)) < p.maxBatch)
      return beginning.includes(id) ? beginning.length : 0
    },
    dropAll: (s) => {
      const ids = [...new Set([...batches[s.number].map((b) => b.id), ...(held[s.number] === undefined ? [] : [held[s.number]!])])]
      for (const id of ids) itemsLeft[id] = Math.max(1, requests.output[id])
      batches[s.number] = []
      held[s.number] = undefined
      return ids
    },
    due: (s, now) => (sum(s.bound) >= p.maxBatch ? now : Math.max(now, deadline(s))),
    lineChanged: (s, now) => {
      if (!s.stepping) s.next = s.bound.length > 0 ? kind.due(s, now) : Infinity
    },
    tooLarge: () => false,
    boundary: (s, now) => {
      const done = batches[s.number].filter((b) => itemsLeft[b.id] === 0)
      batches[s.number] = []
      for (const { id } of done) {
        world.out[id].firstToken = now
        world.finish(id, now)
      }
      s.stepping = false
      s.next = Infinity
      const first = held[s.number]
      if (first === undefined) world.pull(s, kind)
      if (first === undefined && s.bound.length === 0) return
      if (first === undefined && sum(s.bound) < p.maxBatch && now < deadline(s) - TIE) {
        s.next = deadline(s)
        return
      }
      let room = p.maxBatch
      if (first !== undefined) room = take(s, first, room)
      while (room > 0 && s.bound.length > 0) {
        const id = s.bound.shift()!
        world.begin(id, now)
        room = take(s, id, room)
      }
      s.stepping = true
      s.next = now + batchSeconds(p, p.maxBatch - room, Math.max(...batches[s.number].map((b) => requests.input[b.id])))
    },
  }
  return kind
}

/** Side-by-side service: what each still needs alone is counted down at every event. */
export function sharedWalk(world: World, p: SharedProfile): Kind {
  const { requests } = world
  const active: { id: number; left: number }[][] = world.servers.map(() => [])
  const readAt = world.servers.map(() => 0)

  const kind: Kind = {
    inService: (s) => active[s.number].length,
    hasRoom: (s) => active[s.number].length + s.bound.length < p.slots,
    begins: (s) => (active[s.number].length + s.bound.length < p.slots ? 1 : 0),
    due: (_, now) => now,
    lineChanged: (s, now) => {
      if (s.bound.length > 0 && active[s.number].length < p.slots) s.next = now
    },
    tooLarge: () => false,
    dropAll: (s) => {
      const ids = active[s.number].map((q) => q.id)
      active[s.number] = []
      return ids
    },
    boundary: (s, now) => {
      const mine = active[s.number]
      const passed = (now - readAt[s.number]) / slowness(p, mine.length)
      readAt[s.number] = now
      for (const q of mine) q.left -= passed
      const done = mine.filter((q) => q.left <= TIE).sort((a, b) => a.left - b.left)
      active[s.number] = mine.filter((q) => q.left > TIE)
      for (const { id } of done) {
        world.out[id].firstToken = now
        world.finish(id, now)
      }
      world.pull(s, kind)
      while (s.bound.length > 0 && active[s.number].length < p.slots) {
        const id = s.bound.shift()!
        world.begin(id, now)
        active[s.number].push({ id, left: aloneSeconds(p, requests.input[id], Math.max(1, requests.output[id])) })
      }
      const n = active[s.number].length
      s.next = n === 0 ? Infinity : now + Math.min(...active[s.number].map((q) => q.left)) * slowness(p, n)
    },
  }
  return kind
}

/** What is sold by tokens: everybody's last token comes at a time that is known when the request begins. */
export function soldWalk(world: World, p: SoldProfile): Kind {
  const { requests, rules } = world
  const active: { id: number; ends: number }[][] = world.servers.map(() => [])
  const drawn = ({ median, p95 }: DrawnSeconds, id: number, purpose: number) =>
    median * (p95 / median) ** (normalQuantile(drawOf(rules.seed, id, purpose) + 2 ** -33) / normalQuantile(0.95))

  const kind: Kind = {
    inService: (s) => active[s.number].length,
    hasRoom: (s) => active[s.number].length + s.bound.length < p.slots,
    begins: (s) => (active[s.number].length + s.bound.length < p.slots ? 1 : 0),
    due: (_, now) => now,
    lineChanged: (s, now) => {
      if (s.bound.length > 0 && active[s.number].length < p.slots) s.next = now
    },
    tooLarge: (id) => requests.input[id] + requests.output[id] > p.requestTokens,
    dropAll: (s, now) => {
      const ids = active[s.number].splice(0).map((q) => q.id)
      for (const id of ids) if (world.out[id].firstToken > now) world.out[id].firstToken = NaN
      return ids
    },
    boundary: (s, now) => {
      const done = active[s.number].filter((q) => q.ends <= now + TIE).sort((a, b) => a.ends - b.ends)
      active[s.number] = active[s.number].filter((q) => q.ends > now + TIE)
      for (const { id } of done) world.finish(id, now)
      world.pull(s, kind)
      while (s.bound.length > 0 && active[s.number].length < p.slots) {
        const id = s.bound.shift()!
        world.begin(id, now)
        const { cachedShare } = rules.classes[requests.classIndex[id]]
        const fresh = Math.max(1, requests.input[id] - Math.floor(cachedShare * requests.input[id]))
        const first = drawn(p.firstToken, id, 600) + p.secondsPerInputToken * fresh
        const ends = now + first + Math.max(0, requests.output[id] - 1) * drawn(p.eachToken, id, 601)
        if (world.out[id].start + first <= rules.horizonSeconds) world.out[id].firstToken = world.out[id].start + first
        active[s.number].push({ id, ends })
      }
      s.next = Math.min(...active[s.number].map((q) => q.ends))
    },
  }
  return kind
}
