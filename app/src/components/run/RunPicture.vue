<script setup lang="ts">
import { clock } from '@sandclock/core'
import { computed, onMounted, useTemplateRef, watch } from 'vue'
import { useWidth } from '../../composables/useWidth.ts'
import { drawRun, type RunFrame } from './draw.ts'
import { timeScale } from './pen.ts'

/** The run on one time axis. Pointer or arrows move the cursor, a drag the time; wheel, + and − change how much of it is seen. */
const props = defineProps<Omit<RunFrame, 'width'> & { theme: string }>()
const emit = defineEmits<{ 'update:cursorSeconds': [seconds: number]; look: [from: number, until: number] }>()

const box = useTemplateRef<HTMLElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const width = useWidth(box)
const span = computed(() => props.timeline.untilSeconds - props.timeline.fromSeconds)
const LEAST_SPAN_SECONDS = 300
const ZOOM = 1.6

function draw(): void {
  const c = canvas.value?.getContext('2d')
  if (!c || !canvas.value) return
  const ratio = window.devicePixelRatio || 1
  canvas.value.width = width.value * ratio
  canvas.value.height = props.height * ratio
  c.setTransform(ratio, 0, 0, ratio, 0, 0)
  drawRun(c, { ...props, width: width.value })
}

let asked = 0
function drawSoon(): void {
  if (asked !== 0) return
  asked = requestAnimationFrame(() => {
    asked = 0
    draw()
  })
}
watch([() => ({ ...props }), width], drawSoon)
onMounted(async () => {
  await document.fonts.ready
  draw()
})

function place(event: PointerEvent | WheelEvent): number {
  const rect = (event.currentTarget as HTMLElement).getBoundingClientRect()
  return held(timeScale({ timeline: props.timeline, width: width.value }).invert(event.clientX - rect.left))
}
const held = (t: number) => Math.min(props.timeline.untilSeconds, Math.max(props.timeline.fromSeconds, t))

/** Shows `1/factor` of the time seen, with the time `at` staying where it is. */
function zoom(factor: number, at: number): void {
  const horizon = props.plan.horizon.seconds
  const next = Math.min(horizon, Math.max(Math.min(horizon, LEAST_SPAN_SECONDS), span.value / factor))
  const from = Math.min(horizon - next, Math.max(0, at - ((at - props.timeline.fromSeconds) / span.value) * next))
  emit('look', from, from + next)
}

function pan(share: number): void {
  const horizon = props.plan.horizon.seconds
  const from = Math.min(horizon - span.value, Math.max(0, props.timeline.fromSeconds + share * span.value))
  emit('look', from, from + span.value)
}

/** Where a drag began, and what was seen then; a press without a move only sets the cursor. */
let drag: { x: number; from: number } | null = null
const DRAG_PIXELS = 4

function press(event: PointerEvent): void {
  drag = { x: event.clientX, from: props.timeline.fromSeconds }
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}

function move(event: PointerEvent): void {
  if (!drag || Math.abs(event.clientX - drag.x) < DRAG_PIXELS) return emit('update:cursorSeconds', place(event))
  const scale = timeScale({ timeline: props.timeline, width: width.value })
  const seconds = scale.invert(drag.x) - scale.invert(event.clientX)
  const from = Math.min(props.plan.horizon.seconds - span.value, Math.max(0, drag.from + seconds))
  if (Math.abs(from - props.timeline.fromSeconds) >= 1) emit('look', from, from + span.value)
}

function key(event: KeyboardEvent): void {
  const step = span.value / props.timeline.pieces
  const moves: Record<string, () => void> = {
    ArrowLeft: () => (event.shiftKey ? pan(-0.25) : emit('update:cursorSeconds', held(props.cursorSeconds - step * (event.ctrlKey ? 12 : 1)))),
    ArrowRight: () => (event.shiftKey ? pan(0.25) : emit('update:cursorSeconds', held(props.cursorSeconds + step * (event.ctrlKey ? 12 : 1)))),
    '+': () => zoom(ZOOM, props.cursorSeconds),
    '=': () => zoom(ZOOM, props.cursorSeconds),
    '-': () => zoom(1 / ZOOM, props.cursorSeconds),
    '0': () => emit('look', 0, props.plan.horizon.seconds),
  }
  const move = moves[event.key]
  if (!move) return
  event.preventDefault()
  move()
}
</script>

<template>
  <div ref="box">
    <canvas
      ref="canvas" tabindex="0" role="slider" class="block touch-none" :style="{ width: `${width}px`, height: `${height}px` }"
      aria-label="Time under the cursor" :aria-valuemin="0" :aria-valuemax="Math.round(plan.horizon.seconds)" :aria-valuenow="Math.round(cursorSeconds)" :aria-valuetext="clock(plan.horizon.start, cursorSeconds)"
      @pointerdown="press" @pointermove="move" @pointerup="drag = null" @pointercancel="drag = null" @wheel.prevent="zoom($event.deltaY < 0 ? ZOOM : 1 / ZOOM, place($event))" @dblclick="emit('look', 0, plan.horizon.seconds)" @keydown="key"
    />
  </div>
</template>
