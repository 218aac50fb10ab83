<script setup lang="ts">
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { drawSoon, neverMind } from '../../composables/frames.ts'
import { useTheme } from '../../charts/useTheme.ts'
import { sharpPen } from '../../composables/sharpPen.ts'
import { LanePen, type LaneFrame } from './lanePen.ts'

/** A lane for each replica over time: the fuller, the deeper the water; stages by texture. */
const { run, before, rows, startupSeconds, width, height } = defineProps<LaneFrame>()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const theme = useTheme()

function draw(): void {
  const pen = sharpPen(canvas.value, width, height)
  if (pen) new LanePen(pen, { run, before, rows, startupSeconds, width, height }).draw()
}
watch([() => run, () => before, () => rows, () => startupSeconds, () => width, () => height, theme], () => drawSoon(draw))
onMounted(async () => {
  await document.fonts?.ready
  drawSoon(draw)
})
onBeforeUnmount(() => neverMind(draw))
</script>

<template>
  <canvas ref="canvas" class="block" :style="{ width: `${width}px`, height: `${height}px` }" aria-hidden="true" />
</template>
