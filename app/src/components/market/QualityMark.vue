<script setup lang="ts">
import { bare, percent, wilson } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { bareAxis, pixelAxis, type Series } from '../../charts/spec.ts'

/** A score with its 95 % interval, on one scale with the other variants of the model: intervals that overlap decide nothing. */
type Score = { score: number; samples: number }
const props = defineProps<{ quality: Score; others: readonly Score[] }>()
const WIDTH = 90
const HEIGHT = 12
const ends = computed(() => {
  const all = props.others.map((o) => wilson(o.score, o.samples))
  return [Math.min(...all.map((a) => a.low)), Math.max(...all.map((a) => a.high))]
})
const x = computed(() => scaleLinear(ends.value, [4, WIDTH - 4]))
const here = computed(() => wilson(props.quality.score, props.quality.samples))
const xAxis = computed(() => bareAxis(x.value))
const yAxis = pixelAxis(HEIGHT)
const series = computed((): Series[] => {
  const { low, high, share } = here.value
  const stroke = (...ends: [number, number][]): Series => ({
    kind: 'line',
    colour: '--water',
    width: 1.5,
    points: ends.map(([at, y]) => ({ x: at, y })),
  })
  return [
    stroke([low, 6], [high, 6]),
    stroke([low, 2], [low, 10]),
    stroke([high, 2], [high, 10]),
    { kind: 'points', points: [{ x: share, y: 6 }], colour: '--sand', shape: 'disc', radius: 3.5 },
  ]
})
</script>

<template>
  <ChartPicture
    :x="xAxis"
    :y="yAxis"
    :series="series"
    :width="WIDTH"
    :height="HEIGHT"
    class="mr-2 inline-block align-middle"
    role="img"
    :aria-label="`${bare(percent(here.low))} to ${bare(percent(here.high))}`" />
</template>
