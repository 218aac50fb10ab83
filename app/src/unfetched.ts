import type { Router } from 'vue-router'
import { nextTask } from './composables/frames.ts'

/** Failures that are spoken of by name, or that nobody needs to hear of. */
const accounted = new WeakSet<object>()

const words = (what: string) =>
  `${what} could not be fetched: the server of this page does not answer, or has another version by now. ` +
  'Start it again and try once more, or load the page anew; the plan is kept.'

/** Fetches what nobody has asked for yet: that it does not come is of no interest until somebody does. */
export const fetchAhead = (fetch: () => Promise<unknown>): Promise<unknown> => fetch().catch((error: object) => void accounted.add(error))

/**
 * Says of a part of the page that does not come what is to be done, until a view is there: a key that asks for it would seem to do nothing.
 *
 * @param page where the bundler tells of every script that did not come
 * @param remarks what is said above the views
 */
export function sayUnfetched(router: Pick<Router, 'onError' | 'afterEach'>, page: EventTarget, remarks: { words: string }): void {
  let said = ''
  const say = (what: string) => (remarks.words = said = words(what))
  page.addEventListener('vite:preloadError', (event) => {
    const { payload } = event as Event & { payload: object }
    // Whoever asked hears of it before the next task.
    void nextTask().then(() => accounted.has(payload) || say('A part of the page'))
  })
  router.onError((error: object, to) => {
    accounted.add(error)
    say(`“${String(to.meta.title ?? 'That view')}”`)
  })
  router.afterEach((_to, _from, failure) => {
    // What else is said by now stays.
    if (!failure && remarks.words === said) remarks.words = ''
  })
}
