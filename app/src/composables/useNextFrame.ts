import { onMounted, ref, type Ref } from 'vue'

/** False until the frame after the first: for parts of a page that would make its first frame too long. */
export function useNextFrame(): Readonly<Ref<boolean>> {
  const reached = ref(false)
  onMounted(() => requestAnimationFrame(() => requestAnimationFrame(() => (reached.value = true))))
  return reached
}
