<script setup lang="ts">
import { bare, duration, type Calibration } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed } from 'vue'

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
const SHAPES: Record<Calibration['residuals'][number]['figure'], (x: number, y: number) => string> = {
  TTFT: (x, y) => `M${x - 4},${y}a4,4 0 1,0 8,0a4,4 0 1,0 -8,0`,
  TPOT: (x, y) => `M${x - 4},${y - 4}h8v8h-8Z`,
  latency: (x, y) => `M${x},${y - 5}l5,8h-10Z`,
}
const figures = computed(() => [...new Set(props.residuals.map((r) => r.figure))])
</script>

<template>
  <figure>
    <svg :width="SIZE" :height="SIZE" role="img" :aria-label="`Measured against fitted times; off by ${error} in the median`">
      <line :x1="PAD" :x2="SIZE - 6" :y1="SIZE - PAD" :y2="6" stroke="var(--faded)" stroke-dasharray="4 3" />
      <g v-for="t in ticks" :key="t"><text :x="x(t)" :y="SIZE - PAD + 14" text-anchor="middle" class="chart-axis">{{ bare(duration(t)) }}</text><text :x="PAD - 4" :y="y(t) + 4" text-anchor="end" class="chart-axis">{{ bare(duration(t)) }}</text></g>
      <path v-for="(r, i) in residuals" :key="i" :d="SHAPES[r.figure](x(r.measuredSeconds), y(Math.max(ends[0], r.fittedSeconds)))" :fill="r.figure === 'TTFT' ? 'none' : 'var(--water)'" stroke="var(--water)" stroke-width="1.400"><title>row {{ r.row + 1 }}, {{ r.figure }}: measured {{ duration(r.measuredSeconds) }}, fitted {{ duration(r.fittedSeconds) }}</title></path>
      <text :x="SIZE - 6" :y="SIZE - 4" text-anchor="end" class="chart-axis">measured</text><text x="2" y="12" class="chart-axis">fitted</text>
    </svg>
    <figcaption class="text-[0.8rem] text-faded"><span v-for="f in figures" :key="f" class="mr-3">{{ f === 'TTFT' ? '○' : f === 'TPOT' ? '■' : '▲' }} {{ f }}</span></figcaption>
  </figure>
</template>
