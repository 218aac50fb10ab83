<script setup lang="ts">
import { duration, grouped, type CallersMet, type Plan } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across } from '../../charts/plot.ts'
import { pixelAxis, type Axis, type LineSeries, type Mark } from '../../charts/spec.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** When callers waited for a start-up, were turned away or gave up: a line of strokes each, by when they called. */
const props = defineProps<{ plan: Plan; met: readonly CallersMet[]; cursorSeconds: number }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 128, right: 88 }
const ROW = 26
const BOTTOM = 22

const KINDS = [
  { of: 'cold', words: 'waited for a start', colour: '--sand' },
  { of: 'refused', words: 'turned away', colour: '--rust' },
  { of: 'gaveUp', words: 'gave up', colour: '--ink' },
] as const
const rows = computed(() =>
  KINDS.map((k) => {
    const each = props.met.map((m) => m.overTime[k.of])
    const counts = (each[0] ?? []).map((_, i) => each.reduce((sum, one) => sum + one[i], 0))
    return { ...k, counts, all: counts.reduce((a, b) => a + b, 0), most: Math.max(0, ...counts) }
  }).filter((r) => r.all > 0),
)
const pieceSeconds = computed(() => props.met[0]?.overTime.pieceSeconds ?? 3600)
const height = computed(() => rows.value.length * ROW + BOTTOM)
const x = computed(() => scaleLinear([0, props.plan.horizon.seconds], across(PLOT, width.value)))
const xAxis = computed((): Axis => ({
  scale: x.value,
  labels: 'after',
  ticks: timeTicks(props.plan.horizon.start, 0, props.plan.horizon.seconds).map((t) => ({ at: t.seconds, label: t.label })),
}))
const foot = (row: number) => (row + 1) * ROW - 3
const series = computed(() =>
  rows.value.map((r, row): LineSeries => ({
    kind: 'line',
    colour: r.colour,
    width: 2,
    points: r.counts.flatMap((n, i) => {
      const at = (i + 0.5) * pieceSeconds.value
      // One caller is to be seen beside thousands.
      const tall = 3 + ((ROW - 9) * n) / r.most
      return n === 0
        ? []
        : [
            { x: at, y: foot(row) },
            { x: at, y: foot(row) - tall },
            { x: at, y: NaN },
          ]
    }),
  })),
)
const marks = computed((): Mark[] => [
  ...rows.value.map((_, row): Mark => ({ kind: 'line', y: foot(row), colour: '--rule', width: 1 })),
  { kind: 'line', x: props.cursorSeconds, colour: '--ink', width: 1 },
])
</script>

<template>
  <div v-if="rows.length > 0" ref="box" class="relative mt-1">
    <ChartPicture :x="xAxis" :y="pixelAxis(height - BOTTOM)" :series="series" :marks="marks" :width="width" :height="height">
      <template v-for="(r, row) in rows" :key="r.of">
        <span class="absolute left-0 text-[0.82rem] text-faded" :style="{ top: `${row * ROW + 6}px` }">{{ r.words }}</span>
        <span class="absolute right-0 w-20 text-[0.82rem]" :style="{ top: `${row * ROW + 6}px` }"
          >{{ grouped(r.all, 0) }} <span class="text-faded">most {{ grouped(r.most, 0) }}</span></span
        >
      </template>
    </ChartPicture>
    <p class="text-[0.82rem] text-faded">By when they called, in pieces of {{ duration(pieceSeconds) }}.</p>
  </div>
</template>
