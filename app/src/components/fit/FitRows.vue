<script setup lang="ts">
import { bare, duration, threeDigits, type FitRow, type Machine, type Remedy } from '@sandclock/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { inOrder, matching, memoryWords, obtainWords, ORDERS, placeWords, rowKey, type Order } from '../../composables/fitOrder.ts'
import { useGradually } from '../../composables/useGradually.ts'
import { VESSEL_KEY } from '../../composables/vesselParts.ts'
import EditableFigure from '../sentence/EditableFigure.vue'
import Vessel from './Vessel.vue'

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
const tickWords = ({ machine, variant, devices }: FitRow) => `${machine}, ${variant}, ${devices === 1 ? '1 device' : `${devices} devices`}`
const order = ref<Order>('as listed')
const filter = ref('')
const ROWS_A_FRAME = 6
const sorted = computed(() => matching(inOrder(props.rows, order.value), filter.value))
const shown = useGradually(sorted, ROWS_A_FRAME, () => `${order.value} ${filter.value}`)
const hasTokens = computed(() => props.rows.some((r) => r.speed?.kind === 'token'))
const body = useTemplateRef<HTMLElement>('body')
const filterField = useTemplateRef<HTMLInputElement>('filterField')

/** @example forMoney(1924676) // '1.92 M' */
const forMoney = (amount: number) => (amount >= 1e5 ? `${threeDigits(amount / 1e6)}\u00a0M` : threeDigits(amount))

/** The row that arrows start from: the one that is looked at, or the first. */
const tabStop = computed(() =>
  sorted.value.some((r) => rowKey(r) === selected.value) ? selected.value : sorted.value[0] ? rowKey(sorted.value[0]) : '',
)

async function look(index: number): Promise<void> {
  const row = sorted.value[Math.max(0, Math.min(sorted.value.length - 1, index))]
  if (!row) return
  selected.value = rowKey(row)
  await nextTick()
  body.value?.querySelector<HTMLElement>('[data-looked-at]')?.focus()
}

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
    <div class="max-h-[19rem] overflow-auto" tabindex="-1" role="region" aria-label="What fits where">
      <table class="exact table-fixed">
        <colgroup>
          <col v-for="w in WIDTHS" :key="w.of" :style="{ width: w.width }" />
        </colgroup>
        <thead class="sticky top-0 z-10 bg-paper">
          <tr>
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
        <tbody ref="body">
          <tr
            v-for="r in shown"
            :key="rowKey(r)"
            v-memo="[r, currency, stated, ...[selected, tabStop, chosen, pinned].map((key) => key === rowKey(r))]"
            class="fit-row"
            :class="[r.reason ? 'text-faded' : '', rowKey(r) === selected ? 'looked-at' : '']"
            :data-looked-at="rowKey(r) === selected ? '' : undefined"
            :tabindex="rowKey(r) === tabStop ? 0 : -1"
            :aria-current="rowKey(r) === selected ? 'true' : undefined"
            @click="selected = rowKey(r)"
            @keydown="key($event, r)">
            <td>
              <span class="whitespace-nowrap" :class="rowKey(r) === chosen ? 'font-semibold text-sand' : ''">{{ r.machine }}</span><span
                class="block truncate text-[0.76rem] text-faded"
                >{{ r.device }}, {{ r.region }}</span
              >
            </td>
            <td>
              {{ r.variant }}<span v-if="placeWords(r)" class="block text-[0.8rem]">{{ placeWords(r) }}</span
              ><span v-if="r.source" class="block text-[0.76rem] text-faded">{{ r.source }}</span
              ><span v-if="rowKey(r) === pinned" class="text-[0.76rem] text-water"> pinned</span>
            </td>
            <td>
              <Vessel v-if="r.memory" :row="r" />
              <template v-if="r.reason">
                <span class="text-[0.8rem] text-rust">{{ r.reason }}</span>
                <span v-if="r.remedies.length > 0" class="text-[0.8rem]"
                  >. Would fit
                  <template v-for="(m, i) in r.remedies" :key="m.words"
                    ><template v-if="i > 0">, </template
                    ><button
                      type="button"
                      class="word !px-0"
                      :title="`Change the plan so that ${r.machine} fits, and see what the answer says`"
                      @click.stop="emit('remedy', m)"
                      >{{ m.words }}</button
                    ></template
                  >
                </span>
              </template>
              <span v-else class="text-[0.78rem] text-faded"
                ><strong v-if="rowKey(r) === chosen" class="text-sand">chosen: </strong>{{ memoryWords(r) }}</span
              >
            </td>
            <template v-if="r.speed?.kind === 'token'">
              <td class="number">
                {{ r.speed.sequencesThatFit }}
              </td>
              <td class="number">
                {{ duration(r.speed.aloneSecondsPerToken) }}
              </td>
              <td class="number">
                {{ duration(r.speed.fullSecondsPerToken) }}
              </td>
              <td class="number">
                {{ forMoney(r.forMoney) }}
              </td>
            </template>
            <template v-else-if="r.speed">
              <td class="number">
                {{ r.speed.batch }}
              </td>
              <td class="number">
                {{ duration(r.speed.aloneSeconds) }}
              </td>
              <td class="number">
                {{ duration(r.speed.fullBatchSeconds) }}
              </td>
              <td class="number">
                {{ forMoney(r.forMoney) }}
              </td>
            </template>
            <template v-else><td v-for="n in 4" :key="n" class="number">–</td></template>
            <td v-if="r.pricePerHour === null" class="number">by the call</td>
            <td v-else class="number">
              <EditableFigure
                :value="r.pricePerHour"
                kind="number"
                :min="0"
                :label="`Price of ${r.machine} an hour, ${currency}`"
                @commit="(pricePerHour) => emit('machine', r.machine, { pricePerHour })" />
              {{ currency }}
            </td>
            <td class="number" :title="obtainWords(r)">
              <EditableFigure
                :value="r.stock"
                kind="count"
                :min="0"
                :label="`Stock of ${r.machine}`"
                @commit="(stock) => emit('machine', r.machine, { stock })" />
              <span v-if="r.availability !== null && r.availability < 0.8" class="block text-[0.76rem] text-rust"
                >{{ bare(threeDigits(r.availability * 100)) }} % had</span
              >
            </td>
            <td>
              <input
                :type="stated ? 'radio' : 'checkbox'"
                class="accent-(--water)"
                :checked="r.searched"
                :aria-label="`${stated ? 'Run it on' : 'Let the search use'} ${tickWords(r)}`"
                @change="emit('search', [r], ($event.target as HTMLInputElement).checked)" />
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="sorted.length === 0" class="py-6 text-faded"
        >No row has all of these words. <button type="button" class="word" @click="filter = ''">show all</button>
      </p>
    </div>
  </div>
</template>

<style scoped>
.fit-row {
  cursor: default;
}
.looked-at > td {
  background: color-mix(in srgb, var(--sand-soft) 38%, transparent);
}
</style>
