import { useRafFn } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'

/**
 * A long list a few entries more every frame, so that no single frame has to make all of it.
 *
 * @param step entries that one frame adds
 * @param anew what makes it another list, such as its order, so that it begins again from the top
 */
export function useGradually<T>(
  list: Readonly<Ref<readonly T[]>>,
  step: number,
  anew: () => unknown = () => undefined,
): Readonly<Ref<readonly T[]>> {
  const count = ref(step)
  const { pause, resume } = useRafFn(() => {
    count.value += step
    if (count.value >= list.value.length) pause()
  })
  watch(list, (now, before) => {
    if (now.length > (before?.length ?? 0) || count.value < now.length) resume()
  })
  watch(
    anew,
    () => {
      count.value = step
      resume()
    },
    { flush: 'sync' },
  )
  return computed(() => list.value.slice(0, count.value))
}
