import { useEventListener } from '@vueuse/core'
import { useAnswerStore } from '../stores/answerStore.ts'

const CHANGEABLE = ':is(main, aside) :is(.changeable, input, [role=slider])'

/**
 * Who has a hand on something that can be changed is about to change it: the search is made ready then, and not for those who only look.
 */
export function useReadiness(): void {
  const answers = useAnswerStore()
  useEventListener(document, ['pointerover', 'focusin'], ({ target }) => {
    if (target instanceof Element && target.closest(CHANGEABLE)) answers.makeReady()
  })
}
