import { useRafFn } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'

/**
 * A long list a few entries more every frame, so that no single frame has to make all of it.
 *
 * @param step entries that one frame adds
 */
export function useGradually<T>(list: Readonly<Ref<readonly T[]>>, step: number): Readonly<Ref<readonly T[]>> {
  const count = ref(step)
  const { pause, resume } = useRafFn(() => {
    count.value += step
    if (count.value >= list.value.length) pause()
  })
  watch(list, (now, before) => {
    if (now.length > (before?.length ?? 0) || count.value < now.length) resume()
  })
  return computed(() => list.value.slice(0, count.value))
}
