import { useElementSize } from '@vueuse/core'
import { computed, type Ref } from 'vue'

/** The width of an element in CSS pixels, at least `least`; pictures are drawn to it. */
export function useWidth(element: Readonly<Ref<HTMLElement | null>>, least = 320): Readonly<Ref<number>> {
  const { width } = useElementSize(element)
  return computed(() => Math.max(least, Math.floor(width.value)))
}
