<script setup lang="ts">
import { clock, type ScalingPolicy } from '@sandclock/core'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import type { Axis } from '../../charts/spec.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'
import { CHARTS, type ChartedPanel } from './charts.ts'
import { kindOf, PLOT, timeScale, type RunFrame } from './frame.ts'
import LanePanel from './LanePanel.vue'
import { BOTTOM, runPanels, type PanelName } from './panels.ts'
import PolicyTabs from './PolicyTabs.vue'
import { readingsOf } from './readings.ts'

/** The run on one time axis. Pointer or arrows move the cursor, a drag the time; wheel, + and − change how much of it is seen. */
const props = defineProps<Omit<RunFrame, 'width' | 'rows'> & { cursorSeconds: number; policy: ScalingPolicy | null }>()
const emit = defineEmits<{
  'update:cursorSeconds': [seconds: number]
  look: [from: number, until: number]
  pick: [seconds: number]
  policy: [policy: ScalingPolicy]
}>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const timeline = computed(() => props.run.timeline)
/** A policy that may have more than there ever were is shown some room for it. */
const ROOM_ROWS = 2
const rows = computed(() =>
  Math.max(props.run.lanes, Math.min(props.policy && !props.other ? props.policy.max : 0, props.run.lanes + ROOM_ROWS)),
)
const panels = computed(() => runPanels(props.height, kindOf(props)))
const span = computed(() => timeline.value.untilSeconds - timeline.value.fromSeconds)
const LEAST_SPAN_SECONDS = 300
const ZOOM = 1.6

/** Without the cursor: what is drawn for it is drawn once a change. */
const frame = computed((): RunFrame => ({
  plan: props.plan,
  run: props.run,
  ghost: props.ghost,
  other: props.other,
  reads: props.reads,
  startupSeconds: props.startupSeconds,
  height: props.height,
  rows: rows.value,
  width: width.value,
}))
const x = computed(() => timeScale({ timeline: timeline.value, width: width.value }))
const ticks = computed(() =>
  timeTicks(props.plan.horizon.start, timeline.value.fromSeconds, timeline.value.untilSeconds).map((t) => ({
    at: t.seconds,
    label: t.label,
  })),
)
/** Hours are written once, below the last panel. */
const xAxis = (isLast: boolean): Axis => ({
  scale: x.value,
  labels: 'after',
  ticks: isLast ? ticks.value : ticks.value.map((t) => ({ ...t, label: '' })),
})

const isCharted = (name: PanelName): name is ChartedPanel => name in CHARTS
const charts = computed(() =>
  Object.entries(panels.value).flatMap(([key, panel], i, all) => {
    const name = key as PanelName // the names of runPanels
    if (!isCharted(name)) return []
    const isLast = i === all.length - 1
    return [
      {
        name,
        top: panel.top,
        room: Math.round(panel.height) + (isLast ? BOTTOM : 2),
        x: xAxis(isLast),
        ...CHARTS[name](frame.value, Math.round(panel.height)),
      },
    ]
  }),
)
const lanes = computed(() => [
  ...(panels.value.lanes
    ? [{ key: 'lanes', panel: panels.value.lanes, run: props.run, before: props.other ? null : props.ghost, rows: rows.value }]
    : []),
  ...(panels.value.otherLanes && props.other
    ? [{ key: 'otherLanes', panel: panels.value.otherLanes, run: props.other, before: null, rows: props.other.lanes }]
    : []),
])
/** Words have so much height each; what a panel has no room for is left out. */
const LINE = 15
const readings = computed(() =>
  Object.entries(panels.value).map(([key, panel]) => {
    const name = key as PanelName // the names of runPanels
    return {
      name,
      top: panel.top,
      lines: readingsOf(name, frame.value, props.cursorSeconds).slice(0, Math.max(2, Math.floor((panel.height + 8) / LINE))),
    }
  }),
)
const seen = computed(() => props.cursorSeconds >= timeline.value.fromSeconds - 1 && props.cursorSeconds <= timeline.value.untilSeconds + 1)

