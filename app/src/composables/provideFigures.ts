import type { Plan } from '@sandclock/core'
import { provide } from 'vue'
import { passageAt } from '../components/sentence/passages.ts'
import type { Edit } from '../edits/edits.ts'
import { differences, type TextPath } from '../text/path.ts'
import { FIGURES, type Figure } from './useFigure.ts'

/**
 * Finds where in the plan the figures of a sentence stand, and the figure of a place: no table says it, each is asked to change and the
 * plan that would come of it is compared with the one there is.
 *
 * @param plan the plan of the sentence
 * @param apply what is done with an edit that is meant
 */
export function provideFigures(plan: () => Plan, apply: (edit: Edit) => void) {
  const figures = new Set<Figure>()
  provide(FIGURES, figures)
  let tried: Edit[] | undefined

  function placeOf(figure: Figure): TextPath | undefined {
    tried = []
    try {
      figure.change()
      if (!tried[0]) return undefined
      const places = [...differences(plan(), tried[0](plan()))]
      // A new name is one everywhere: it stands where it is given, which the passage tells.
      const passage = figure.element().closest<HTMLElement>('[data-passage]')?.dataset.passage
      return places.find((place) => passageAt(place) === passage) ?? places[0]
    } finally {
      tried = undefined
    }
  }

  return {
    /** for every edit of the sentence */
    edit: (edit: Edit) => (tried ? void tried.push(edit) : apply(edit)),
    /** where the figure that an element is in stands in the plan; undefined where there is none */
    placeAt(element: Element): TextPath | undefined {
      for (const figure of figures) {
        const place = figure.element().contains(element) ? placeOf(figure) : undefined
        if (place) return place
      }
      return undefined
    },
    /** the figure within an element that stands where a way leads, or at the last step of it that any stands at */
    figureOf(path: TextPath, within: Element): Element | undefined {
      let best: { element: Element; steps: number } | undefined
      for (const figure of figures) {
        const element = figure.element()
        if (!within.contains(element)) continue
        const place = placeOf(figure)
        if (!place || place.length > path.length || !place.every((step, i) => step === path[i])) continue
        if (place.length > (best?.steps ?? 0)) best = { element, steps: place.length }
      }
      return best?.element
    },
  }
}
