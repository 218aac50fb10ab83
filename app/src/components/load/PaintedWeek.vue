<script setup lang="ts">
import { clock, threeDigits } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref, shallowRef, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, LineSeries } from '../../charts/spec.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'
import type { Painted } from '../../edits/loadEdits.ts'

/** Rates of the hours of a day, the days of a week or the hours of the horizon, painted by pulling across them. */
const props = defineProps<{ painted: Painted; className: string; colour: string; start: string; height: number }>()
const emit = defineEmits<{ paint: [painted: Painted] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
/** Hours of the plan stand below those of the load curve. */
const PLOT = computed(() => ({ left: 44, right: props.painted.what === 'rates' ? 118 : 12, top: 12, bottom: 22 }))
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const HOUR_SECONDS = 3600
const ROOM_ABOVE = 1.3
const NUDGE = 0.05

/** what is being painted */
const draft = shallowRef<readonly number[] | null>(null)
const rates = computed(() => draft.value ?? props.painted.ratesPerSecond)
const count = computed(() => props.painted.ratesPerSecond.length)
/** Of what is there, not of what is being painted: the ground does not move under the hand. */
const top = computed(() => Math.max(0.01, ...props.painted.ratesPerSecond) * ROOM_ABOVE)
const x = computed(() => scaleLinear([0, count.value], across(PLOT.value, width.value)))
const y = computed(() => scaleLinear([0, top.value], upward(PLOT.value, props.height)))

const nameOf = (i: number): string => {
  if (props.painted.what === 'days') return DAYS[i]
  if (props.painted.what === 'hours') return `${i} h`
  return clock(props.start, i * HOUR_SECONDS)
}
const ticks = computed(() => {
  if (props.painted.what === 'days') return DAYS.map((label, i) => ({ at: i, label }))
  if (props.painted.what === 'rates')
    return timeTicks(props.start, 0, count.value * HOUR_SECONDS).map((t) => ({ at: t.seconds / HOUR_SECONDS, label: t.label }))
  return [0, 3, 6, 9, 12, 15, 18, 21].map((at) => ({ at, label: nameOf(at) }))
})
const xAxis = computed((): Axis => ({ scale: x.value, labels: 'after', ticks: ticks.value }))
const yAxis = computed((): Axis => ({ scale: y.value, ticks: y.value.ticks(3).map((t) => ({ at: t, label: String(t) })) }))
const stepped = (list: readonly number[]) => [...list, list.at(-1) ?? 0].map((r, i) => ({ x: i, y: r }))
const series = computed((): LineSeries[] => [
  ...(draft.value
    ? [{ kind: 'line' as const, points: stepped(props.painted.ratesPerSecond), colour: '--faded', width: 1, dash: [3, 3], stepped: true }]
    : []),
  {
    kind: 'line',
    points: stepped(rates.value),
    colour: props.colour,
    width: 1.4,
    stepped: true,
    fill: { to: 'axis', ink: { colour: props.colour, alpha: 0.22 } },
  },
])

const WHAT = {
  hours: 'in each hour of its busiest day',
  days: 'on each day, in its busiest hour',
  rates: 'in each hour of the plan',
} as const
const label = computed(() => `Requests a second of ${props.className} ${WHAT[props.painted.what]}`)

/** which of them the keyboard changes */
const at = ref(0)
const held = (i: number) => Math.min(count.value - 1, Math.max(0, i))
const spoken = computed(() => `${nameOf(held(at.value))}: ${threeDigits(rates.value[held(at.value)])} a second`)
let last: { i: number; rate: number } | null = null

function place(event: PointerEvent): { i: number; rate: number } {
  const rect = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const rate = Math.min(top.value, Math.max(0, y.value.invert(event.clientY - rect.top)))
  return { i: held(Math.floor(x.value.invert(event.clientX - rect.left))), rate: rate < top.value / 100 ? 0 : rate }
}
/** Everything between where the hand was and where it is: it may be faster than its moves are told. */
function stroke(event: PointerEvent): void {
  const now = place(event)
  const from = last ?? now
  const next = [...rates.value]
  const [a, b] = from.i <= now.i ? [from, now] : [now, from]
  for (let i = a.i; i <= b.i; i++) next[i] = a.i === b.i ? now.rate : a.rate + ((b.rate - a.rate) * (i - a.i)) / (b.i - a.i)
  draft.value = next
  at.value = now.i
  last = now
}
function press(event: PointerEvent): void {
  const ground = event.currentTarget as HTMLElement
  ground.setPointerCapture(event.pointerId)
  ground.focus()
  stroke(event)
}
function release(): void {
  if (draft.value) emit('paint', { ...props.painted, ratesPerSecond: draft.value })
  stop()
}
function stop(): void {
  draft.value = last = null
}
function nudge(direction: 1 | -1): void {
  const i = held(at.value)
  const rate = Math.max(0, props.painted.ratesPerSecond[i] + direction * NUDGE * (top.value / ROOM_ABOVE))
  emit('paint', { ...props.painted, ratesPerSecond: props.painted.ratesPerSecond.map((r, k) => (k === i ? rate : r)) })
}
const walk = (by: number) => (at.value = held(at.value + by))
</script>

<template>
  <div ref="box" class="min-w-0">
    <p class="text-[0.82rem] text-faded"
      >{{ label }}; pull across to paint. <span class="text-ink">{{ spoken }}</span></p
    >
    <ChartPicture
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :width="width"
      :height="height"
      class="cursor-crosshair touch-none select-none"
      role="slider"
      tabindex="0"
      :aria-label="label"
      :aria-valuenow="Number(rates[held(at)].toPrecision(3))"
      :aria-valuetext="spoken"
      @pointerdown.prevent="press"
      @pointermove="(event: PointerEvent) => (last ? stroke(event) : (at = place(event).i))"
      @pointerup="release"
      @pointercancel="stop"
      @keydown.left.prevent.stop="walk(-1)"
      @keydown.right.prevent.stop="walk(1)"
      @keydown.up.prevent.stop="nudge(1)"
      @keydown.down.prevent.stop="nudge(-1)">
      <span
        class="under"
        :style="{
          left: `${x(held(at))}px`,
          width: `${x(1) - x(0)}px`,
          top: `${PLOT.top}px`,
          height: `${height - PLOT.top - PLOT.bottom}px`,
        }" />
    </ChartPicture>
  </div>
</template>

<style scoped>
.under {
  position: absolute;
  min-width: 2px;
  pointer-events: none;
  background: color-mix(in srgb, var(--color-sand) 18%, transparent);
}
</style>
