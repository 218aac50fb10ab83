import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, watchEffect } from 'vue'

/** Theme and the one cursor that all pictures over time share. */
export const useLookStore = defineStore('look', () => {
  const chosen = useLocalStorage<'day' | 'dusk' | 'system'>('sand-clock-theme', 'system')
  const dark = usePreferredDark()
  const theme = computed(() => (chosen.value === 'system' ? (dark.value ? 'dusk' : 'day') : chosen.value))
  watchEffect(() => {
    document.documentElement.dataset.theme = theme.value
  })
  /** seconds after the start of the horizon; NaN until someone or something sets it */
  const cursorSeconds = ref(NaN)
  const serviceName = ref('')
  /** whether the plan is beside the views as text, too */
  const asText = useLocalStorage('sand-clock-as-text', false)
  return {
    asText,
    theme,
    cursorSeconds,
    serviceName,
    toggleText: () => (asText.value = !asText.value),
    toggleTheme: () => (chosen.value = theme.value === 'dusk' ? 'day' : 'dusk'),
  }
})
