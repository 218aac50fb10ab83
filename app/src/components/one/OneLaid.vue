<script setup lang="ts">
import { duration, oneCaution, oneWords, PART_WORDS, partRows, price, PURCHASES, type OneRequest } from '@sandclock/core'
import { computed } from 'vue'
import Swatch from '../../charts/Swatch.vue'
import FigureTable from '../frame/FigureTable.vue'
import { clockLane, moneyLane, workLane } from './lanes.ts'
import OneLanes from './OneLanes.vue'
import { PART_INKS } from './partInks.ts'

/** Requests laid out along the clock and along money, in words and as a table; what belongs to them goes before the table. */
const props = defineProps<{ laid: readonly { letter: string; one: OneRequest }[] }>()

const isTokens = computed(() => props.laid[0]?.one.isTokens ?? true)
const money = (value: number) => price(value, props.laid[0].one.money.currency)
const clockLanes = computed(() => props.laid.map(({ letter, one }) => clockLane(letter, one)))
const workLanes = computed(() => props.laid.map(({ letter, one }) => workLane(letter, one)))
const moneyLanes = computed(() => props.laid.flatMap(({ letter, one }) => moneyLane(letter, one) ?? []))
const seen = computed(() => [...new Set(props.laid.flatMap(({ one }) => one.parts.map((p) => p.part)))])
</script>

<template>
  <div>
    <p class="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-[0.82rem]"
      ><span v-for="part in seen" :key="part" class="flex items-center gap-1"
        ><Swatch :ink="PART_INKS[part]" /> {{ PART_WORDS[part] }}</span
      ></p
    >
    <h2 class="mt-2 text-[1.15rem]">Along the clock, from the call to the last word</h2>
    <OneLanes :lanes="clockLanes" label="Requests along one clock; the table below has the same" :show="duration" />
    <h2 class="mt-2 text-[1.15rem]"
      >Its own work, magnified
      <span class="font-sans text-[0.82rem] text-faded">{{
        isTokens ? 'from its turn on; each grain is a token' : 'from its turn on'
      }}</span></h2
    >
    <OneLanes :lanes="workLanes" label="What each request takes once it is its turn; the table below has the same" :show="duration" />
    <h2 class="mt-2 text-[1.15rem]"
      >Along money, until the machine is given back
      <span class="font-sans text-[0.82rem] text-faded">{{ PURCHASES['on-demand'].picked }}; lightest: what billing adds</span></h2
    >
    <OneLanes
      v-if="moneyLanes.length > 0"
      :lanes="moneyLanes"
      label="What each part of the requests costs by the hour; the table below has the same"
      :show="money" />
    <ul class="mt-3 text-[0.95rem]">
      <li v-for="{ letter, one } in laid" :key="letter" class="py-0.5"
        ><span class="font-semibold">{{ letter }}</span
        >: {{ oneWords(one).join('; ') }}.</li
      >
    </ul>
    <p class="text-[0.95rem] text-faded">Of all of them: {{ oneCaution(laid[0].one) }}.</p>
    <slot />
    <details class="mt-3 text-[0.9rem]">
      <summary class="cursor-pointer text-water">Exact figures of these pictures</summary>
      <FigureTable
        v-for="{ letter, one } in laid"
        :key="letter"
        class="mt-1"
        :header="['after', 'takes', 'what', PURCHASES['on-demand'].picked]"
        :rows="partRows(one)"
        :words="[2]"
        :caption="letter" />
    </details>
  </div>
</template>
