import { useSessionStorage } from '@vueuse/core'
import { computed, type ComputedRef, type Ref } from 'vue'
import { foldAtFirst, type Fold, type Opened, type Passage } from '../components/sentence/passages.ts'

/**
 * How the passages of the sentence stand: as the view opens them, until somebody folds or opens one. That is remembered for the view and
 * the plan, for as long as the tab is there.
 *
 * @param view its path
 */
export function useFolds(
  passages: Readonly<Ref<readonly Passage[]>>,
  planId: () => string,
  view: () => string,
  opened: () => Opened,
): { foldOf: ComputedRef<(passage: Passage) => Fold>; setFold: (passage: Passage, fold: Fold) => void } {
  const chosen = useSessionStorage<Record<string, Fold>>('sand-clock-folds', {})
  const key = ({ id }: Passage) => `${planId()} ${view()} ${id}`
  return {
    foldOf: computed(() => (passage) => chosen.value[key(passage)] ?? foldAtFirst(passage, passages.value, opened())),
    setFold: (passage, fold) => (chosen.value = { ...chosen.value, [key(passage)]: fold }),
  }
}
