import { onScopeDispose, shallowRef, watch, type Ref } from 'vue'
import { letInSoon, neverMind } from './frames.ts'

/**
 * A value as it was a little ago, undefined until then: for parts of a page that need not come, or change, in the frame in which all
 * the others do. What is replaced meanwhile is skipped.
 */
export function useLater<T>(source: Readonly<Ref<T>>): Readonly<Ref<T | undefined>> {
  const later = shallowRef<T>()
  const follow = () => void (later.value = source.value)
  watch(source, () => letInSoon(follow), { immediate: true })
  onScopeDispose(() => neverMind(follow))
  return later
}
