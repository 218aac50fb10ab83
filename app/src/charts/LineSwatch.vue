<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import ChartPicture from './ChartPicture.vue'
import { bareAxis, pixelAxis, type LineSeries } from './spec.ts'

/** A little of a line, beside its name. @param dash strokes and gaps, in pixels */
const { colour, dash } = defineProps<{ colour: string; dash: readonly number[] }>()
const WIDTH = 34
const HEIGHT = 10
const series = computed((): LineSeries[] => [
  {
    kind: 'line',
    colour,
    width: 2.5,
    dash,
    points: [
      { x: 0, y: HEIGHT / 2 },
      { x: WIDTH, y: HEIGHT / 2 },
    ],
  },
])
const xAxis = bareAxis(scaleLinear([0, WIDTH], [0, WIDTH]))
const yAxis = pixelAxis(HEIGHT)
</script>

<template>
  <ChartPicture class="mr-1.5 inline-block" :x="xAxis" :y="yAxis" :series="series" :width="WIDTH" :height="HEIGHT" />
</template>
