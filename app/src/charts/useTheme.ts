import { createSharedComposable, useMutationObserver } from '@vueuse/core'
import { shallowRef, type Ref } from 'vue'

/** The theme that the page wears: for what is drawn in its colours and has to be drawn anew with another one. */
export const useTheme: () => Readonly<Ref<string>> = createSharedComposable(() => {
  const worn = () => document.documentElement.dataset.theme ?? ''
  const theme = shallowRef(worn())
  useMutationObserver(document.documentElement, () => (theme.value = worn()), { attributeFilter: ['data-theme'] })
  return theme
})
