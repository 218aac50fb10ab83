<script setup lang="ts">
import { bare, duration, threeDigits, type FitRow, type Machine, type Remedy } from '@sandclock/core'
import { memoryWords, obtainWords, placeWords, tickWords } from '../../composables/fitOrder.ts'
import EditableFigure from '../sentence/EditableFigure.vue'
import Vessel from './Vessel.vue'

/** One machine with one variant on so many devices: how full, how fast, at what price; or why it does not fit, and what would mend it. */
defineProps<{
  row: FitRow
  currency: string
  /** nothing is searched: one of them is what is run */
  stated?: boolean
  lookedAt: boolean
  /** the row that Tab reaches */
  tabStop: boolean
  chosen: boolean
  pinned: boolean
}>()
const emit = defineEmits<{
  look: [row: FitRow]
  key: [event: KeyboardEvent, row: FitRow]
  search: [row: FitRow, yes: boolean]
  machine: [name: string, patch: Partial<Machine>]
  remedy: [remedy: Remedy]
}>()

/** @example forMoney(1924676) // '1.92 M' */
const forMoney = (amount: number) => (amount >= 1e5 ? `${threeDigits(amount / 1e6)}\u00a0M` : threeDigits(amount))
</script>

<template>
  <tr
    class="fit-row"
    :class="[row.reason ? 'text-faded' : '', lookedAt ? 'looked-at' : '']"
    :data-looked-at="lookedAt ? '' : undefined"
    :tabindex="tabStop ? 0 : -1"
    :aria-current="lookedAt ? 'true' : undefined"
    @click="emit('look', row)"
    @keydown="emit('key', $event, row)">
    <td>
      <span class="whitespace-nowrap" :class="chosen ? 'font-semibold text-sand' : ''">{{ row.machine }}</span><span
        class="block truncate text-[0.76rem] text-faded"
        >{{ row.device }}, {{ row.region }}</span
      >
    </td>
    <td>
      {{ row.variant }}<span v-if="placeWords(row)" class="block text-[0.8rem]">{{ placeWords(row) }}</span
      ><span v-if="row.source" class="block text-[0.76rem] text-faded">{{ row.source }}</span
      ><span v-if="pinned" class="text-[0.76rem] text-water"> pinned</span>
    </td>
    <td>
      <Vessel v-if="row.memory" :row="row" />
      <template v-if="row.reason">
        <span class="text-[0.8rem] text-rust">{{ row.reason }}</span>
        <span v-if="row.remedies.length > 0" class="text-[0.8rem]"
          >. Would fit
          <template v-for="(m, i) in row.remedies" :key="m.words"
            ><template v-if="i > 0">, </template
            ><button
              type="button"
              class="word !px-0"
              :title="`Change the plan so that ${row.machine} fits, and see what the answer says`"
              @click.stop="emit('remedy', m)"
              >{{ m.words }}</button
            ></template
          >
        </span>
      </template>
      <span v-else class="text-[0.78rem] text-faded"><strong v-if="chosen" class="text-sand">chosen: </strong>{{ memoryWords(row) }}</span>
    </td>
    <template v-if="row.speed?.kind === 'token'">
      <td class="number">
        {{ row.speed.sequencesThatFit }}
      </td>
      <td class="number">
        {{ duration(row.speed.aloneSecondsPerToken) }}
      </td>
      <td class="number">
        {{ duration(row.speed.fullSecondsPerToken) }}
      </td>
      <td class="number">
        {{ forMoney(row.forMoney) }}
      </td>
    </template>
    <template v-else-if="row.speed">
      <td class="number">
        {{ row.speed.batch }}
      </td>
      <td class="number">
        {{ duration(row.speed.aloneSeconds) }}
      </td>
      <td class="number">
        {{ duration(row.speed.fullBatchSeconds) }}
      </td>
      <td class="number">
        {{ forMoney(row.forMoney) }}
      </td>
    </template>
    <template v-else><td v-for="n in 4" :key="n" class="number">–</td></template>
    <td v-if="row.pricePerHour === null" class="number">by the call</td>
    <td v-else class="number">
      <EditableFigure
        :value="row.pricePerHour"
        kind="number"
        :min="0"
        :label="`Price of ${row.machine} an hour, ${currency}`"
        @commit="(pricePerHour) => emit('machine', row.machine, { pricePerHour })" />
      {{ currency }}
    </td>
    <td class="number" :title="obtainWords(row)">
      <EditableFigure
        :value="row.stock"
        kind="count"
        :min="0"
        :label="`Stock of ${row.machine}`"
        @commit="(stock) => emit('machine', row.machine, { stock })" />
      <span v-if="row.availability !== null && row.availability < 0.8" class="block text-[0.76rem] text-rust"
        >{{ bare(threeDigits(row.availability * 100)) }} % had</span
      >
    </td>
    <td>
      <input
        :type="stated ? 'radio' : 'checkbox'"
        class="accent-(--water)"
        :checked="row.searched"
        :aria-label="`${stated ? 'Run it on' : 'Let the search use'} ${tickWords(row)}`"
        @change="emit('search', row, ($event.target as HTMLInputElement).checked)" />
    </td>
  </tr>
</template>

<style scoped>
.fit-row {
  cursor: default;
}
.looked-at > td {
  background: color-mix(in srgb, var(--sand-soft) 38%, transparent);
}
</style>
