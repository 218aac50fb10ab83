import {
  checkPlan,
  needsLog,
  writePlan,
  type Answer,
  type FrontierPoint,
  type Plan,
  type RecommendProgress,
  type RequestLog,
  type SoFar,
} from '@sandclock/core'
import { proxy } from 'comlink'
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { nextTask } from '../composables/frames.ts'
import { database, keepAnswer } from '../data/database.ts'
import { isKept, knownAnswer, type HeldAnswer } from '../data/knownAnswer.ts'
import { paceOf } from '../search/pace.ts'
import { searchers } from '../search/searchers.ts'
import { isLarge, SearchRun, type SearchPlace } from '../search/searchRun.ts'
import { endSearchLead, helperCount, searchLead } from '../worker/workers.ts'
import { useThrownStore } from './thrownStore.ts'

export interface Working extends RecommendProgress {
  /** seconds left by the measured pace; null until there is one */
  leftSeconds: number | null
}

export const NOTHING_YET: SoFar = { services: [], perHour: null, leastPerHour: null, apart: false, proved: false }

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
  let hear: (progress: RecommendProgress) => void = () => undefined
  const search = new SearchRun(searchers, {
    progress: (p) => hear(p),
    threads: (n) => (threads.value = n),
    onServer: (is) => (onServer.value = is),
  })
  /** the whole answer that is kept of the open plan: to read it anew is work of many milliseconds */
  let held: HeldAnswer | undefined
  /** the answer whose neighbourhood is simulated */
  let look: Answer | undefined
  /** an answer to a plan that was not open yet */
  let offered: { text: string; answer: Answer } | undefined
  /** a plan that was opened with its answer, until its first change is made ready for */
  let unready: Plan | undefined

  function end(): void {
    search.end()
    if (look) searchers.here.giveUp()
    look = unready = undefined
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
    // Nothing of another plan is shown beside this one.
    if (planId !== answeredPlan) answer.value = before.value = null
    if (offered?.text === text) return take(planId, text, offered.answer)
    const known = await knownAnswer(
      { planId, text },
      (stored) => useThrownStore().putAside('the answer of this plan', stored, 'it is found anew'),
      held,
    )
    if (text !== wanted.value) return
    if (!known) return searchFor(planId, plan, text, log)
    if (isKept(known)) held = known
    arrive(known.answer, text, planId, known.frontiers)
    if (!needsLog(plan) && !isLarge(plan)) unready = plan
  }

  /** Someone is about to change a plan that was opened with its answer: its search is made ready meanwhile. */
  function makeReady(): void {
    if (!unready || search.isRunning || look) return
    const plan = unready
    // What checks a plan takes four times as long when it is used first: not in the task of the change.
    setTimeout(() => checkPlan(plan))
    void searchLead().remote.prepare(plan, helperCount())
    unready = undefined
  }

  async function searchFor(planId: string, plan: Plan, text: string, log: RequestLog | undefined): Promise<void> {
    const pace = paceOf(() => performance.now() / 1000)
    working.value = { settled: 0, total: 0, simulations: 0, doing: 'drawing the requests', leftSeconds: null, soFar: NOTHING_YET }
    hear = ({ answer: early, ...progress }) => {
      if (early) arrive(early, text, planId)
      working.value = { ...progress, leftSeconds: pace(progress) }
      soFar.value = progress.soFar
    }
    // The change itself was drawn in this task: what is to be searched is counted in the next.
    await nextTask()
    if (text !== wanted.value || stopped.value) return
    let found: Answer | undefined
    try {
      found = await search.find({ plan, text, log, place: place.value })
    } catch (error) {
      if (text !== wanted.value) return
      end()
      failure.value = `The search ended without an answer: ${error instanceof Error ? error.message : String(error)}`
      return
    }
    if (!found || text !== wanted.value) return
    end()
    // To read what the worker or the server sent was work enough for one task.
    await nextTask()
    if (text === wanted.value) take(planId, text, found)
  }

  function take(planId: string, text: string, found: Answer): void {
    arrive(found, text, planId)
    held = { planId, text, answer: found, frontiers: {} }
    void keep(held)
  }

  /** Kept by who found it, beside the page, which a large one would hold up; by the page where that has another by now. */
  async function keep(answered: HeldAnswer): Promise<void> {
    if (!(await searchLead().remote.keep(answered.planId, answered.text))) await keepAnswer(answered, answered.answer)
  }

  function arrive(found: Answer, text: string, planId: string, around: Record<string, FrontierPoint[]> = {}): void {
    if (answered.value !== text) before.value = planId === answeredPlan ? answer.value : null
    answeredPlan = planId
    answer.value = found
    answered.value = text
    frontiers.value = around
  }

  /** Ends what runs, and the threads with it. */
  function stop(): void {
    end()
    endSearchLead()
    stopped.value = true
  }

  /** Simulates the neighbourhood of the ranked options of a service, for its frontier; one service after the other. */
  async function drawFrontier(service: string, log: RequestLog | undefined): Promise<void> {
    const shown = answer.value
    const asked = shown?.services.find((s) => s.service === service)
    if (!shown || !asked || look || working.value || frontiers.value[service]) return
    look = shown
    const show = (p: FrontierPoint[]) => {
      if (look === shown) frontiers.value = { ...frontiers.value, [service]: p }
    }
    // Nobody waits for it: a core is left for those who look at the page.
    const points = await searchLead()
      .remote.frontier(shown.plan, log, Math.max(1, helperCount() - 1), asked, proxy(show))
      .catch(() => undefined) // given up for a search
    if (look !== shown) return
    look = undefined
    if (!points) return
    frontiers.value = { ...frontiers.value, [service]: points }
    // Where there is no room for them they are simulated anew.
    await keepFrontiers(answeredPlan, answered.value, frontiers.value).catch(() => undefined)
  }

  /** Lays points beside the answer that they belong to, if that is still the one which is kept. */
  async function keepFrontiers(planId: string, text: string, points: Record<string, FrontierPoint[]>): Promise<void> {
    if (held?.planId !== planId || held.text !== text) return
    held = { ...held, frontiers: points }
    await database.frontiers.put({ planId, planText: text, points })
  }

  return {
    answer,
    before,
    working,
    stopped,
    failure,
    frontiers,
    soFar,
    place,
    threads,
    onServer,
    answerTo,
    makeReady,
    stop,
    drawFrontier,
    /** Hands over the answer to a plan that is about to be opened. */
    offer: (text: string, found: Answer) => (offered = { text, answer: found }),
    /** the answer shown is to an older state of the plan */
    stale: computed(() => answer.value !== null && answered.value !== wanted.value),
    again: (planId: string, plan: Plan, log: RequestLog | undefined) => {
      wanted.value = ''
      return answerTo(planId, plan, log)
    },
  }
})
