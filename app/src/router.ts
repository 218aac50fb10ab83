import { createRouter, createWebHistory } from 'vue-router'
import { fetchAhead } from './unfetched.ts'
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

const idle = () =>
  new Promise<void>((then) => (window.requestIdleCallback ? window.requestIdleCallback(() => then()) : setTimeout(then, 1000)))

/** The other views are fetched while there is nothing to do, one after the other, so that going to one does not wait for it. */
export async function fetchViews(): Promise<void> {
  await router.isReady().catch(() => undefined) // the others may come
  for (const { component } of VIEWS) {
    await idle()
    await fetchAhead(component) // going there tries anew
  }
}
