import type { LoadTest, Pressing, TestedLoad } from '@sandclock/core'
import { useDebounceFn } from '@vueuse/core'
import { ref, shallowRef, watch } from 'vue'
import { useViewStore } from '../stores/viewStore.ts'
import type { RunName } from '../worker/heldRuns.ts'

/** Load tests on paper, of each run with each load, one after the other and each as far as it is known; null where there can be none. */
export function useLoadTests(wanted: () => readonly { key: string; run: RunName; load: TestedLoad }[], pressing: () => Pressing) {
  const views = useViewStore()
  const tests = shallowRef<Record<string, LoadTest | null>>({})
  const working = ref(false)
  let asked = 0
  const refresh = useDebounceFn(async () => {
    const mine = ++asked
    const known = tests.value
    tests.value = {}
    working.value = true
    for (const { key, run, load } of wanted()) {
      const before = known[key]
      let told: LoadTest | null = before?.steps.length === before?.of && before ? before : null
      if (!told)
        await views.loadTest(
          run,
          load,
          pressing(),
          (t) => {
            told = t
            tests.value = { ...tests.value, [key]: t }
          },
          () => mine !== asked,
        )
      if (mine !== asked) return
      tests.value = { ...tests.value, [key]: told }
    }
    working.value = false
  }, 40)
  watch(
    [() => JSON.stringify(wanted().map((w) => w.key)), () => views.generation],
    ([, generation], before) => {
      // Of another plan, or pressed otherwise, nothing is known.
      if (before?.[1] !== generation) tests.value = {}
      void refresh()
    },
    { immediate: true },
  )
  return { tests, working }
}
