<script setup lang="ts">
import { clock, type ScalingPolicy } from '@sandclock/core'
import { computed, onMounted, useTemplateRef, watch } from 'vue'
import { sharpPen } from '../../composables/sharpPen.ts'
import { useWidth } from '../../composables/useWidth.ts'
import { drawReadings, drawStill, kindOf, type RunFrame } from './draw.ts'
import { runPanels } from './panels.ts'
import PolicyTabs from './PolicyTabs.vue'
import { timeScale } from './pen.ts'

/** The run on one time axis. Pointer or arrows move the cursor, a drag the time; wheel, + and − change how much of it is seen. */
const props = defineProps<Omit<RunFrame, 'width' | 'timeline' | 'rows'> & { theme: string; policy: ScalingPolicy | null }>()
const emit = defineEmits<{ 'update:cursorSeconds': [seconds: number]; look: [from: number, until: number]; pick: [seconds: number]; policy: [policy: ScalingPolicy] }>()

const box = useTemplateRef<HTMLElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const width = useWidth(box)
const timeline = computed(() => props.run.timeline)
/** A policy that may have more than there ever were is shown some room for it. */
const ROOM_ROWS = 2
const rows = computed(() => Math.max(props.run.lanes, Math.min(props.policy && !props.other ? props.policy.max : 0, props.run.lanes + ROOM_ROWS)))
const panels = computed(() => runPanels(props.height, kindOf(props)))
const span = computed(() => timeline.value.untilSeconds - timeline.value.fromSeconds)
const LEAST_SPAN_SECONDS = 300
const ZOOM = 1.6

/** What does not move with the cursor, drawn once a change. */
let still: HTMLCanvasElement | undefined

const paper = (of: HTMLCanvasElement) => sharpPen(of, width.value, props.height)

function draw(): void {
  if (!canvas.value || width.value === 0) return
  const frame = { ...props, timeline: timeline.value, rows: rows.value, width: width.value }
  if (!still) {
    still = document.createElement('canvas')
    const under = paper(still)
    if (under) drawStill(under, frame)
  }
  const c = paper(canvas.value)
  if (!c) return
  c.drawImage(still, 0, 0, width.value, props.height)
  drawReadings(c, frame)
}

let asked = 0
function drawSoon(): void {
  if (asked !== 0) return
  asked = requestAnimationFrame(() => {
    asked = 0
    draw()
  })
}
watch(() => props.cursorSeconds, drawSoon)
watch([() => props.run, () => props.ghost, () => props.other, () => props.reads, () => props.theme, () => props.height, width], () => {
  still = undefined
  drawSoon()
})
onMounted(async () => {
  await document.fonts.ready
  draw()
})

function place(event: PointerEvent | WheelEvent): number {
  const rect = (event.currentTarget as HTMLElement).getBoundingClientRect()
  return held(timeScale({ timeline: timeline.value, width: width.value }).invert(event.clientX - rect.left))
}
const held = (t: number) => Math.min(timeline.value.untilSeconds, Math.max(timeline.value.fromSeconds, t))

/** Shows `1/factor` of the time seen, with the time `at` staying where it is. */
function zoom(factor: number, at: number): void {
  const horizon = props.plan.horizon.seconds
  const next = Math.min(horizon, Math.max(Math.min(horizon, LEAST_SPAN_SECONDS), span.value / factor))
  const from = Math.min(horizon - next, Math.max(0, at - ((at - timeline.value.fromSeconds) / span.value) * next))
  emit('look', from, from + next)
}

function pan(share: number): void {
  const horizon = props.plan.horizon.seconds
  const from = Math.min(horizon - span.value, Math.max(0, timeline.value.fromSeconds + share * span.value))
  emit('look', from, from + span.value)
}

/** Where a drag began, and what was seen then; a press without a move only sets the cursor. */
let drag: { x: number; from: number } | null = null
const DRAG_PIXELS = 4

function press(event: PointerEvent): void {
  drag = { x: event.clientX, from: timeline.value.fromSeconds }
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}

function move(event: PointerEvent): void {
  if (!drag || Math.abs(event.clientX - drag.x) < DRAG_PIXELS) return emit('update:cursorSeconds', place(event))
  const scale = timeScale({ timeline: timeline.value, width: width.value })
  const seconds = scale.invert(drag.x) - scale.invert(event.clientX)
  const from = Math.min(props.plan.horizon.seconds - span.value, Math.max(0, drag.from + seconds))
  if (Math.abs(from - timeline.value.fromSeconds) >= 1) emit('look', from, from + span.value)
}

function release(event: PointerEvent): void {
  const moved = drag && Math.abs(event.clientX - drag.x) >= DRAG_PIXELS
  drag = null
  if (!moved) emit('pick', place(event))
}

function key(event: KeyboardEvent): void {
  const step = span.value / timeline.value.pieces
  const moves: Record<string, () => void> = {
    ArrowLeft: () => (event.shiftKey ? pan(-0.25) : emit('update:cursorSeconds', held(props.cursorSeconds - step * (event.ctrlKey ? 12 : 1)))),
    ArrowRight: () => (event.shiftKey ? pan(0.25) : emit('update:cursorSeconds', held(props.cursorSeconds + step * (event.ctrlKey ? 12 : 1)))),
    '+': () => zoom(ZOOM, props.cursorSeconds),
    '=': () => zoom(ZOOM, props.cursorSeconds),
    '-': () => zoom(1 / ZOOM, props.cursorSeconds),
    '0': () => emit('look', 0, props.plan.horizon.seconds),
    Enter: () => emit('pick', props.cursorSeconds),
  }
  const move = moves[event.key]
  if (!move) return
  event.preventDefault()
  move()
}
</script>

<template>
  <div ref="box" class="relative">
    <canvas
      ref="canvas" tabindex="0" role="slider" class="block touch-none" :style="{ width: `${width}px`, height: `${height}px` }"
      aria-label="Time under the cursor" :aria-valuemin="0" :aria-valuemax="Math.round(plan.horizon.seconds)" :aria-valuenow="Math.round(cursorSeconds)" :aria-valuetext="clock(plan.horizon.start, cursorSeconds)"
      @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="drag = null" @wheel.prevent="zoom($event.deltaY < 0 ? ZOOM : 1 / ZOOM, place($event))" @dblclick="emit('look', 0, plan.horizon.seconds)" @keydown="key"
    />
    <PolicyTabs
      v-if="policy && panels.lanes && !other" :plan="plan" :policy="policy" :run="run" :lanes="panels.lanes" :reads="reads ? panels.reads : undefined" :rows="rows" :width="width" :show-reading="reads?.show ?? String"
      @change="(p) => emit('policy', p)"
    />
  </div>
</template>
