import type { BadMoment, LateSums, PreventionProgress } from '@sandclock/core'
import { shallowRef, watch, type Ref } from 'vue'
import { useViewStore } from '../stores/viewStore.ts'
import type { RunName } from '../worker/heldRuns.ts'

/** Why a bad moment of a run was bad, and what would have prevented it, as far as that is known. */
export function useMoment(moment: Readonly<Ref<BadMoment | null>>, run: () => RunName | undefined) {
  const views = useViewStore()
  const late = shallowRef<LateSums | null>(null)
  const progress = shallowRef<(PreventionProgress & { done: boolean }) | null>(null)
  let asked = 0
  watch(
    [() => JSON.stringify([run(), moment.value]), () => views.generation],
    async () => {
      const mine = ++asked
      late.value = progress.value = null
      const name = run()
      if (!name || !moment.value) return
      const found = (await views.lateOf(name, moment.value)) ?? null
      if (mine !== asked) return
      late.value = found
      await views.prevent(
        name,
        moment.value,
        (p) => (progress.value = p),
        () => mine !== asked,
      )
    },
    { immediate: true },
  )
  return { late, progress }
}
