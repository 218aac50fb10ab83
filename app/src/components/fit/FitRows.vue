<script setup lang="ts">
import type { FitRow, Machine, Remedy } from '@sandclock/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { inOrder, matching, ORDERS, rowKey, type Order } from '../../composables/fitOrder.ts'
import { useGradually } from '../../composables/useGradually.ts'
import { useRowsInSight } from '../../composables/useRowsInSight.ts'
import { VESSEL_KEY } from '../../composables/vesselParts.ts'
import FitRowLine from './FitRowLine.vue'

/**
 * Machines × variants × devices: how full, how fast, at what price; what does not fit says why and what would mend it.
 * One row is looked at; arrows move it, Space lets the search have it or not, P pins it for comparison.
 */
const props = defineProps<{
  rows: readonly FitRow[]
  currency: string
  chosen: string
  pinned: string
  /** nothing is searched: one of them is what is run */
  stated?: boolean
}>()
const emit = defineEmits<{
  search: [rows: readonly FitRow[], yes: boolean]
  machine: [name: string, patch: Partial<Machine>]
  remedy: [remedy: Remedy]
  pin: [row: FitRow]
}>()
const selected = defineModel<string>({ required: true })

/** Widths of the columns: memory is the picture, the rest are figures. */
const WIDTHS = [
  { of: 'machine', width: '15.5%' },
  { of: 'variant', width: '9.5%' },
  { of: 'memory', width: '' },
  { of: 'side', width: '5%' },
  { of: 'alone', width: '6.5%' },
  { of: 'full', width: '7%' },
  { of: 'money', width: '8%' },
  { of: 'hour', width: '9%' },
  { of: 'stock', width: '6%' },
  { of: 'search', width: '5%' },
] as const
const order = ref<Order>('as listed')
const filter = ref('')
const sorted = computed(() => matching(inOrder(props.rows, order.value), filter.value))
const hasTokens = computed(() => props.rows.some((r) => r.speed?.kind === 'token'))
const box = useTemplateRef<HTMLElement>('box')
const filterField = useTemplateRef<HTMLInputElement>('filterField')

/** The row that arrows start from: the one that is looked at, or the first. */
const tabStop = computed(() =>
  sorted.value.some((r) => rowKey(r) === selected.value) ? selected.value : sorted.value[0] ? rowKey(sorted.value[0]) : '',
)

const [ROW, HEAD, BOX] = [50, 26, 285]
const sight = useRowsInSight(box, {
  list: () => sorted.value,
  key: rowKey,
  tabStop: () => tabStop.value,
  rowPx: ROW,
  headPx: HEAD,
  boxPx: BOX,
})
const ROWS_A_FRAME = 3
/** Those that a key goes to later have to be there when it gives them the focus. */
const shown = useGradually(sight.rows, ROWS_A_FRAME, { anew: () => `${order.value} ${filter.value}`, once: true })

/** The row that a key went to and what had the focus then: as long as the rows still come, that row may not be among them. */
let goneTo: { key: string; from: Element | null } | undefined
function giveFocus(): void {
  const row = goneTo?.key === selected.value && box.value?.querySelector<HTMLElement>('[data-looked-at]')
  if (!goneTo || !row) return
  const { from } = goneTo
  goneTo = undefined
  // Who has gone on meanwhile is left there. What is gone leaves the focus to the page.
  if (document.activeElement !== from && document.activeElement !== document.body) return
  row.focus({ preventScroll: true })
  sight.show(Number(row.dataset.index))
}
watch(shown, giveFocus, { flush: 'post' })

async function look(index: number): Promise<void> {
  const row = sorted.value[Math.max(0, Math.min(sorted.value.length - 1, index))]
  if (!row) return
  goneTo = { key: rowKey(row), from: document.activeElement }
  selected.value = goneTo.key
  await nextTick()
  giveFocus()
}

// Always the same ones: a row is made anew only when something of it is other than before.
const lookAt = (row: FitRow) => (selected.value = rowKey(row))
const search = (row: FitRow, yes: boolean) => emit('search', [row], yes)
const machine = (name: string, patch: Partial<Machine>) => emit('machine', name, patch)
const remedy = (remedy: Remedy) => emit('remedy', remedy)

