import { needsLog, type RequestLog } from '@sandclock/core'
import { useTimeoutFn } from '@vueuse/core'
import { watch } from 'vue'
import { useRoute } from 'vue-router'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

/** The search has the processors to itself for so long where only its answer is looked at. */
const DRAWN_LATER_MS = 1200
const SHOW_ANSWERS = ['/answer', '/compare']

/**
 * Keeps pictures and answer in step with the open plan: after every change the views are drawn and the answer is found.
 *
 * @returns to begin the search anew, and to move it between this browser and the server
 */
export function useSettling(): { settle: (again?: boolean) => Promise<void>; moveSearch: () => void } {
  const [plans, answers, views, logs, route] = [usePlanStore(), useAnswerStore(), useViewStore(), useLogStore(), useRoute()]
  let drawnLog: RequestLog | undefined
  const draw = () => void views.setPlan(plans.plan, drawnLog)
  const later = useTimeoutFn(draw, DRAWN_LATER_MS, { immediate: false })

  async function settle(again = false): Promise<void> {
    const log = await logs.logFor(plans.plan)
    if (needsLog(plans.plan) && !log) return
    drawnLog = log
    later.stop()
    if (answers.answer && SHOW_ANSWERS.includes(route.path)) later.start()
    else draw()
    await (again ? answers.again(plans.id, plans.plan, log) : answers.answerTo(plans.id, plans.plan, log))
  }

  // Who goes to a picture wants it now.
  watch(
    () => route.path,
    () => {
      if (!later.isPending.value) return
      later.stop()
      draw()
    },
  )
  // The plan may have been opened before the part of the page that asks for this has come.
  watch(
    [() => plans.plan, () => plans.opened],
    () => {
      if (plans.opened) void settle()
    },
    { immediate: true },
  )

  return {
    settle,
    moveSearch: () => {
      answers.place = answers.onServer ? 'here' : 'server'
      void settle(true)
    },
  }
}
