<script setup lang="ts">
import { HOURS_PER_MONTH, MEASURE_NAMES, percent, price, type LeverEffect, type LeverReport, type Target } from '@sandclock/core'
import { computed } from 'vue'

/** What every input does to the tightest promise and to the cost when it moves by a plausible step: a line each, the largest effect first. */
const props = defineProps<{ report: LeverReport; currency: string }>()

/** Promises that use more than twice their limit are drawn at the edge. */
const MOST = 2
/** Less than this of the limit, and of the cost, is nothing. */
const NOTHING = 0.01
const before = computed(() => props.report.before)
const place = (strain: number) => `${(100 * Math.min(MOST, strain)) / MOST}%`
const doesNothing = (e: LeverEffect) => e.strain !== null && e.perHour !== null && before.value.strain !== null && before.value.perHour !== null && Math.abs(e.strain - before.value.strain) < NOTHING && Math.abs(e.perHour - before.value.perHour) < NOTHING * before.value.perHour
const moving = computed(() => props.report.effects.filter((e) => !doesNothing(e)))
const still = computed(() => props.report.effects.filter(doesNothing))
const used = (e: LeverEffect) => (e.strain === null ? 'can not be had' : e.strain === Infinity ? 'not reached' : `${percent(e.strain)} of the limit`)
const tightest = (e: LeverEffect) => (e.tightest && e.tightest !== before.value.tightest ? `, by ${MEASURE_NAMES[e.tightest as Target['measure']]}` : '')
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
    <p class="text-[0.88rem] text-faded">How much of its limit, head-room taken off, the tightest promise uses: {{ used(before) }} as it is{{ before.tightest ? ` (${MEASURE_NAMES[before.tightest as Target['measure']]})` : '' }}. The line at the middle is the limit. Same machines, first draw; where they do not hold any more, the cheapest of the next best that does.</p>
    <ul class="mt-1">
      <li v-for="e in moving" :key="e.words" class="grid grid-cols-[1fr_auto] items-center gap-x-3 sm:grid-cols-[15rem_1fr_11rem_7rem] py-[3px] text-[0.9rem]">
        <span>{{ e.words }}<span v-if="e.instead !== undefined" class="block text-[0.82rem] text-faded">{{ insteadWords(e.instead) }}</span></span>
        <span class="track col-span-2 row-start-2 sm:col-span-1 sm:row-start-auto" aria-hidden="true">
          <span class="limit" />
          <span v-if="e.strain !== null && before.strain !== null" class="bar" :class="e.strain > before.strain ? 'worse' : 'better'" :style="{ left: place(Math.min(e.strain, before.strain)), right: `calc(100% - ${place(Math.max(e.strain, before.strain))})` }" />
          <span v-if="before.strain !== null" class="now" :style="{ left: place(before.strain) }" />
        </span>
        <span :class="e.strain === null || e.strain > 1 ? 'text-rust' : ''">{{ used(e) }}{{ tightest(e) }}</span>
        <span class="col-start-2 row-start-1 text-right text-sand sm:col-start-auto sm:row-start-auto">{{ costWords(e) }}</span>
      </li>
    </ul>
    <p v-if="still.length > 0" class="mt-1 text-[0.88rem] text-faded">These do nothing to speak of: {{ still.map((e) => e.words).join(', ') }}.</p>
  </div>
</template>

<style scoped>
.track { position: relative; height: 14px; background: var(--color-leaf); }
.limit { position: absolute; left: 50%; top: -2px; bottom: -2px; border-left: 1.5px dashed var(--color-rust); }
.now { position: absolute; top: -2px; bottom: -2px; border-left: 2px solid var(--color-ink); }
.bar { position: absolute; top: 2px; bottom: 2px; }
.better { background: var(--color-moss); opacity: 0.75; }
.worse { background: repeating-linear-gradient(135deg, var(--color-rust) 0 3px, transparent 3px 6px); }
</style>