const PAGE = 8
function key(event: KeyboardEvent, row: FitRow): void {
  if (event.target !== event.currentTarget) return // a figure or button within the row
  const at = sorted.value.indexOf(row)
  const moves: Record<string, number> = {
    ArrowDown: at + 1,
    ArrowUp: at - 1,
    PageDown: at + PAGE,
    PageUp: at - PAGE,
    Home: 0,
    End: sorted.value.length - 1,
  }
  if (event.key in moves) void look(moves[event.key])
  else if (event.key === ' ') emit('search', [row], !row.searched)
  else if (event.key === 'p') emit('pin', row)
  else if (event.key === '/') filterField.value?.focus()
  else return
  event.preventDefault()
}

watch(
  () => props.rows.length,
  () => {
    if (selected.value === '' && props.chosen !== '') selected.value = props.chosen
  },
  { immediate: true },
)
</script>

<template>
  <div>
    <p class="mb-1.5 flex flex-wrap items-baseline gap-x-3 gap-y-1 text-[0.84rem]">
      <span v-for="[fill, name] in VESSEL_KEY" :key="fill" class="inline-flex items-center gap-1.5"
        ><span aria-hidden="true" class="inline-block h-3 w-5" :class="`part-${fill}`" />{{ name }}</span
      >
      <label class="ml-auto"
        >show
        <input
          ref="filterField"
          v-model="filter"
          type="search"
          class="w-32 border-b border-rule bg-transparent px-1"
          placeholder="all; fits 8-bit -cpu"
          aria-label="Show rows with these words"
          @keydown.enter.prevent="look(0)"
          @keydown.down.prevent="look(0)" />
      </label>
      <span v-if="!stated" class="whitespace-nowrap"
        >search
        <button
          type="button"
          class="word !px-0.5"
          :title="`Let the search try the ${sorted.length} rows shown`"
          @click="emit('search', sorted, true)"
          >all</button
        >
        or
        <button
          type="button"
          class="word !px-0.5"
          :title="`Leave the ${sorted.length} rows shown out of the search`"
          @click="emit('search', sorted, false)"
          >none</button
        >
        of these</span
      >
      <label
        >by
        <select v-model="order" class="changeable w-28" aria-label="In order of"
          ><option v-for="o in ORDERS" :key="o">{{ o }}</option></select
        ></label
      >
    </p>
    <div ref="box" class="max-h-[19rem] overflow-auto" tabindex="-1" role="region" aria-label="What fits where">
      <table class="exact table-fixed" :aria-rowcount="sorted.length + 1">
        <colgroup>
          <col v-for="w in WIDTHS" :key="w.of" :style="{ width: w.width }" />
        </colgroup>
        <thead class="sticky top-0 z-10 bg-paper">
          <tr aria-rowindex="1">
            <th scope="col">machine</th>
            <th scope="col">variant</th>
            <th scope="col">memory of one replica</th>
            <th scope="col" class="number" title="Requests of the plan's mean length that the cache holds">beside</th>
            <th scope="col" class="number">alone</th>
            <th scope="col" class="number">when full</th>
            <th scope="col" class="number"> {{ hasTokens ? 'tokens' : 'requests' }} / {{ currency }} </th>
            <th scope="col" class="number" title="Price of a machine">an hour</th>
            <th scope="col" class="number">stock</th>
            <th scope="col">{{ stated ? 'runs' : 'search' }}</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="{ row: r, index, before } in shown" :key="rowKey(r)">
            <tr v-if="before > 0" aria-hidden="true" :style="{ height: `${before}px` }" />
            <FitRowLine
              :ref="sight.measured"
              :row="r"
              :data-index="index"
              :aria-rowindex="index + 2"
              :currency="currency"
              :stated="stated"
              :looked-at="rowKey(r) === selected"
              :tab-stop="rowKey(r) === tabStop"
              :chosen="rowKey(r) === chosen"
              :pinned="rowKey(r) === pinned"
              @look="lookAt"
              @key="key"
              @search="search"
              @machine="machine"
              @remedy="remedy" />
          </template>
          <tr v-if="(shown.at(-1)?.below ?? 0) > 0" aria-hidden="true" :style="{ height: `${shown.at(-1)?.below}px` }" />
        </tbody>
      </table>
      <p v-if="sorted.length === 0" class="py-6 text-faded"
        >No row has all of these words. <button type="button" class="word" @click="filter = ''">show all</button>
      </p>
    </div>
  </div>
</template>
