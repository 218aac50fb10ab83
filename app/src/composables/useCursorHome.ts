import { watch } from 'vue'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

/** The cursor starts where most arrives, and comes back into a horizon that became shorter. */
export function useCursorHome(): void {
  const [views, look, plans] = [useViewStore(), useLookStore(), usePlanStore()]
  watch(
    () => views.load,
    (classes) => {
      const { seconds } = plans.plan.horizon
      if (look.cursorSeconds <= seconds || classes.length === 0) return
      const total = Array.from(classes[0].rates, (_, i) => classes.reduce((sum, c) => sum + c.rates[i], 0))
      look.cursorSeconds = ((total.indexOf(Math.max(...total)) + 0.5) * seconds) / total.length
    },
  )
}
