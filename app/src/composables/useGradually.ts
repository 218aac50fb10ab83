import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'
import { letInSoon, neverMind } from './frames.ts'

/**
 * A long list a few entries more every frame, so that no single frame has to make all of it.
 *
 * @param step entries that one frame adds
 * @param how `first`: entries that are there at once; `anew`: what makes it another list, such as its order, so that it begins again from
 *   the top; `once`: what is added to a list that was whole is there at once
 */
export function useGradually<T>(
  list: Readonly<Ref<readonly T[]>>,
  step: number,
  { first = step, anew = () => undefined, once = false }: { first?: number; anew?: () => unknown; once?: boolean } = {},
): Readonly<Ref<readonly T[]>> {
  const count = ref(first)
  const more = () => {
    count.value += step
    goOn()
  }
  const goOn = () => {
    if (count.value < list.value.length) letInSoon(more)
    else if (once && list.value.length > 0) count.value = Infinity
  }
  watch(list, goOn, { immediate: true })
  watch(
    anew,
    () => {
      count.value = first
      goOn()
    },
    { flush: 'sync' },
  )
  onScopeDispose(() => neverMind(more))
  return computed(() => list.value.slice(0, count.value))
}
