import { checkPlan, writePlan, type Answer, type Plan, type RecommendProgress, type SoFar } from '@sandclock/core'
import { useDebounceFn } from '@vueuse/core'
import { onScopeDispose, shallowRef, watch, type Ref } from 'vue'
import { paceOf } from '../search/pace.ts'
import { searchers } from '../search/searchers.ts'
import { SearchRun } from '../search/searchRun.ts'
import { NOTHING_YET, useAnswerStore, type Working } from '../stores/answerStore.ts'

/** A search begins when nobody has typed for so long. */
const PAUSE_MS = 400

/**
 * The answer to a plan that is still being written, in this browser. The search of the open plan goes first.
 *
 * @param draft as it is; undefined for none
 */
export function useDraftAnswer(draft: Readonly<Ref<Plan | undefined>>): {
  answer: Readonly<Ref<Answer | null>>
  soFar: Readonly<Ref<SoFar>>
  working: Readonly<Ref<Working | null>>
  end: () => void
} {
  const answers = useAnswerStore()
  const answer = shallowRef<Answer | null>(null)
  const soFar = shallowRef<SoFar>(NOTHING_YET)
  const working = shallowRef<Working | null>(null)
  let hear: (progress: RecommendProgress) => void = () => undefined
  const run = new SearchRun(searchers, { progress: (p) => hear(p), threads: () => undefined, onServer: () => undefined })

  function end(): void {
    run.end()
    working.value = null
  }

  const begin = useDebounceFn(async () => {
    const plan = whole(draft.value)
    if (!plan || answers.working || run.isRunning) return
    const text = writePlan(plan)
    const pace = paceOf(() => performance.now() / 1000)
    working.value = { settled: 0, total: 0, simulations: 0, doing: 'drawing the requests', leftSeconds: null, soFar: NOTHING_YET }
    hear = ({ answer: early, ...progress }) => {
      if (early) answer.value = early
      working.value = { ...progress, leftSeconds: pace(progress) }
      soFar.value = progress.soFar
    }
    const found = await run.find({ plan, text, log: undefined, place: 'here' }).catch(() => undefined) // what failed is searched for once it is begun
    if (!found) return
    end()
    answer.value = found
    answers.offer(text, found)
  }, PAUSE_MS)

  watch(
    [draft, () => answers.working === null],
    () => {
      end()
      answer.value = null
      soFar.value = NOTHING_YET
      if (draft.value) void begin()
    },
    { immediate: true },
  )
  onScopeDispose(end)
  return { answer, soFar, working, end }
}

function whole(draft: Plan | undefined): Plan | undefined {
  try {
    return draft && checkPlan(draft)
  } catch {
    return undefined // why is said when it is to be begun
  }
}
