import {
  defaultRangeExtractor,
  measureElement,
  observeElementRect,
  useVirtualizer,
  type Range,
  type VirtualizerOptions,
} from '@tanstack/vue-virtual'
import { useEventListener } from '@vueuse/core'
import { computed, shallowRef, type ComponentPublicInstance, type ComputedRef, type Ref } from 'vue'

export interface RowInSight<T> {
  row: T
  index: number
  /** height of the rows left out between this one and the one before, px */
  before: number
  /** height of the rows left out below it, if it is the last that is made, px */
  below: number
}

export interface RowsInSight<T> {
  rows: ComputedRef<RowInSight<T>[]>
  /** for each row's `ref`; it says its number in `data-index` */
  measured: (row: Element | ComponentPublicInstance | null) => void
  /** scrolls as little as it takes */
  show: (index: number) => void
}

/** Rows made above and below what is seen, so that a step of the wheel finds them there. */
const SPARE = 5

type Options = VirtualizerOptions<HTMLElement, HTMLElement>

/** What is not laid out yet is as high as it is expected to be. */
const likely = (rowPx: number, boxPx: number): Pick<Options, 'measureElement' | 'observeElementRect' | 'initialRect'> => ({
  // Asked for when a row comes, the height would lay the page out once more: it is told when it is laid out.
  measureElement: (row, entry, virtual) =>
    (entry ? measureElement(row, entry, virtual) : virtual.measurementsCache[virtual.indexFromElement(row)]?.size) || rowPx,
  observeElementRect: (virtual, seen) => observeElementRect(virtual, (rect) => seen({ ...rect, height: rect.height || boxPx })),
  initialRect: { width: 0, height: boxPx },
})

/**
 * The rows of a long table that are looked at: only these are made, since thousands cost seconds to lay out and are not seen. The row that
 * a key reaches first and the one that has the focus are always there: neither is lost, nor what is being typed, when it is scrolled away.
 *
 * @param box what scrolls, with the table in it and its head at its top
 * @param of all rows in their order, the key of each and of the one that Tab reaches; px of a row as expected, of the head and of the box
 */
export function useRowsInSight<T>(
  box: Readonly<Ref<HTMLElement | null>>,
  of: { list: () => readonly T[]; key: (row: T) => string; tabStop: () => string; rowPx: number; headPx: number; boxPx: number },
): RowsInSight<T> {
  const list = computed(of.list)
  const keys = computed(() => list.value.map(of.key))
  const focused = shallowRef('')
  useEventListener(box, 'focusin', ({ target }) => {
    const row = target instanceof Element ? target.closest<HTMLElement>('[data-index]') : null
    focused.value = row ? keys.value[Number(row.dataset.index)] : ''
  })
  const kept = computed(() => [of.tabStop(), focused.value].map((key) => keys.value.indexOf(key)).filter((index) => index >= 0))
  const keyAt = computed(() => {
    const all = keys.value
    return (index: number) => all[index]
  })
  const virtual = useVirtualizer<HTMLElement, HTMLElement>(
    computed(() => {
      const always = kept.value
      return {
        count: keys.value.length,
        getItemKey: keyAt.value,
        getScrollElement: () => box.value,
        estimateSize: () => of.rowPx,
        ...likely(of.rowPx, of.boxPx),
        scrollMargin: of.headPx,
        scrollPaddingStart: of.headPx,
        overscan: SPARE,
        rangeExtractor: (range: Range) => [...new Set([...defaultRangeExtractor(range), ...always])].sort((a, b) => a - b),
      }
    }),
  )
  const rows = computed(() => {
    // It hears a moment later that there are fewer.
    const made = virtual.value.getVirtualItems().filter(({ index }) => index < list.value.length)
    const end = of.headPx + virtual.value.getTotalSize()
    return made.map(({ index, start, end: own }, i) => ({
      row: list.value[index],
      index,
      before: start - (made[i - 1]?.end ?? of.headPx),
      below: end - own,
    }))
  })
  return {
    rows,
    measured: (row) => {
      const element: unknown = row && '$el' in row ? row.$el : row
      virtual.value.measureElement(element instanceof HTMLElement ? element : null)
    },
    show: (index) => virtual.value.scrollToIndex(index, { align: 'auto' }),
  }
}
