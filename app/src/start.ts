import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { nextTask } from './composables/frames.ts'
import { fetchViews, router } from './router.ts'
import { useAnswerStore } from './stores/answerStore.ts'
import { useIntakeStore } from './stores/intakeStore.ts'
import { useLookStore } from './stores/lookStore.ts'
import { usePlanStore } from './stores/planStore.ts'
import { useRemarkStore } from './stores/remarkStore.ts'
import { useThrownStore } from './stores/thrownStore.ts'
import { useViewStore } from './stores/viewStore.ts'
import { sayUnfetched } from './unfetched.ts'

/** What is stored, and the first picture of it: a task each. */
export async function start(): Promise<void> {
  await nextTask()
  const app = createApp(App).use(createPinia()).use(router)
  for (const useStore of [usePlanStore, useAnswerStore, useViewStore, useLookStore, useIntakeStore, useThrownStore]) useStore()
  sayUnfetched(router, window, useRemarkStore())
  await nextTask()
  app.mount('#app')
  await fetchViews()
}
