import { CORE_VERSION, countCandidates, needsLog, writePlan, type Answer, type FrontierPoint, type Plan, type RecommendProgress, type RequestLog, type SoFar } from '@sandclock/core'
import { proxy } from 'comlink'
import { useLocalStorage, useTimeoutFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { database } from '../data/database.ts'
import { demoAnswer, demoPlan } from '../data/demo.ts'
import { readKeptAnswer } from '../data/kept.ts'
import { searchOnServer, serverThreads } from '../data/serverSearch.ts'
import { endSearchLead, helperCount, searchLead } from '../worker/workers.ts'
import { usePlanStore } from './planStore.ts'

export interface Working extends RecommendProgress {
  /** seconds left by the measured pace; null until there is one */
  leftSeconds: number | null
}

/** Where searches run: large ones on the server, where there is one, unless the person says otherwise. */
export type SearchPlace = 'by size' | 'here' | 'server'
/** From so many options on a search is large. */
const LARGE = 5000

/** The page has so long to come to rest before its search is made ready. */
const PREPARED_AFTER_MS = 2500

const NOTHING_YET: SoFar = { services: [], perHour: null, leastPerHour: null, apart: false, proved: false }

/** The answer to the open plan, or the last one while the next is searched. */
export const useAnswerStore = defineStore('answer', () => {
  const answer = shallowRef<Answer | null>(null)
  /** the text of the plan that `answer` answers */
  const answered = shallowRef('')
  const wanted = shallowRef('')
  /** the answer before the last change of the same plan */
  const before = shallowRef<Answer | null>(null)
  let answeredPlan = ''
  const working = shallowRef<Working | null>(null)
  const stopped = shallowRef(false)
  const failure = shallowRef('')
  /** the best that the search had when it was last heard of */
  const soFar = shallowRef<SoFar>(NOTHING_YET)
  const frontiers = shallowRef<Record<string, FrontierPoint[]>>({})
  const place = useLocalStorage<SearchPlace>('sand-clock-search-place', 'by size')
  /** threads of the server, 0 without one; and whether the search that runs is there */
  const threads = shallowRef(0)
  const onServer = shallowRef(false)
  let search: { end: () => void } | undefined
  /** the answer whose neighbourhood is simulated */
  let look: Answer | undefined

  let opened: Plan | undefined
  /** The first change of a plan that was opened with its answer finds its search ready. */
  const { start: prepareLater, stop: prepareNoMore } = useTimeoutFn(() => {
    if (opened && !search && !look) void searchLead().remote.prepare(opened, helperCount())
  }, PREPARED_AFTER_MS, { immediate: false })

  function end(): void {
    prepareNoMore()
    search?.end()
    if (look) void searchLead().remote.giveUp()
    search = look = undefined
    working.value = null
    onServer.value = false
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
    if (known) {
      arrive(known, text, planId)
      opened = plan
      if (!needsLog(plan) && countCandidates(plan) < LARGE) prepareLater()
      return
    }
    await searchFor(planId, plan, text, log)
  }

  async function knownAnswer(planId: string, text: string): Promise<Answer | undefined> {
    const stored = await database.answers.get(planId)
    // Stored by `searchFor` below; an answer of a former core may lack what is shown of it, and is searched anew.
    const kept = stored && readKeptAnswer(stored.answer)
    if (stored && !kept) {
      await database.answers.delete(planId)
      await usePlanStore().putAside('the answer of this plan', stored, 'it is found anew')
    }
    if (stored?.planText === text && kept?.coreVersion === CORE_VERSION) return kept
    if (text !== writePlan(demoPlan)) return undefined
    const demo = await demoAnswer()
    return demo && writePlan(demo.plan) === text ? demo : undefined
  }

  async function searchFor(planId: string, plan: Plan, text: string, log: RequestLog | undefined): Promise<void> {
    const pace = paceOf()
    const mine = { end: () => undefined as void }
    search = mine
    working.value = { settled: 0, total: 0, simulations: 0, doing: 'drawing the requests', leftSeconds: null, soFar: NOTHING_YET }
    const onProgress = (p: RecommendProgress) => {
      if (search !== mine) return
      const { answer: early, ...progress } = p
      if (early) arrive(early, text, planId)
      working.value = { ...progress, leftSeconds: pace(p) }
      soFar.value = progress.soFar
    }
    try {
      const found = (await foundOnServer(plan, text, mine, onProgress)) ?? (await foundHere(plan, log, mine, onProgress))
      if (search !== mine || !found) return
      end()
      arrive(found, text, planId)
      await database.answers.put({ planId, planText: text, answer: found })
    } catch (error) {
      if (search !== mine) return
      end()
      failure.value = `The search ended without an answer: ${error instanceof Error ? error.message : String(error)}`
    }
  }

  /** Searches on the server; undefined where it is to be done here. What goes wrong there is done here. */
  async function foundOnServer(plan: Plan, text: string, mine: { end: () => void }, onProgress: (p: RecommendProgress) => void): Promise<Answer | undefined> {
    const known = serverThreads().then((n) => (threads.value = n))
    if (place.value === 'here' || needsLog(plan) || (place.value === 'by size' && countCandidates(plan) < LARGE)) return undefined
    if ((await known) === 0 || search !== mine) return undefined
    const there = await searchOnServer(text, onProgress)
    if (search !== mine) there?.end()
    if (!there || search !== mine) return undefined
    mine.end = there.end
    onServer.value = true
    const found = await there.answer.catch(() => undefined)
    if (found) mine.end = () => undefined // it stays there for those who ask the same
    return found
  }

  async function foundHere(plan: Plan, log: RequestLog | undefined, mine: { end: () => void }, onProgress: (p: RecommendProgress) => void): Promise<Answer | undefined> {
    if (search !== mine) return undefined
    onServer.value = false
    mine.end = () => void searchLead().remote.giveUp()
    return searchLead().remote.recommend(plan, log, helperCount(), proxy(onProgress))
  }

  function arrive(found: Answer, text: string, planId: string): void {
    if (answered.value !== text) before.value = planId === answeredPlan ? answer.value : null
    answeredPlan = planId
    answer.value = found
    answered.value = text
    frontiers.value = {}
  }

  /** Ends what runs, and the threads with it. */
  function stop(): void {
    end()
    endSearchLead()
    stopped.value = true
  }

  /** Simulates the neighbourhood of the ranked options of every service, for the frontier. */
  async function drawFrontiers(log: RequestLog | undefined): Promise<void> {
    const shown = answer.value
    if (!shown || look || working.value || Object.keys(frontiers.value).length > 0) return
    look = shown
    for (const s of shown.services) {
      const points = await searchLead().remote.frontier(shown.plan, log, helperCount(), s, proxy((p: FrontierPoint[]) => {
        if (look === shown) frontiers.value = { ...frontiers.value, [s.service]: p }
      })).catch(() => undefined) // given up for a search
      if (look !== shown || !points) return
      frontiers.value = { ...frontiers.value, [s.service]: points }
    }
    look = undefined
  }

  return {
    answer, before, working, stopped, failure, frontiers, soFar, place, threads, onServer, answerTo, stop, drawFrontiers,
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
