<script setup lang="ts">
import { bare, duration, type Calibration } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import type { Axis, PointSeries, Series } from '../../charts/spec.ts'

/** Measured against fitted: on the line they agree. Shapes tell the figures apart. */
const props = defineProps<{ residuals: Calibration['residuals']; error: string }>()
const SIZE = 220
const PAD = 50
const ends = computed(() => {
  const all = props.residuals.flatMap((r) => [r.measuredSeconds, r.fittedSeconds]).filter((s) => s > 0)
  return [Math.min(...all) * 0.85, Math.max(...all) * 1.15]
})
const x = computed(() => scaleLog(ends.value, [PAD, SIZE - 6]))
const y = computed(() => scaleLog(ends.value, [SIZE - PAD, 6]))
const ROUND = [1e-4, 1e-3, 1e-2, 0.1, 1, 10, 100].flatMap((d) => [d, 3 * d])
const ticks = computed(() => ROUND.filter((t) => t >= ends.value[0] && t <= ends.value[1]))
const axis = (scale: Axis['scale']): Axis => ({
  scale,
  log: true,
  rules: false,
  ticks: ticks.value.map((t) => ({ at: t, label: bare(duration(t)) })),
})
const SHAPES: Record<Calibration['residuals'][number]['figure'], PointSeries['shape']> = {
  TTFT: 'ring',
  TPOT: 'square',
  latency: 'triangle',
}
const figures = computed(() => [...new Set(props.residuals.map((r) => r.figure))])
const at = (r: Calibration['residuals'][number]) => ({ x: r.measuredSeconds, y: Math.max(ends.value[0], r.fittedSeconds) })
const series = computed((): Series[] => [
  { kind: 'line', points: ends.value.map((v) => ({ x: v, y: v })), colour: '--faded', width: 1, dash: [4, 3] },
  ...figures.value.map((f): Series => ({
    kind: 'points',
    points: props.residuals.filter((r) => r.figure === f).map(at),
    colour: '--water',
    shape: SHAPES[f],
    radius: 4,
  })),
])
</script>

<template>
  <figure>
    <ChartPicture
      :x="axis(x)"
      :y="axis(y)"
      :series="series"
      :width="SIZE"
      :height="SIZE"
      role="img"
      :aria-label="`Measured against fitted times; off by ${error} in the median`">
      <span
        v-for="(r, i) in residuals"
        :key="i"
        class="absolute size-3 -translate-1/2"
        :style="{ left: `${x(r.measuredSeconds)}px`, top: `${y(at(r).y)}px` }"
        :title="`row ${r.row + 1}, ${r.figure}: measured ${duration(r.measuredSeconds)}, fitted ${duration(r.fittedSeconds)}`" />
      <span class="chart-word" :style="{ right: '6px', bottom: '4px' }">measured</span
      ><span class="chart-word" :style="{ left: '2px', top: 0 }">fitted</span>
    </ChartPicture>
    <figcaption class="text-[0.8rem] text-faded"
      ><span v-for="f in figures" :key="f" class="mr-3">{{ f === 'TTFT' ? '○' : f === 'TPOT' ? '■' : '▲' }} {{ f }}</span></figcaption
    >
  </figure>
</template>
