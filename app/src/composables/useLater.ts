import { shallowRef, watch, type Ref } from 'vue'

/** A value as it was some frames ago: for parts of a page that need not change in the frame in which all the others do. */
export function useLater<T>(source: Readonly<Ref<T>>, frames: number): Readonly<Ref<T>> {
  const later = shallowRef(source.value)
  watch(source, (next) => {
    const wait = (left: number) => {
      if (left === 0) later.value = next
      else requestAnimationFrame(() => source.value === next && wait(left - 1))
    }
    wait(frames)
  })
  return later
}
