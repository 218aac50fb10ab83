import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { nextTask } from './composables/frames.ts'
import { fetchViews, router } from './router.ts'
import { useAnswerStore } from './stores/answerStore.ts'
import { useLookStore } from './stores/lookStore.ts'
import { usePlanStore } from './stores/planStore.ts'
import { useViewStore } from './stores/viewStore.ts'
import './styles/base.css'

/** What the scripts set up, what is stored, and the first picture of it are three tasks: one would hold up the page for all of them. */
async function start(): Promise<void> {
  await nextTask()
  const app = createApp(App).use(createPinia()).use(router)
  for (const useStore of [usePlanStore, useAnswerStore, useViewStore, useLookStore]) useStore()
  await nextTask()
  app.mount('#app')
  await fetchViews()
}

void start()
