import { getCurrentInstance, inject, onBeforeUnmount, onMounted, type InjectionKey } from 'vue'

/** A figure in prose that can say where in the plan it stands: there, where the plan would be another if the figure were. */
export interface Figure {
  element: () => Element
  /** commits another value than the figure has; who listens takes it for a trial */
  change: () => void
}

export const FIGURES: InjectionKey<Set<Figure>> = Symbol('the figures of a sentence')

/** Another number than there is, within the ends where they leave one. */
export const another = (value: number, min?: number, max?: number): number =>
  [min, max].find((v) => v !== undefined && v !== value) ?? value + 1

/**
 * For what is changed in prose: makes it one of the figures of the sentence around it, if that wants to know.
 *
 * @param change commits another value than there is
 */
export function useFigure(change: () => void): void {
  const figures = inject(FIGURES, undefined)
  const component = getCurrentInstance()?.proxy
  if (!figures || !component) return
  const figure: Figure = { element: () => component.$el as Element, change }
  onMounted(() => figures.add(figure))
  onBeforeUnmount(() => figures.delete(figure))
}
