import { ALL_CLASSES, MEASURES, type Distribution, type Measure, type Plan, type Stretch } from '@sandclock/core'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'
import type { RunChoice } from './useRunChoices.ts'

/** How long it took, of one class and measure that are chosen, for each of some runs of a service, in a stretch of the horizon. */
export function useTimes(runs: Ref<readonly RunChoice[]>, within: () => Stretch) {
  const plans = usePlanStore()
  const views = useViewStore()
  const measure = ref<Measure>('latency')
  const className = ref('')
  /** with the runs that they are of, which may be others than those that are wanted by now */
  const found = shallowRef<readonly { run: RunChoice; of: Distribution }[]>([])
  const classes = computed(() => {
    const own = plans.plan.classes.filter((c) => c.service === runs.value[0]?.name.service).map((c) => c.name)
    return own.length > 1 ? [...own, ALL_CLASSES] : own
  })
  let asked = 0
  const refresh = useDebounceFn(async () => {
    const mine = ++asked
    const next: { run: RunChoice; of: Distribution }[] = []
    for (const run of runs.value) {
      const of = await views.distributionOf(run.name, className.value, measure.value, within())
      if (mine !== asked) return
      if (of) next.push({ run, of })
    }
    found.value = next
  }, 40)
  watch(
    classes,
    (names) => {
      if (names.includes(className.value)) return
      className.value = names[0] ?? ''
      measure.value = promisedOf(plans.plan, className.value)
    },
    { immediate: true },
  )
  watch(
    [
      () => JSON.stringify([runs.value.map((r) => [r.key, r.name.service]), within(), className.value, measure.value]),
      () => views.generation,
    ],
    () => void refresh(),
    { immediate: true },
  )
  return { measure, className, classes, found }
}

/** The first measure that a class is promised in time; latency where it is promised none. */
function promisedOf(plan: Plan, className: string): Measure {
  const targets = plan.classes.find((c) => c.name === className)?.targets ?? []
  return MEASURES.find((m) => targets.some((t) => t.measure === m)) ?? 'latency'
}
