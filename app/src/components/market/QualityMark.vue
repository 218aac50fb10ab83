<script setup lang="ts">
import { bare, percent, wilson } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'

/** A score with its 95 % interval, on one scale with the other variants of the model: intervals that overlap decide nothing. */
type Score = { score: number; samples: number }
const props = defineProps<{ quality: Score; others: readonly Score[] }>()
const WIDTH = 90
const ends = computed(() => {
  const all = props.others.map((o) => wilson(o.score, o.samples))
  return [Math.min(...all.map((a) => a.low)), Math.max(...all.map((a) => a.high))]
})
const x = computed(() => scaleLinear(ends.value, [4, WIDTH - 4]))
const here = computed(() => wilson(props.quality.score, props.quality.samples))
</script>

<template>
  <svg :width="WIDTH" height="12" class="mr-2 inline-block align-middle" role="img" :aria-label="`${bare(percent(here.low))} to ${bare(percent(here.high))}`">
    <line :x1="x(here.low)" :x2="x(here.high)" y1="6" y2="6" stroke="var(--water)" stroke-width="1.500" />
    <line v-for="e in [here.low, here.high]" :key="e" :x1="x(e)" :x2="x(e)" y1="2" y2="10" stroke="var(--water)" stroke-width="1.500" />
    <circle :cx="x(here.share)" cy="6" r="3.500" fill="var(--sand)" />
  </svg>
</template>