function place(event: PointerEvent | WheelEvent): number {
  const rect = (event.currentTarget as HTMLElement).getBoundingClientRect()
  return held(x.value.invert(event.clientX - rect.left))
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
  const seconds = x.value.invert(drag.x) - x.value.invert(event.clientX)
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
    ArrowLeft: () =>
      event.shiftKey ? pan(-0.25) : emit('update:cursorSeconds', held(props.cursorSeconds - step * (event.ctrlKey ? 12 : 1))),
    ArrowRight: () =>
      event.shiftKey ? pan(0.25) : emit('update:cursorSeconds', held(props.cursorSeconds + step * (event.ctrlKey ? 12 : 1))),
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
    <div
      tabindex="0"
      role="slider"
      class="relative touch-none select-none"
      :style="{ width: `${width}px`, height: `${height}px` }"
      aria-label="Time under the cursor"
      :aria-valuemin="0"
      :aria-valuemax="Math.round(plan.horizon.seconds)"
      :aria-valuenow="Math.round(cursorSeconds)"
      :aria-valuetext="clock(plan.horizon.start, cursorSeconds)"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="release"
      @pointercancel="drag = null"
      @wheel.prevent="zoom($event.deltaY < 0 ? ZOOM : 1 / ZOOM, place($event))"
      @dblclick="emit('look', 0, plan.horizon.seconds)"
      @keydown="key">
      <div v-for="c in charts" :key="c.name" class="absolute left-0" :style="{ top: `${c.top}px` }">
        <ChartPicture :x="c.x" :y="c.y" :series="c.series" :marks="c.marks" :width="width" :height="c.room">
          <span
            v-for="(b, i) in c.beside"
            :key="i"
            class="chart-word"
            :style="{ left: `${width - PLOT.right + 6}px`, top: `${c.y.scale(b.value) - 8}px`, color: `var(${b.colour})` }"
            >{{ b.words }}</span
          >
        </ChartPicture>
      </div>
      <LanePanel
        v-for="l in lanes"
        :key="l.key"
        class="absolute left-0"
        :style="{ top: `${l.panel.top}px` }"
        :run="l.run"
        :before="l.before"
        :rows="l.rows"
        :startup-seconds="startupSeconds"
        :width="width"
        :height="l.panel.height" />
      <p v-for="r in readings" :key="r.name" class="chart-word" :style="{ left: 0, top: `${r.top - 2}px`, width: `${PLOT.left - 6}px` }">
        <span v-for="(l, i) in r.lines" :key="i" class="reading" :class="l.look">{{ l.words }}</span>
      </p>
      <template v-if="seen">
        <span class="cursor-line" :style="{ left: `${x(cursorSeconds)}px`, top: 0, height: `${height - BOTTOM + 2}px` }" />
        <span
          class="cursor-time"
          :style="{
            left: `${Math.min(width - PLOT.right - 40, Math.max(PLOT.left + 40, x(cursorSeconds)))}px`,
            top: `${height - BOTTOM + 2}px`,
          }"
          >{{ clock(plan.horizon.start, cursorSeconds) }}</span
        >
      </template>
    </div>
    <PolicyTabs
      v-if="policy && panels.lanes && !other"
      :plan="plan"
      :policy="policy"
      :run="run"
      :lanes="panels.lanes"
      :reads="reads ? panels.reads : undefined"
      :rows="rows"
      :width="width"
      :show-reading="reads?.show ?? String"
      @change="(p) => emit('policy', p)" />
  </div>
</template>

<style scoped>
.reading {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
.value,
.late {
  font-size: 12.5px;
  font-weight: 600;
  color: var(--color-ink);
}
.late {
  color: var(--color-rust);
}
.cursor-time {
  position: absolute;
  translate: -50% 0;
  padding: 0 6px;
  font-size: 12px;
  font-weight: 600;
  line-height: 18px;
  white-space: nowrap;
  pointer-events: none;
  color: var(--color-paper);
  background: var(--color-ink);
}
</style>
