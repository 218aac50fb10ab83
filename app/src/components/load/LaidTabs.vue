<script setup lang="ts">
import { bare, threeDigits } from '@sandclock/core'
import type { ScaleLinear } from 'd3-scale'
import { computed, shallowRef } from 'vue'
import type { Laid } from '../../edits/loadEdits.ts'
import PullTab from '../frame/PullTab.vue'

/** Spikes and dated events of one class, pulled on the axis of time: where each begins and ends, and how many times the rate it is. */
const props = defineProps<{
  className: string
  laid: readonly Laid[]
  /** from seconds of the horizon to pixels */
  x: ScaleLinear<number, number>
  top: number
  height: number
}>()
const emit = defineEmits<{ put: [laid: Laid]; remove: [laid: Laid] }>()

const STEP_SECONDS = 300
/** As many pixels up are twice as much. */
const PIXELS_A_DOUBLING = 40
const draft = shallowRef<Laid | null>(null)
const isSame = (a: Laid, b: Laid | null) => b !== null && a.kind === b.kind && a.index === b.index
const shown = computed(() => props.laid.map((one) => (isSame(one, draft.value) && draft.value ? draft.value : one)))
const end = computed(() => props.x.domain()[1])
const within = (seconds: number) => props.x(Math.min(end.value, Math.max(0, seconds)))
const seen = computed(() => shown.value.filter((one) => one.untilSeconds > 0 && one.fromSeconds < end.value))

function commit(before: Laid, next: Laid): void {
  draft.value = null
  if (JSON.stringify(before) !== JSON.stringify(next)) emit('put', next)
}
const original = (one: Laid) => props.laid.find((l) => isSame(l, one)) ?? one
const beginning = (one: Laid, seconds: number): Laid => ({ ...one, fromSeconds: Math.min(seconds, one.untilSeconds - STEP_SECONDS) })
const ending = (one: Laid, seconds: number): Laid => ({ ...one, untilSeconds: Math.max(seconds, one.fromSeconds + STEP_SECONDS) })
const words = (one: Laid) => `${bare(threeDigits(one.factor))} ×`
const what = (one: Laid) => `${one.kind === 'spikes' ? 'spike' : 'event'} ${one.index + 1} of ${props.className}`
const FACTORS = { least: 0.05, most: 100, step: 0.05 }
const factorAt = (one: Laid, pixels: number) => original(one).factor * 2 ** ((props.top + 9 - pixels) / PIXELS_A_DOUBLING)
</script>

<template>
  <div class="pointer-events-none absolute inset-0 [&>button]:pointer-events-auto">
    <template v-for="one in seen" :key="`${one.kind}${one.index}`">
      <div
        class="laid"
        :style="{
          left: `${within(one.fromSeconds)}px`,
          width: `${Math.max(2, within(one.untilSeconds) - within(one.fromSeconds))}px`,
          top: `${top}px`,
          height: `${height}px`,
        }" />
      <PullTab
        axis="y"
        :left="(within(one.fromSeconds) + within(one.untilSeconds)) / 2 - 14"
        :top="top + 1"
        :value="one.factor"
        :least="FACTORS.least"
        :most="FACTORS.most"
        :step="FACTORS.step"
        :label="`Height of ${what(one)}`"
        :words="words(one)"
        :value-at="(px) => factorAt(one, px)"
        @pull="(factor) => (draft = { ...one, factor })"
        @commit="(factor) => commit(original(one), { ...one, factor: Number(factor.toPrecision(4)) })"
        @remove="emit('remove', one)" />
      <PullTab
        axis="x"
        :left="within(one.fromSeconds) - 13"
        :top="top + height - 16"
        :value="one.fromSeconds"
        :least="one.kind === 'spikes' ? 0 : -1e9"
        :most="1e9"
        :step="STEP_SECONDS"
        :label="`Begin of ${what(one)}`"
        words="⇤"
        :value-at="x.invert"
        @pull="(s) => (draft = beginning(one, s))"
        @commit="(s) => commit(original(one), beginning(one, s))"
        @remove="emit('remove', one)" />
      <PullTab
        axis="x"
        :left="within(one.untilSeconds)"
        :top="top + height - 16"
        :value="one.untilSeconds"
        :least="0"
        :most="1e9"
        :step="STEP_SECONDS"
        :label="`End of ${what(one)}`"
        words="⇥"
        :value-at="x.invert"
        @pull="(s) => (draft = ending(one, s))"
        @commit="(s) => commit(original(one), ending(one, s))"
        @remove="emit('remove', one)" />
    </template>
  </div>
</template>

<style scoped>
.laid {
  position: absolute;
  border: 1px solid var(--color-sand);
  border-bottom: none;
}
</style>
