<script setup lang="ts">
import { bare, duration, type Predicted, type ProbedRequest } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Mark, Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'
import { levels, stretches, strokesOf, upright } from './strokes.ts'

/**
 * Every request that was measured, as a stroke that grows to the right as they end: dashed as long as it waits for its first token, whole
 * from there to its end, and across them what is predicted. The arrow keys go from one to the next.
 */
const props = defineProps<{ rows: readonly ProbedRequest[]; predicted: readonly Predicted[]; height: number; growing: boolean }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 56, right: 12, top: 20, bottom: 34 }
/** While requests come there is room for so many. */
const ROOM = 60
const WIDEST = 9
/** Narrower than this, words do not stand beneath a part. */
const WORD_PIXELS = 7

const strokes = computed(() => strokesOf(props.rows))
const x = computed(() => scaleLinear([0, Math.max(props.growing ? ROOM : 1, strokes.value.length)], across(PLOT, width.value)))
const longest = computed(() => strokes.value.reduce((most, s) => Math.max(most, s.endSeconds), 0.01))
const y = computed(() => scaleLinear([0, longest.value], upward(PLOT, props.height)).nice(4))
const xAxis = computed((): Axis => ({ scale: x.value, ticks: [], rules: false }))
const yAxis = computed((): Axis => ({
  scale: y.value,
  ticks: y.value.ticks(5).map((at) => ({ at, label: at === 0 ? '0' : bare(duration(at)) })),
}))
const thick = computed(() => Math.max(1, Math.min(WIDEST, 0.7 * (x.value(1) - x.value(0)))))

const series = computed((): Series[] => {
  const done = upright(strokes.value, (s) =>
    s.finished && !s.warmUp ? [Number.isNaN(s.firstSeconds) ? 0 : s.firstSeconds, s.endSeconds] : undefined,
  )
  const waited = upright(strokes.value, (s) => (s.finished && !s.warmUp && s.firstSeconds > 0 ? [0, s.firstSeconds] : undefined))
  const warm = upright(strokes.value, (s) => (s.warmUp ? [0, s.endSeconds] : undefined))
  const lost = upright(strokes.value, (s) => (s.finished || s.warmUp ? undefined : [0, s.endSeconds]))
  return [
    { kind: 'line', points: waited, colour: '--sand', width: thick.value, dash: [3, 2] },
    { kind: 'line', points: done, colour: '--water', width: thick.value },
    { kind: 'line', points: warm, colour: '--rule', width: thick.value },
    { kind: 'line', points: lost, colour: '--rust', width: thick.value, dash: [6, 3] },
    {
      kind: 'points',
      points: strokes.value.flatMap((s, i) => (s.finished || s.warmUp ? [] : [{ x: i + 0.5, y: s.endSeconds }])),
      colour: '--rust',
      shape: 'cross',
      radius: 4,
    },
    ...(props.predicted.length > 0
      ? ([
          { kind: 'line', points: levels(strokes.value, props.predicted, (p) => p.firstTokenSeconds), colour: '--ink', width: 1.4 },
          { kind: 'line', points: levels(strokes.value, props.predicted, (p) => p.latencySeconds), colour: '--ink', width: 1.8 },
        ] satisfies Series[])
      : []),
  ]
})
const parts = computed(() => stretches(strokes.value))
const marks = computed((): Mark[] => parts.value.slice(1).map((p) => ({ kind: 'line', x: p.from, colour: '--rule', width: 1.2 })))
/** What a part is called beneath it, as much as there is room for. */
const names = computed(() =>
  parts.value.map(({ part, from, until }) => {
    const room = Math.floor((x.value(until) - x.value(from) - 6) / WORD_PIXELS)
    return { part, left: x.value(from) + 3, words: part.length <= room ? part : room > 3 ? `${part.slice(0, room - 1)}…` : '' }
  }),
)

const rest = computed(() => {
  const every = Math.ceil(props.rows.length / Math.max(1, strokes.value.length))
  return `${every > 1 ? `one in ${every} of them` : 'a stroke each'}, in the order in which they were due`
})

const at = ref<number>()
const told = computed(() => {
  const stroke = at.value === undefined ? undefined : strokes.value[at.value]
  if (!stroke) return ''
  const own = props.predicted.find((p) => p.number === stroke.number)
  const first = Number.isNaN(stroke.firstSeconds) ? '' : `first token after ${duration(stroke.firstSeconds)}, `
  const expected = own ? `; predicted ${duration(own.firstTokenSeconds)} and ${duration(own.latencySeconds)}` : ''
  return `request ${stroke.number + 1} of “${stroke.part}”: ${first}${stroke.finished ? 'end' : 'not answered,'} after ${duration(stroke.endSeconds)}${expected}`
})
function point(event: PointerEvent): void {
  const { left } = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const place = Math.floor(x.value.invert(event.clientX - left))
  at.value = place >= 0 && place < strokes.value.length ? place : undefined
}
function walk(by: number): void {
  at.value = Math.min(strokes.value.length - 1, Math.max(0, (at.value ?? -1) + by))
}
</script>

<template>
  <div ref="box">
    <div
      class="relative"
      tabindex="0"
      role="slider"
      aria-label="Request under the cursor"
      :aria-valuenow="(at ?? 0) + 1"
      :aria-valuemin="1"
      :aria-valuemax="Math.max(1, strokes.length)"
      :aria-valuetext="told || `${strokes.length} requests; the tables below have their figures`"
      @pointermove="point"
      @pointerleave="at = undefined"
      @keydown.right.prevent="walk($event.ctrlKey ? 10 : 1)"
      @keydown.left.prevent="walk($event.ctrlKey ? -10 : -1)">
      <ChartPicture :x="xAxis" :y="yAxis" :series="series" :marks="marks" :width="width" :height="height">
        <span class="chart-word" :style="{ left: '0px', top: '0px' }"
          >after it was due: <span class="text-sand">dashed, until its first token</span>;
          <span class="text-water">whole, until its end</span
          ><template v-if="predicted.length > 0">; <span class="text-ink">across: as predicted</span></template></span
        >
        <span v-for="n in names" :key="n.part" class="chart-word" :style="{ left: `${n.left}px`, top: `${height - 30}px` }">{{
          n.words
        }}</span>
        <span
          v-if="at !== undefined"
          class="cursor-line"
          :style="{ left: `${x(at + 0.5)}px`, top: `${PLOT.top}px`, height: `${height - PLOT.top - PLOT.bottom}px` }" />
        <span class="chart-word" :style="{ left: `${PLOT.left}px`, top: `${height - 15}px` }">{{ told || rest }}</span>
      </ChartPicture>
    </div>
  </div>
</template>
