import { computed, inject, onUnmounted, type ComputedRef, type InjectionKey, type Ref } from 'vue'

interface Touched {
  /** what the figure is, that the last change of the plan was made with; empty if it was made otherwise */
  label: Ref<string>
  /** which of the figures of that name it was; null once that is no more, so that the next one of the name stands for it */
  owner: Ref<symbol | null>
  /** what that change did to the verdict; empty until it is known */
  words: Ref<string>
  touch: (label: string, by: symbol) => void
}

export const TOUCHED: InjectionKey<Touched> = Symbol('the figure that was changed last')

/**
 * For a figure: to say that it is about to change the plan, and what its last change did.
 *
 * @param label what the figure is
 */
export function useTouched(label: () => string): { touch: () => void; effect: ComputedRef<string> } {
  const touched = inject(TOUCHED, undefined)
  const me = Symbol('a figure')
  const isNamed = () => touched?.label.value === label()
  if (touched && isNamed()) touched.owner.value ??= me
  onUnmounted(() => {
    if (touched?.owner.value === me) touched.owner.value = null
  })
  return {
    touch: () => touched?.touch(label(), me),
    effect: computed(() => (touched && touched.owner.value === me && isNamed() ? touched.words.value : '')),
  }
}
