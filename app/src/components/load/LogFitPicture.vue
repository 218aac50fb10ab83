<script setup lang="ts">
import { bare, duration, likenessPerHour, threeDigits, type Aspect, type ClassFit } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Point, Series } from '../../charts/spec.ts'
import { classColour } from '../../composables/classColour.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** What came in each hour of a log, filled, and the rate that stands for it, as a line over it. */
const props = defineProps<{ fit: ClassFit; taken: ReadonlySet<Aspect>; index: number; height: number }>()

const fitted = computed(() => likenessPerHour(props.fit, props.taken))

const PLOT = { left: 44, right: 120, top: 8, bottom: 20 }
const HOURS_A_DAY = 24
const MOST_DAYS_MARKED = 14
const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const count = computed(() => props.fit.perHour.length)
const top = computed(() => Math.max(1e-9, ...props.fit.perHour, ...fitted.value))
const every = computed(() => Math.ceil(count.value / HOURS_A_DAY / MOST_DAYS_MARKED))
const x = computed((): Axis => {
  const days = Array.from({ length: Math.floor(count.value / HOURS_A_DAY / every.value) + 1 }, (_, i) => i * every.value)
  return {
    scale: scaleLinear([0, count.value], across(PLOT, width.value)),
    ticks: days.map((day) => ({ at: day * HOURS_A_DAY, label: day === 0 ? '' : `${day} d` })),
    rules: false,
  }
})
const y = computed((): Axis => {
  const scale = scaleLinear([0, top.value], upward(PLOT, props.height))
  return { scale, ticks: scale.ticks(3).map((at) => ({ at, label: at === 0 ? '0' : bare(threeDigits(at)) })) }
})
const stairs = (rates: readonly number[]): Point[] => [...rates, rates.at(-1) ?? 0].map((r, i) => ({ x: i, y: r }))
const series = computed((): Series[] => [
  {
    kind: 'line',
    points: stairs(props.fit.perHour),
    colour: 'transparent',
    width: 0,
    stepped: true,
    fill: { to: 'axis', ink: { colour: classColour(props.index), alpha: 0.25 } },
  },
  { kind: 'line', points: stairs(fitted.value), colour: '--ink', width: 1.2, stepped: true },
])
</script>

<template>
  <div
    ref="box"
    role="img"
    :aria-label="`${fit.name}: arrivals a second in each hour of ${duration(fit.seconds)}, and the rate that stands for them`">
    <ChartPicture :x="x" :y="y" :series="series" :width="width" :height="height">
      <span class="chart-word" :style="{ left: `${width - PLOT.right + 6}px`, top: '4px' }">filled: what came, /s</span>
      <span class="chart-word" :style="{ left: `${width - PLOT.right + 6}px`, top: '22px' }">line: its likeness</span>
    </ChartPicture>
  </div>
</template>
