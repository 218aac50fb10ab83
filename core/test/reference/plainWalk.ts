import { follows, type Requests } from '../../src/demand/requests.ts'
import type { ServiceRules } from '../../src/engine/rules.ts'
import type { FleetEvent } from '../../src/life/scriptedFleet.ts'
import { drawOf } from '../../src/random/mixer.ts'
import { tokenWalk } from './tokenWalk.ts'
import { batchWalk, sharedWalk, soldWalk } from './workWalk.ts'
import { TIE, World, type Kind, type Server, type Walked } from './world.ts'

export type { Walked } from './world.ts'

function kindOf(world: World): Kind {
  const { profile } = world.rules
  if (profile.kind === 'token') return tokenWalk(world, profile)
  if (profile.kind === 'sold') return soldWalk(world, profile)
  return profile.kind === 'batch' ? batchWalk(world, profile) : sharedWalk(world, profile)
}

/** What a walk says beside the requests' times. */
export interface Walk {
  requests: Walked[]
  evictions: number
  /** attempts that were turned away or given up, by cause */
  lostAttempts: Record<'tooLarge' | 'queueFull' | 'rateLimited' | 'impatient' | 'replicaLost', number>
}

/** A fleet that opens at its times and stays. */
function opening(rules: ServiceRules): FleetEvent[] {
  const at = rules.readyAtSeconds
  return Array.from(at, (seconds, replica): FleetEvent => ({ seconds, replica, what: 'open' }))
    .filter((e) => e.seconds < Infinity)
    .sort((a, b) => a.seconds - b.seconds || a.replica - b.replica)
}

/**
 * The rules of the simulation, walked through step by step with lists and scans: slow and plain, to be read beside
 * the rules and compared with the engine. One decode step is one event; nothing is skipped.
 */
