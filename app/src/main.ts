import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { fetchViews, router } from './router.ts'
import './styles/base.css'

createApp(App).use(createPinia()).use(router).mount('#app')
void fetchViews()
