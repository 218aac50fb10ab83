import { effectWords } from '@sandclock/core'
import { nextTick, provide, ref, shallowRef, watch } from 'vue'
import { useAnswerStore } from '../stores/answerStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { TOUCHED } from './useTouched.ts'

/** Keeps beside the figure that was changed what the change did to the verdict, until the next change. */
export function provideTouched(): void {
  const [plans, answers] = [usePlanStore(), useAnswerStore()]
  const [label, words] = [ref(''), ref('')]
  const owner = shallowRef<symbol | null>(null)
  const pending = shallowRef('')
  watch(
    () => plans.plan,
    () => {
      label.value = pending.value
      words.value = ''
    },
    { flush: 'sync' },
  )
  watch(
    () => [answers.answer, answers.before, answers.stale || answers.working !== null] as const,
    ([now, before, isOpen]) => {
      words.value = label.value && now && before && !isOpen ? effectWords(before, now) : ''
    },
  )
  provide(TOUCHED, {
    label,
    owner,
    words,
    touch: (touched, by) => {
      pending.value = touched
      owner.value = by
      void nextTick(() => (pending.value = ''))
    },
  })
}
