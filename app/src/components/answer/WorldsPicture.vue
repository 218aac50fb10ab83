<script setup lang="ts">
import { bare, percent, type WorldsReport } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Mark, Point, Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** Worlds in the order of how much of the limit the tightest promise takes in them: discs that keep it, crosses that do not. */
const props = defineProps<{ report: WorldsReport; height: number }>()
const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 70, right: 16, top: 18, bottom: 8 }
/** What takes more, or can not be had, is drawn at the edge. */
const [LEAST, MOST] = [0.25, 4]

const strains = computed(() => props.report.strains.map((s) => Math.min(MOST, Math.max(LEAST, s ?? MOST))).sort((a, b) => a - b))
const x = computed(() => scaleLinear([0, Math.max(props.report.of, 1)], across(PLOT, width.value)))
const ends = computed((): [number, number] => [
  Math.min(0.8, 0.95 * (strains.value[0] ?? 1)),
  Math.max(1.25, 1.05 * (strains.value.at(-1) ?? 1)),
])
const y = computed(() => scaleLog(ends.value, upward(PLOT, props.height)))
const yAxis = computed((): Axis => ({
  scale: y.value,
  log: true,
  ticks: [0.25, 0.5, 0.7, 1, 1.2, 1.5, 2, 4]
    .filter((t) => t >= ends.value[0] && t <= ends.value[1])
    .map((at) => ({ at, label: bare(percent(at)) })),
}))
const xAxis = computed((): Axis => ({ scale: x.value, ticks: [], rules: false }))
const points = (of: (s: number) => boolean): Point[] => strains.value.flatMap((s, i) => (of(s) ? [{ x: i + 0.5, y: s }] : []))
const series = computed((): Series[] => [
  { kind: 'points', points: points((s) => s <= 1), colour: '--water', shape: 'disc', radius: 3.5 },
  { kind: 'points', points: points((s) => s > 1), colour: '--rust', shape: 'cross', radius: 4 },
])
const marks: Mark[] = [{ kind: 'line', y: 1, colour: '--rust', width: 1.2, dash: [4, 3] }]
</script>

<template>
  <div ref="box">
    <ChartPicture
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :marks="marks"
      :width="width"
      :height="height"
      role="img"
      :aria-label="`${report.kept} of ${report.settled} worlds keep every promise; the sentence above has the rest`">
      <span class="chart-word" :style="{ left: '0px', top: '0px' }"
        >of its limit the tightest promise takes; <span class="text-water">● worlds that keep it</span>,
        <span class="text-rust">× that do not</span></span
      >
    </ChartPicture>
  </div>
</template>
