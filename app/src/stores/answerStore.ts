import { writePlan, type Answer, type FrontierPoint, type Plan, type RecommendProgress, type RequestLog, type SoFar } from '@sandclock/core'
import { proxy } from 'comlink'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { database } from '../data/database.ts'
import { demoAnswer, demoPlan } from '../data/demo.ts'
import type { SearchWorker } from '../worker/searchWorker.ts'
import { helperCount, startSearchWorker, type Held } from '../worker/workers.ts'

export interface Working extends RecommendProgress {
  /** seconds left by the measured pace; null until there is one */
  leftSeconds: number | null
}

const NOTHING_YET: SoFar = { services: [], perHour: null, leastPerHour: null, proved: false }

/** The answer to the open plan, or the last one while the next is searched. */
export const useAnswerStore = defineStore('answer', () => {
  const answer = shallowRef<Answer | null>(null)
  /** the text of the plan that `answer` answers */
  const answered = shallowRef('')
  const wanted = shallowRef('')
  const working = shallowRef<Working | null>(null)
  const stopped = shallowRef(false)
  const failure = shallowRef('')
  /** the best that the search had when it was last heard of */
  const soFar = shallowRef<SoFar>(NOTHING_YET)
  const frontiers = shallowRef<Record<string, FrontierPoint[]>>({})
  let search: Held<SearchWorker> | undefined
  let look: Held<SearchWorker> | undefined

  function end(): void {
    search?.end()
    look?.end()
    search = look = undefined
    working.value = null
  }

  /** Finds the answer to a plan: the kept one if the plan is the same, else by searching. */
  async function answerTo(planId: string, plan: Plan, log: RequestLog | undefined): Promise<void> {
    const text = writePlan(plan)
    if (text === wanted.value) return
    end()
    wanted.value = text
    stopped.value = false
    failure.value = ''
    soFar.value = NOTHING_YET
    const known = await knownAnswer(planId, text)
    if (text !== wanted.value) return
    if (known) return arrive(known, text)
    await searchFor(planId, plan, text, log)
  }

  async function knownAnswer(planId: string, text: string): Promise<Answer | undefined> {
    const stored = await database.answers.get(planId)
    if (stored?.planText === text) return stored.answer as Answer // stored by `searchFor` below
    if (text !== writePlan(demoPlan)) return undefined
    const demo = await demoAnswer()
    return demo && writePlan(demo.plan) === text ? demo : undefined
  }

  async function searchFor(planId: string, plan: Plan, text: string, log: RequestLog | undefined): Promise<void> {
    const held = startSearchWorker()
    search = held
    const pace = paceOf()
    working.value = { settled: 0, total: 0, simulations: 0, doing: 'drawing the requests', leftSeconds: null, soFar: NOTHING_YET }
    try {
      const found = await held.remote.recommend(plan, log, helperCount(), proxy((p: RecommendProgress) => {
        if (search !== held) return
        const { answer: early, ...progress } = p
        if (early) arrive(early, text)
        working.value = { ...progress, leftSeconds: pace(p) }
        soFar.value = progress.soFar
      }))
      if (search !== held) return
      end()
      arrive(found, text)
      await database.answers.put({ planId, planText: text, answer: found })
    } catch (error) {
      if (search !== held) return
      end()
      failure.value = `The search ended without an answer: ${error instanceof Error ? error.message : String(error)}`
    }
  }

  function arrive(found: Answer, text: string): void {
    answer.value = found
    answered.value = text
    frontiers.value = {}
  }

  function stop(): void {
    end()
    stopped.value = true
  }

  /** Simulates the neighbourhood of the ranked options of every service, for the frontier. */
  async function drawFrontiers(log: RequestLog | undefined): Promise<void> {
    const shown = answer.value
    if (!shown || look || working.value || Object.keys(frontiers.value).length > 0) return
    const held = startSearchWorker()
    look = held
    for (const s of shown.services) {
      const points = await held.remote.frontier(shown.plan, log, helperCount(), s, proxy((p: FrontierPoint[]) => {
        if (look === held) frontiers.value = { ...frontiers.value, [s.service]: p }
      }))
      if (look !== held) return
      frontiers.value = { ...frontiers.value, [s.service]: points }
    }
    held.end()
    look = undefined
  }

  return {
    answer, working, stopped, failure, frontiers, soFar, answerTo, stop, drawFrontiers,
    /** the answer shown is to an older state of the plan */
    stale: computed(() => answer.value !== null && answered.value !== wanted.value),
    again: (planId: string, plan: Plan, log: RequestLog | undefined) => {
      wanted.value = ''
      return answerTo(planId, plan, log)
    },
  }
})

/** Time left from the pace since the first options that needed simulation were settled. */
function paceOf(): (p: RecommendProgress) => number | null {
  let first: { settled: number; at: number } | undefined
  return ({ settled, total }) => {
    const now = performance.now()
    if (!first) first = { settled, at: now }
    const done = settled - first.settled
    return done < 3 ? null : ((now - first.at) / 1000 / done) * (total - settled)
  }
}
