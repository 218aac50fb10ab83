import { createRouter, createWebHistory } from 'vue-router'
import AnswerPage from './pages/AnswerPage.vue'
import ComparePage from './pages/ComparePage.vue'
import FitPage from './pages/FitPage.vue'
import LoadPage from './pages/LoadPage.vue'
import RunPage from './pages/RunPage.vue'
import StartPage from './pages/StartPage.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/answer' },
    { path: '/load', component: LoadPage, meta: { title: 'Load' } },
    { path: '/fit/:part(machines|models)?', component: FitPage, meta: { title: 'Fit' } },
    { path: '/start', component: StartPage, meta: { title: 'Start-up' } },
    { path: '/run', component: RunPage, meta: { title: 'Run' } },
    { path: '/answer', component: AnswerPage, meta: { title: 'Answer' } },
    { path: '/compare', component: ComparePage, meta: { title: 'Compare' } },
    { path: '/:rest(.*)', redirect: '/answer' },
  ],
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title ?? 'Answer')} · Sand Clock`
})