export function plainWalk(requests: Requests, rules: ServiceRules, slots = rules.readyAtSeconds.length, script = opening(rules)): Walk {
  const world = new World(requests, rules, slots)
  const events = [...script]
  const { out, queue, servers } = world
  const kind = kindOf(world)
  const lostAttempts = { tooLarge: 0, queueFull: 0, rateLimited: 0, impatient: 0, replicaLost: 0 }
  /** those who are still to come: (time, request) */
  let coming = Array.from({ length: requests.count }, (_, id) => ({ time: requests.at[id], id })).filter(({ id }) => !follows(requests, id))
  const retries = new Array<number>(requests.count).fill(0)
  const buckets = new Map<string, { level: number; last: number }>()
  let beginning = 0
  let lastInTurn = -1

  const classOf = (id: number) => rules.classes[requests.classIndex[id]]
  const load = (s: Server) => kind.inService(s) + s.bound.length
  const waiting = () => queue.length + servers.reduce((sum, s) => sum + s.bound.length, 0)
  const leastBusy = (open: Server[]) =>
    open.reduce<Server | undefined>((best, s) => (best === undefined || load(s) < load(best) ? s : best), undefined)

  world.onEnd = (id, now) => {
    const next = requests.chain?.next[id] ?? -1
    if (next >= 0) coming.push({ time: now + (requests.chain?.pause[next] ?? 0), id: next })
  }

  function choose(id: number): Server | undefined {
    const open = servers.filter((s) => s.ready)
    if (rules.routing === 'shared-queue') return leastBusy(open.filter((s) => kind.hasRoom(s, id)))
    if (rules.routing === 'least-busy' || open.length < 2) {
      if (rules.routing === 'round-robin' && open.length > 0) lastInTurn = open[0].number
      return leastBusy(open)
    }
    if (rules.routing === 'round-robin') {
      const next = open.find((s) => s.number > lastInTurn) ?? open[0]
      lastInTurn = next.number
      return next
    }
    const first = Math.floor(drawOf(rules.seed, id, 2 * retries[id]) * open.length)
    const others = open.filter((_, i) => i !== first)
    const second = others[Math.floor(drawOf(rules.seed, id, 2 * retries[id] + 1) * others.length)]
    return leastBusy([open[first], second].sort((a, b) => a.number - b.number))
  }

  function bind(s: Server, id: number, now: number): void {
    world.join(s.bound, id)
    out[id].replica = s.number
    kind.lineChanged(s, now)
  }

  /** Who begins a chain sends all of it. The k-th caller has a share like k^−skew. */
  function callerOf(id: number, { count, skew = 0 }: { count: number; skew?: number | undefined }): number {
    const before = requests.chain?.next.indexOf(id) ?? -1
    if (before >= 0 && requests.classIndex[before] === requests.classIndex[id]) return callerOf(before, { count, skew })
    const weights = Array.from({ length: count }, (_, k) => Math.pow(k + 1, -skew))
    let left = drawOf(rules.seed, id, 500) * weights.reduce((a, b) => a + b, 0)
    const k = weights.findIndex((w) => (left -= w) < 0)
    return k < 0 ? count - 1 : k
  }

  function affords(id: number, now: number): boolean {
    const { rateLimit } = classOf(id)
    const [input, output] = [requests.input[id], requests.output[id]]
    const limits = [
      ...(rateLimit
        ? [{ ...rateLimit, of: `${requests.classIndex[id]} ${rateLimit.callers ? callerOf(id, rateLimit.callers) : 'all'}` }]
        : []),
      ...(rules.offerLimits ?? []).map((limit, i) => ({ ...limit, of: `offer ${i}` })),
    ]
    const asked = limits.map(({ of, unit, burst, perSecond }) => {
      const before = buckets.get(of) ?? { level: burst, last: 0 }
      const cost = { requests: 1, tokens: input + output, input, output }[unit]
      return { of, cost, level: Math.min(burst, before.level + (now - before.last) * perSecond) }
    })
    const all = asked.every(({ level, cost }) => level >= cost - TIE)
    for (const { of, level, cost } of asked) buckets.set(of, { level: all ? level - cost : level, last: now })
    return all
  }

  function turnAway(id: number, now: number, cause: keyof typeof lostAttempts): void {
    lostAttempts[cause]++
    const again = classOf(id).retries
    if (again && cause !== 'tooLarge' && retries[id] < again.most) {
      const jitter = again.jitter * (2 * drawOf(rules.seed, id, 1000 + retries[id]) - 1)
      coming.push({ time: now + again.firstPauseSeconds * again.growth ** retries[id] * (1 + jitter), id })
      retries[id]++
      out[id].replica = -1
      return
    }
    out[id].outcome = cause === 'impatient' ? 'abandoned' : cause === 'replicaLost' ? 'failed' : 'rejected'
    out[id].end = now
    world.onEnd(id, now)
  }

  function arrive(id: number, now: number): void {
    if (Number.isNaN(out[id].at)) out[id].at = now
    world.since[id] = now
    if (kind.tooLarge(id)) return turnAway(id, now, 'tooLarge')
    if (!affords(id, now)) return turnAway(id, now, 'rateLimited')
    const held = rules.routing === 'shared-queue' && queue.some((other) => world.priority(other) >= world.priority(id))
    const chosen = held ? undefined : choose(id)
    const begin = chosen ? kind.begins(chosen, id) : 0
    if (begin === 0 && waiting() - beginning >= rules.queueLimit) return turnAway(id, now, 'queueFull')
    if (chosen) bind(chosen, id, now)
    else world.join(queue, id)
    beginning += begin
  }

  /** Whatever a lost server had begins anew or has failed, lower numbers first. */
  function lose(s: Server, now: number): void {
    s.ready = false
    const ids = [...kind.dropAll(s, now), ...s.bound].sort((a, b) => a - b)
    s.bound = []
    s.stepping = false
    s.next = Infinity
    for (const id of ids) {
      turnAway(id, now, 'replicaLost')
      if (out[id].outcome !== 'unfinished') continue
      out[id].start = NaN
      out[id].firstToken = NaN
    }
  }

  function fleetChanges(now: number): void {
    while (events.length > 0 && events[0].seconds <= now) {
      const { replica, what } = events.shift()!
      if (what === 'lose') lose(servers[replica], now)
      else servers[replica].ready = what === 'open'
    }
    while (queue.length > 0) {
      const chosen = choose(queue[0])
      if (!chosen) return
      bind(chosen, queue.shift()!, now)
    }
  }

  function giveUp(id: number, now: number): void {
    const line = queue.includes(id) ? queue : servers[out[id].replica].bound
    line.splice(line.indexOf(id), 1)
    const s = line === queue ? undefined : servers[out[id].replica]
    turnAway(id, now, 'impatient')
    if (s) kind.lineChanged(s, now)
  }

  for (;;) {
    const ready = events[0]?.seconds ?? Infinity
    const comer = coming.reduce<{ time: number; id: number } | undefined>(
      (best, c) => (!best || c.time < best.time || (c.time === best.time && c.id < best.id) ? c : best),
      undefined,
    )
    const arrival = comer?.time ?? Infinity
    const stepping = servers.reduce((best, s) => (Math.round(s.next * 1e9) < Math.round(best.next * 1e9) ? s : best))
    const held = [...queue, ...servers.flatMap((s) => s.bound)].filter((id) => Number.isNaN(out[id].start))
    const patience = (id: number) => world.since[id] + classOf(id).patienceSeconds
    held.sort((a, b) => patience(a) - patience(b) || requests.classIndex[a] - requests.classIndex[b] || a - b)
    const deadline = held.length === 0 ? Infinity : patience(held[0])
    const soonest = Math.min(ready, arrival, stepping.next, deadline)
    if (soonest > rules.horizonSeconds || soonest === Infinity) return { requests: out, evictions: world.evictions, lostAttempts }
    if (ready <= soonest + TIE) fleetChanges(ready)
    else if (comer && arrival <= Math.min(stepping.next, deadline) + TIE) {
      coming = coming.filter((c) => c !== comer)
      arrive(comer.id, arrival)
    } else if (stepping.next <= deadline + TIE) {
      beginning = 0
      kind.boundary(stepping, stepping.next)
    } else giveUp(held[0], deadline)
  }
}
