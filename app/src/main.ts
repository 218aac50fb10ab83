import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { fetchViews, router } from './router.ts'
import './styles/base.css'

// What the scripts set up, and the first picture of it, are two tasks: one would be twice as long.
setTimeout(() => {
  createApp(App).use(createPinia()).use(router).mount('#app')
  void fetchViews()
})
