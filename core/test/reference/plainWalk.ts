import type { Requests } from '../../src/demand/requests.ts'
import type { ServiceRules } from '../../src/engine/rules.ts'
import { batchSeconds, decodeStepSeconds, prefillStepSeconds, type TokenProfile } from '../../src/service/profile.ts'

/** What the plain walk says of one request. */
export interface Walked {
  start: number
  firstToken: number
  end: number
  outcome: 'unfinished' | 'finished' | 'rejected' | 'abandoned'
  replica: number
}

interface Sequence {
  id: number
  made: number
}

interface Server {
  ready: boolean
  bound: number[]
  active: Sequence[]
  prefilling: number[]
  batch: number[]
  /** end of the step that runs, or the instant of a boundary that is due */
  next: number
  stepping: boolean
}

const TIE = 1e-9

/**
 * The rules of the simulation, walked through step by step with lists and scans: slow and plain, to be read beside
 * the rules and compared with the engine. One decode step is one event; nothing is skipped.
 */
export function plainWalk(requests: Requests, rules: ServiceRules): Walked[] {
  const { profile } = rules
  const out: Walked[] = Array.from({ length: requests.count }, () => ({ start: NaN, firstToken: NaN, end: NaN, outcome: 'unfinished', replica: -1 }))
  const servers: Server[] = Array.from(rules.readyAtSeconds, () => ({
    ready: false, bound: [], active: [], prefilling: [], batch: [], next: Infinity, stepping: false,
  }))
  const queue: number[] = []
  let arrived = 0
  let beginning = 0

  const size = (id: number) => requests.input[id] + requests.output[id]
  const inService = (s: Server) => s.active.length + s.prefilling.length + s.batch.length
  const load = (s: Server) => inService(s) + s.bound.length
  const reserved = (s: Server) => [...s.active.map((q) => q.id), ...s.prefilling].reduce((sum, id) => sum + size(id), 0)
  const waiting = () => queue.length + servers.reduce((sum, s) => sum + s.bound.length, 0)

  function hasRoom(s: Server, id: number): boolean {
    if (profile.kind === 'batch') return s.batch.length === 0 && s.bound.length < profile.maxBatch
    return load(s) < profile.maxSequences && reserved(s) + size(id) <= profile.cacheTokens
  }

  function leastBusy(open: Server[]): Server | undefined {
    return open.reduce<Server | undefined>((best, s) => (best === undefined || load(s) < load(best) ? s : best), undefined)
  }

  function bind(s: Server, id: number, now: number): void {
    s.bound.push(id)
    out[id].replica = servers.indexOf(s)
    if (!s.stepping) s.next = Math.min(s.next, profile.kind === 'token' ? now : due(s, now))
  }

  function due(s: Server, now: number): number {
    if (profile.kind !== 'batch') return now
    if (s.bound.length >= profile.maxBatch) return now
    return Math.max(now, requests.at[s.bound[0]] + profile.windowSeconds)
  }

  function startsAtOnce(s: Server): boolean {
    if (s.stepping) return false
    if (profile.kind === 'token') return s.bound.length === 0
    return profile.windowSeconds === 0 ? s.bound.length < profile.maxBatch : s.bound.length + 1 === profile.maxBatch
  }

  function arrive(id: number, now: number): void {
    if (profile.kind === 'token' && size(id) > profile.requestTokens) return drop(id, now, 'rejected')
    const open = servers.filter((s) => s.ready)
    const allowed = rules.routing === 'least-busy' ? open : queue.length > 0 ? [] : open.filter((s) => hasRoom(s, id))
    const chosen = leastBusy(allowed)
    const atOnce = chosen !== undefined && startsAtOnce(chosen)
    if (!atOnce && waiting() - beginning >= rules.queueLimit) return drop(id, now, 'rejected')
    if (chosen) bind(chosen, id, now)
    else queue.push(id)
    if (atOnce) beginning += profile.kind === 'batch' && profile.windowSeconds > 0 ? profile.maxBatch : 1
  }

  function drop(id: number, now: number, outcome: 'rejected' | 'abandoned'): void {
    out[id].outcome = outcome
    out[id].end = now
  }

  function finish(id: number, now: number): void {
    out[id].outcome = 'finished'
    out[id].end = now
  }

  function begin(id: number, now: number): void {
    out[id].start = Math.max(now, requests.at[id])
  }

  function pull(s: Server): void {
    if (rules.routing !== 'shared-queue') return
    while (queue.length > 0 && hasRoom(s, queue[0])) {
      const id = queue.shift()!
      s.bound.push(id)
      out[id].replica = servers.indexOf(s)
    }
  }

  function tokenBoundary(s: Server, p: TokenProfile, now: number): void {
    if (s.stepping && s.prefilling.length > 0) {
      for (const id of s.prefilling) {
        out[id].firstToken = now
        s.active.push({ id, made: 1 })
      }
      s.prefilling = []
    } else if (s.stepping) {
      for (const q of s.active) q.made++
    }
    s.active = s.active.filter((q) => {
      if (q.made < requests.output[q.id]) return true
      finish(q.id, now)
      return false
    })
    pull(s)
    let prompt = 0
    while (s.bound.length > 0) {
      const id = s.bound[0]
      if (inService(s) >= p.maxSequences || reserved(s) + size(id) > p.cacheTokens) break
      prompt += requests.input[id]
      if (s.prefilling.length > 0 && prompt > p.maxPrefillTokens) break
      s.bound.shift()
      begin(id, now)
      s.prefilling.push(id)
    }
    s.stepping = true
    if (s.prefilling.length > 0) {
      const prompts = s.prefilling.map((id) => requests.input[id])
      s.next = now + prefillStepSeconds(p, prompts.reduce((a, b) => a + b, 0), prompts.reduce((a, b) => a + b * b, 0))
    } else if (s.active.length > 0) {
      const cached = s.active.reduce((sum, q) => sum + requests.input[q.id] + q.made, 0)
      s.next = now + decodeStepSeconds(p, s.active.length, cached)
    } else {
      s.stepping = false
      s.next = Infinity
    }
  }

  function batchBoundary(s: Server, now: number): void {
    if (profile.kind !== 'batch') return
    for (const id of s.batch) {
      out[id].firstToken = now
      finish(id, now)
    }
    s.batch = []
    s.stepping = false
    s.next = Infinity
    pull(s)
    if (s.bound.length === 0) return
    const full = s.bound.length >= profile.maxBatch
    if (!full && now < requests.at[s.bound[0]] + profile.windowSeconds - TIE) {
      s.next = requests.at[s.bound[0]] + profile.windowSeconds
      return
    }
    s.batch = s.bound.splice(0, profile.maxBatch)
    for (const id of s.batch) begin(id, now)
    s.stepping = true
    s.next = now + batchSeconds(profile, s.batch.length, Math.max(...s.batch.map((id) => requests.input[id])))
  }

  function becomeReady(now: number): void {
    servers.forEach((s, r) => {
      if (rules.readyAtSeconds[r] <= now) s.ready = true
    })
    const open = servers.filter((s) => s.ready)
    while (queue.length > 0) {
      const chosen = leastBusy(rules.routing === 'shared-queue' ? open.filter((s) => hasRoom(s, queue[0])) : open)
      if (!chosen) return
      bind(chosen, queue.shift()!, now)
    }
  }

  function giveUp(id: number, now: number): void {
    drop(id, now, 'abandoned')
    const lines = [queue, ...servers.map((s) => s.bound)]
    for (const line of lines) if (line.includes(id)) line.splice(line.indexOf(id), 1)
    for (const s of servers) if (!s.stepping && profile.kind === 'batch') s.next = s.bound.length > 0 ? due(s, now) : Infinity
  }

  for (;;) {
    const ready = Math.min(...servers.map((s, r) => (s.ready ? Infinity : rules.readyAtSeconds[r])))
    const arrival = arrived < requests.count ? requests.at[arrived] : Infinity
    const stepping = servers.reduce((best, s) => (s.next < best.next ? s : best))
    const held = [...queue, ...servers.flatMap((s) => s.bound)]
    const patience = (id: number) => requests.at[id] + rules.patienceSeconds[requests.classIndex[id]]
    const leaver = held.reduce((best, id) => (best < 0 || patience(id) < patience(best) ? id : best), -1)
    const deadline = leaver < 0 ? Infinity : patience(leaver)
    const soonest = Math.min(ready, arrival, stepping.next, deadline)
    if (soonest > rules.horizonSeconds || soonest === Infinity) return out
    if (ready <= soonest) becomeReady(ready)
    else if (arrival <= stepping.next + TIE && arrival <= deadline) arrive(arrived++, arrival)
    else if (stepping.next <= deadline) {
      beginning = 0
      if (profile.kind === 'token') tokenBoundary(stepping, profile, stepping.next)
      else batchBoundary(stepping, stepping.next)
    } else giveUp(leaver, deadline)
  }
}
