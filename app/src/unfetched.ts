import type { Router } from 'vue-router'

const words = (what: string) =>
  `${what} could not be fetched: the server of this page does not answer, or has another version by now. ` +
  'Start it again and try once more, or load the page anew; the plan is kept.'

/**
 * Says of a part of the page that does not come what is to be done, until a view is there: a key that asks for it would seem to do nothing.
 *
 * @param page where the bundler tells of scripts that did not come
 * @param remarks what is said above the views
 * @param isAhead whether parts are fetched that nobody has asked for yet
 */
export function sayUnfetched(
  router: Pick<Router, 'onError' | 'afterEach'>,
  page: EventTarget,
  remarks: { words: string },
  isAhead: () => boolean,
): void {
  let said = ''
  const say = (what: string) => (remarks.words = said = words(what))
  page.addEventListener('vite:preloadError', () => {
    if (!isAhead()) say('A part of the page')
  })
  // Of a view both tell, this one last.
  router.onError((_, to) => say(`“${String(to.meta.title ?? 'That view')}”`))
  router.afterEach((_to, _from, failure) => {
    // What else is said by now stays.
    if (!failure && remarks.words === said) remarks.words = ''
  })
}
