<script setup lang="ts">
import { HOURS_PER_MONTH, MEASURE_NAMES, percent, price, type LeverEffect, type LeverReport, type Target } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { bareAxis, pixelAxis, type Mark, type Series } from '../../charts/spec.ts'
import { useRowPlaces } from '../../composables/useRowPlaces.ts'

/**
 * What every input does to the tightest promise and to the cost when it moves by a plausible step: a line each, the largest effect first.
 */
const props = defineProps<{ report: LeverReport; currency: string }>()

/** Promises that use more than twice their limit are drawn at the edge. */
const MOST = 2
/** Less than this of the limit, and of the cost, is nothing. */
const NOTHING = 0.01
const before = computed(() => props.report.before)
const doesNothing = (e: LeverEffect) =>
  e.strain !== null &&
  e.perHour !== null &&
  before.value.strain !== null &&
  before.value.perHour !== null &&
  Math.abs(e.strain - before.value.strain) < NOTHING &&
  Math.abs(e.perHour - before.value.perHour) < NOTHING * before.value.perHour
const moving = computed(() => props.report.effects.filter((e) => !doesNothing(e)))
const still = computed(() => props.report.effects.filter(doesNothing))
const used = (e: LeverEffect) =>
  e.strain === null ? 'can not be had' : e.strain === Infinity ? 'not reached' : `${percent(e.strain)} of the limit`
const tightest = (e: LeverEffect) =>
  e.tightest && e.tightest !== before.value.tightest ? `, by ${MEASURE_NAMES[e.tightest as Target['measure']]}` : ''
const list = useTemplateRef<HTMLElement>('list')
const places = useRowPlaces(list, '.track', () => moving.value)
const xAxis = computed(() => bareAxis(scaleLinear([0, MOST], [0, places.value.width])))
const yAxis = computed(() => pixelAxis(places.value.height))
const marks = computed((): Mark[] => [
  { kind: 'line', x: 1, colour: '--rust', width: 1.5, dash: [3, 3] },
  ...(before.value.strain === null ? [] : [{ kind: 'line', x: Math.min(MOST, before.value.strain), colour: '--ink', width: 2 } as const]),
])
/** From what the promise uses now to what it would use. */
const series = computed((): Series[] => {
  const now = before.value.strain
  const bars = (worse: boolean) =>
    moving.value.flatMap((e, i) =>
      now === null || e.strain === null || e.strain > now !== worse || places.value.middles[i] === undefined
        ? []
        : [{ from: Math.min(MOST, now), until: Math.min(MOST, e.strain), at: places.value.middles[i] }],
    )
  return [
    { kind: 'bars', thickness: 10, ink: { colour: '--moss', alpha: 0.75 }, bars: bars(false) },
    { kind: 'bars', thickness: 10, ink: { colour: '--rust', hatch: 'slant' }, bars: bars(true) },
  ]
})
function costWords(e: LeverEffect): string {
  if (e.perHour === null || before.value.perHour === null) return ''
  const more = (e.perHour - before.value.perHour) * HOURS_PER_MONTH
  return Math.abs(e.perHour - before.value.perHour) < 1e-9 ? 'same cost' : `${more > 0 ? '+' : '−'}${price(Math.abs(more), props.currency)}`
}
/** What is rented then. */
function insteadWords(instead: NonNullable<LeverEffect['instead']> | null): string {
  if (instead === null) return 'then none of the next best holds'
  const more = (instead.perHour - (before.value.perHour ?? 0)) * HOURS_PER_MONTH
  return `then ${instead.words}, ${more < 0 ? '−' : '+'}${price(Math.abs(more), props.currency)} a month`
}
</script>

<template>
  <div>
    <p class="text-[0.88rem] text-faded"
      >How much of its limit, head-room taken off, the tightest promise uses: {{ used(before) }} as it is{{
        before.tightest ? ` (${MEASURE_NAMES[before.tightest as Target['measure']]})` : ''
      }}. The line at the middle is the limit. Same machines, first draw; where they do not hold any more, the cheapest of the next best
      that does.</p
    >
    <div ref="list" class="relative">
      <ul class="mt-1">
        <li
          v-for="e in moving"
          :key="e.words"
          class="grid grid-cols-[1fr_auto] items-center gap-x-3 sm:grid-cols-[15rem_1fr_11rem_7rem] py-[3px] text-[0.9rem]">
          <span
            >{{ e.words
            }}<span v-if="e.instead !== undefined" class="block text-[0.82rem] text-faded">{{ insteadWords(e.instead) }}</span></span
          >
          <span class="track col-span-2 row-start-2 sm:col-span-1 sm:row-start-auto" aria-hidden="true" />
          <span :class="e.strain === null || e.strain > 1 ? 'text-rust' : ''">{{ used(e) }}{{ tightest(e) }}</span>
          <span class="col-start-2 row-start-1 text-right text-sand sm:col-start-auto sm:row-start-auto">{{ costWords(e) }}</span>
        </li>
      </ul>
      <div v-if="places.width > 0" class="pointer-events-none absolute top-0" :style="{ left: `${places.left}px` }">
        <ChartPicture :x="xAxis" :y="yAxis" :series="series" :marks="marks" :width="places.width" :height="places.height" />
      </div>
    </div>
    <p v-if="still.length > 0" class="mt-1 text-[0.88rem] text-faded"
      >These do nothing to speak of: {{ still.map((e) => e.words).join(', ') }}.</p
    >
  </div>
</template>

<style scoped>
.track {
  height: 14px;
  background: var(--color-leaf);
}
</style>
