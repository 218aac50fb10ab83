<script setup lang="ts">
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { Chart } from './chartJs.ts'
import { drawSoon, neverMind } from './drawQueue.ts'
import type { Axis, Mark, Series } from './spec.ts'
import { toChartJs, type PictureSpec } from './toChartJs.ts'
import { useTheme } from './useTheme.ts'

/**
 * A chart, drawn by the chart library in our looks. What lies over it (names, rings to pull, the cursor) is the slot, in pixels
 * of the same picture. One chart lives as long as its picture: new data are handed to it.
 */
const { x, y, series, marks = [], width, height } = defineProps<{ x: Axis; y: Axis; series: readonly Series[]; marks?: readonly Mark[]; width: number; height: number }>()

const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const theme = useTheme()
let chart: Chart | undefined

const spec = (): PictureSpec => ({ x, y, series, marks, width, height })

function draw(): void {
  if (!canvas.value?.getContext('2d')) return
  const { data, options = {} } = toChartJs(spec())
  if (!chart) chart = new Chart(canvas.value, { type: 'line', data: { datasets: [] } })
  if (chart.width !== width || chart.height !== height) chart.resize(width, height)
  handOver(chart.data.datasets, data.datasets)
  chart.options = options
  chart.update('none')
}

/** The library knows its data sets again by their identity, and keeps what it made for them. */
function handOver(kept: Chart['data']['datasets'], next: Chart['data']['datasets']): void {
  kept.length = Math.min(kept.length, next.length)
  next.forEach((dataset, i) => (kept[i]?.type === dataset.type ? Object.assign(kept[i], dataset) : (kept[i] = dataset)))
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
  chart?.destroy()
  chart = undefined
})
</script>

<template>
  <div class="relative overflow-x-clip" :style="{ width: `${width}px`, height: `${height}px` }">
    <canvas ref="canvas" class="block" :width="width" :height="height" aria-hidden="true" />
    <slot />
  </div>
</template>
