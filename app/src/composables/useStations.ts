import { computed, type ComputedRef } from 'vue'
import { useAnswerStore } from '../stores/answerStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'
import { VIEWS, type Known } from '../views.ts'

/** The way through the views, each with its key figure of the open plan. */
export function useStations(): ComputedRef<{ path: string; name: string; question: string; figure: string }[]> {
  const [plans, answers, views] = [usePlanStore(), useAnswerStore(), useViewStore()]
  // Read where it is wanted: a figure is reckoned anew when what it is made of changes, not with all others.
  const known: Known = {
    get plan() {
      return plans.plan
    },
    get answer() {
      return answers.answer
    },
    get load() {
      return views.load
    },
    get fits() {
      return views.fits
    },
  }
  const figures = VIEWS.map((view) => computed(() => view.figure(known)))
  return computed(() => VIEWS.map(({ path, name, question }, i) => ({ path, name, question, figure: figures[i].value })))
}
