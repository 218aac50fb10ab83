<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import ChartPicture from './ChartPicture.vue'
import type { Axis, LineSeries } from './spec.ts'

/** A little of a line, beside its name. @param dash as strokes and gaps, "7 3" */
const { colour, dash } = defineProps<{ colour: string; dash: string }>()
const WIDTH = 34
const HEIGHT = 10
const plain = (to: number): Axis => ({ scale: scaleLinear([0, to], [0, to]), ticks: [], rules: false })
const series = computed((): LineSeries[] => [{ kind: 'line', colour, width: 2.5, dash: dash.split(' ').filter(Boolean).map(Number), points: [{ x: 0, y: HEIGHT / 2 }, { x: WIDTH, y: HEIGHT / 2 }] }])
const yAxis: Axis = { scale: scaleLinear([HEIGHT, 0], [HEIGHT, 0]), ticks: [], rules: false }
</script>

<template>
  <ChartPicture class="inline-block" :x="plain(WIDTH)" :y="yAxis" :series="series" :width="WIDTH" :height="HEIGHT" />
</template>
