import { decodeStepSeconds, mixedStepSeconds, prefillStepSeconds, type TokenProfile } from '../../src/service/profile.ts'
import { TOKEN_TIE, type Kind, type Server, type World } from './world.ts'

interface Sequence {
  id: number
  /** tokens it began to decode with, and steps since */
  begunWith: number
  steps: number
  admitted: number
}

interface Prompt {
  id: number
  /** tokens in the cache */
  taken: number
  takes: number
  admitted: number
}

interface State {
  active: Sequence[]
  prompts: Prompt[]
}

/** Continuous batching, one step at a time. */
export function tokenWalk(world: World, p: TokenProfile): Kind {
  const { requests, rules, out } = world
  const states: State[] = world.servers.map(() => ({ active: [], prompts: [] }))
  const made = new Array<number>(requests.count).fill(0)
  let admissions = 0

  const size = (id: number) => requests.input[id] + requests.output[id]
  const tokens = (q: Sequence) => q.begunWith + q.steps * p.tokensPerStep
  const cachedOf = (st: State) => st.active.reduce((sum, q) => sum + requests.input[q.id] + tokens(q), 0)
  const promptOf = (id: number) => requests.input[id] + made[id]
  const prefixOf = (id: number) =>
    Math.min(requests.input[id] - 1, Math.floor(rules.classes[requests.classIndex[id]].cachedShare * requests.input[id]))
  const inService = (s: Server) => states[s.number].active.length + states[s.number].prompts.length
  const isDone = (q: Sequence) => tokens(q) >= requests.output[q.id] - TOKEN_TIE

  function cacheTakes(s: Server, id: number): boolean {
    const st = states[s.number]
    const all = [...st.active, ...st.prompts]
    if (p.reservation === 'whole') return all.reduce((sum, q) => sum + size(q.id), 0) + size(id) <= p.cacheTokens
    if (all.length === 0) return true
    const used = cachedOf(st) + st.prompts.reduce((sum, q) => sum + promptOf(q.id) + 1, 0)
    return used + promptOf(id) + 1 + (all.length + 1) * p.tokensPerStep <= p.cacheTokens + TOKEN_TIE
  }

  function evictForOneStep(s: Server): void {
    if (p.reservation === 'whole') return
    const st = states[s.number]
    for (;;) {
      const all = [...st.active, ...st.prompts]
      if (all.length <= 1 || st.active.length === 0) return
      const used = cachedOf(st) + st.prompts.reduce((sum, q) => sum + promptOf(q.id) + 1, 0)
      if (used + st.active.length * p.tokensPerStep <= p.cacheTokens + TOKEN_TIE) return
      const last = all.reduce((best, q) => (q.admitted > best.admitted ? q : best))
      if ('begunWith' in last) made[last.id] = Math.floor(tokens(last) + TOKEN_TIE)
      st.active = st.active.filter((q) => q !== last)
      st.prompts = st.prompts.filter((q) => q !== last)
      world.putBack(s.bound, last.id)
      world.evictions++
    }
  }

  function promptDone(st: State, { id, admitted }: Prompt, now: number): void {
    if (Number.isNaN(out[id].firstToken)) out[id].firstToken = now
    made[id]++
    const q = { id, begunWith: made[id], steps: 0, admitted }
    if (isDone(q)) world.finish(id, now)
    else st.active.push(q)
  }

  function land(st: State, now: number): void {
    const ended = st.prompts.filter((q) => q.taken + q.takes === promptOf(q.id))
    const decoded = p.prompts === 'interleaved' || st.prompts.length === 0
    if (decoded) {
      for (const q of st.active) q.steps++
      const leaving = st.active.filter(isDone)
      st.active = st.active.filter((q) => !isDone(q))
      for (const q of leaving) world.finish(q.id, now)
    }
    for (const q of st.prompts) q.taken += q.takes
    st.prompts = st.prompts.filter((q) => !ended.includes(q))
    for (const q of ended) promptDone(st, q, now)
  }

  function admit(s: Server, now: number): Prompt | undefined {
    const id = s.bound[0]
    if (id === undefined || inService(s) >= p.maxSequences || !cacheTakes(s, id)) return undefined
    s.bound.shift()
    world.begin(id, now)
    const prompt = { id, taken: prefixOf(id), takes: 0, admitted: ++admissions }
    states[s.number].prompts.push(prompt)
    return prompt
  }

  /** Seconds of the step that begins, 0 for none. */
  function wholeStep(s: Server, now: number): number {
    const st = states[s.number]
    let sum = 0
    while (s.bound.length > 0) {
      const next = promptOf(s.bound[0]) - prefixOf(s.bound[0])
      if (st.prompts.length > 0 && sum + next > p.maxPrefillTokens) break
      const prompt = admit(s, now)
      if (!prompt) break
      prompt.takes = next
      sum += next
    }
    if (st.prompts.length > 0)
      return prefillStepSeconds(
        p,
        sum,
        st.prompts.reduce((a, q) => a + promptOf(q.id) ** 2 - q.taken ** 2, 0),
      )
    evictForOneStep(s)
    return st.active.length > 0 ? decodeStepSeconds(p, st.active.length, cachedOf(st)) : 0
  }

  function mixedStep(s: Server, now: number): number {
    const st = states[s.number]
    evictForOneStep(s)
    let left = Math.max(0, p.stepTokens - st.active.length * p.scheduledPerSequence)
    const budget = left
    let squares = 0
    for (const q of st.prompts) q.takes = 0
    for (let i = 0; left > 0; i++) {
      const q = i < st.prompts.length ? st.prompts[i] : admit(s, now)
      if (!q) break
      q.takes = Math.min(left, promptOf(q.id) - q.taken)
      left -= q.takes
      squares += (q.taken + q.takes) ** 2 - q.taken ** 2
    }
    if (st.active.length === 0 && left === budget) return 0
    return mixedStepSeconds(p, st.active.length, cachedOf(st), budget - left, squares)
  }

  const kind: Kind = {
    inService,
    hasRoom: (s, id) => inService(s) + s.bound.length < p.maxSequences && cacheTakes(s, id),
    begins: (s) => (!s.stepping && s.bound.length === 0 ? 1 : 0),
    due: (_, now) => now,
    lineChanged: (s, now) => {
      if (!s.stepping) s.next = s.bound.length > 0 ? Math.min(s.next, now) : Infinity
    },
    tooLarge: (id) => size(id) > p.requestTokens,
    dropAll: (s) => {
      const st = states[s.number]
      const ids = [...st.active, ...st.prompts].map((q) => q.id)
      states[s.number] = { active: [], prompts: [] }
      for (const id of ids) made[id] = 0
      return ids
    },
    boundary: (s, now) => {
      if (s.stepping) land(states[s.number], now)
      world.pull(s, kind)
      const seconds = p.prompts === 'whole' ? wholeStep(s, now) : mixedStep(s, now)
      s.stepping = inService(s) > 0
      s.next = s.stepping ? now + seconds : Infinity
    },
  }
  return kind
}
