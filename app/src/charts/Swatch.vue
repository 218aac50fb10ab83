<script setup lang="ts">
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { sharpPen } from '../composables/sharpPen.ts'
import { drawSoon, neverMind } from '../composables/frames.ts'
import { fillOf, type Ink } from './ink.ts'
import { useTheme } from './useTheme.ts'

/** A little of what a surface is filled with, beside its name. */
const { ink, outlined = false } = defineProps<{ ink: Ink; outlined?: boolean }>()
const WIDTH = 22
const HEIGHT = 12
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const theme = useTheme()

function draw(): void {
  const pen = sharpPen(canvas.value, WIDTH, HEIGHT)
  if (!pen) return
  pen.fillStyle = fillOf(ink)
  pen.fillRect(0, 0, WIDTH, HEIGHT)
}
onMounted(() => drawSoon(draw))
watch([() => ink, theme], () => drawSoon(draw))
onBeforeUnmount(() => neverMind(draw))
</script>

<template>
  <canvas
    ref="canvas"
    class="inline-block"
    :style="{ width: `${WIDTH}px`, height: `${HEIGHT}px`, outline: outlined ? '1px solid var(--color-ink)' : 'none' }"
    aria-hidden="true" />
</template>
