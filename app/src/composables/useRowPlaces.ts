import { useResizeObserver } from '@vueuse/core'
import { nextTick, shallowRef, watch, type Ref } from 'vue'

export interface RowPlaces {
  /** of the column in the list's own pixels */
  left: number
  width: number
  height: number
  /** the middle of each row's cell */
  middles: number[]
}

/**
 * Where the cells of a column lie in a list whose rows are as high as their words: for a chart that is drawn once over all of them.
 *
 * @param cell selects a row's cell
 */
export function useRowPlaces(list: Readonly<Ref<HTMLElement | null>>, cell: string, rows: () => unknown): Readonly<Ref<RowPlaces>> {
  const places = shallowRef<RowPlaces>({ left: 0, width: 0, height: 0, middles: [] })
  function measure(): void {
    if (!list.value) return
    const from = list.value.getBoundingClientRect()
    const cells = [...list.value.querySelectorAll(cell)].map((c) => c.getBoundingClientRect())
    places.value = {
      left: (cells[0]?.left ?? from.left) - from.left,
      width: Math.floor(cells[0]?.width ?? 0),
      height: Math.ceil(from.height),
      middles: cells.map((c) => c.top + c.height / 2 - from.top),
    }
  }
  useResizeObserver(list, measure)
  watch(rows, () => void nextTick(measure), { immediate: true })
  return places
}
