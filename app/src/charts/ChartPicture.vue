<script setup lang="ts">
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { drawSoon, neverMind } from '../composables/frames.ts'
import { HeldChart, isFirstPicture } from './heldChart.ts'
import type { Axis, Mark, Series } from './spec.ts'
import { useTheme } from './useTheme.ts'

/**
 * A chart, drawn by the chart library in our looks. What lies over it (names, rings to pull, the cursor) is the slot, in pixels
 * of the same picture. One chart lives as long as its picture: new data are handed to it.
 */
const {
  x,
  y,
  series,
  marks = [],
  width,
  height,
} = defineProps<{ x: Axis; y: Axis; series: readonly Series[]; marks?: readonly Mark[]; width: number; height: number }>()

const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const theme = useTheme()
let chart: HeldChart | undefined

function draw(): void {
  if (!canvas.value?.getContext('2d')) return
  // The library sets itself up in one frame, and draws in another.
  if (!chart) {
    chart = new HeldChart(canvas.value)
    return drawSoon(draw)
  }
  // The first of all comes without its marks before it comes with them: both would be more than a frame has room for.
  const bare = marks.length > 0 && isFirstPicture()
  chart.show({ x, y, series, marks: bare ? [] : marks, width, height })
  if (bare) drawSoon(draw)
}

onMounted(async () => {
  drawSoon(draw)
  if (document.fonts?.status === 'loaded') return
  // Words that were drawn before their type was there have other widths.
  await document.fonts?.ready
  if (chart) drawSoon(draw)
})
watch([() => x, () => y, () => series, () => marks, () => width, () => height, theme], () => drawSoon(draw))
onBeforeUnmount(() => {
  neverMind(draw)
  chart?.end()
  chart = undefined
})
</script>

<template>
  <div class="relative overflow-x-clip" :style="{ width: `${width}px`, height: `${height}px` }">
    <canvas ref="canvas" class="block" :width="width" :height="height" aria-hidden="true" />
    <slot />
  </div>
</template>
