import { createRouter, createWebHistory } from 'vue-router'
import { HOME, VIEWS } from './views.ts'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    ...VIEWS.map(({ path, parts = '', name, component }) => ({ path: `${path}${parts}`, component, meta: { title: name } })),
    { path: '/:rest(.*)', redirect: HOME },
  ],
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title ?? 'Answer')} · Sand Clock`
})

/** The other views are fetched once there is nothing to do, so that going to one does not wait for it. */
export async function fetchViews(): Promise<void> {
  await router.isReady()
  const whenIdle = window.requestIdleCallback ?? ((then: () => void) => setTimeout(then, 1000))
  whenIdle(() => VIEWS.forEach(({ component }) => void component()))
}
