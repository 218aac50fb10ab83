<script setup lang="ts">
import { bare, threeDigits, type BendStep } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Mark, Point, Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** Answers a second over callers at once: as measured and as predicted, as broad as the step costs are in doubt; dashed beyond. */
const props = defineProps<{ steps: readonly BendStep[]; former: readonly BendStep[]; height: number }>()
const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 52, right: 20, top: 20, bottom: 34 }

const measured = computed(() => props.steps.filter((s) => s.measuredPerSecond !== undefined))
const known = computed(() => Math.max(...measured.value.map((s) => s.clients)))
const x = computed(() => scaleLog([1, Math.max(2, ...props.steps.map((s) => s.clients))], across(PLOT, width.value)))
const top = computed(() =>
  [...props.steps, ...props.former].reduce(
    (most, s) => Math.max(most, s.predictedPerSecond, s.band?.high ?? 0, s.measuredPerSecond ?? 0),
    0.001,
  ),
)
const y = computed(() => scaleLinear([0, top.value], upward(PLOT, props.height)).nice(4))
const xAxis = computed((): Axis => ({
  scale: x.value,
  log: true,
  ticks: props.steps.map((s) => ({ at: s.clients, label: String(s.clients) })),
}))
const yAxis = computed((): Axis => ({
  scale: y.value,
  ticks: y.value.ticks(4).map((at) => ({ at, label: at === 0 ? '0' : bare(threeDigits(at)) })),
}))
const line = (steps: readonly BendStep[], of: (s: BendStep) => number | undefined): Point[] =>
  steps.flatMap((s) => {
    const value = of(s)
    return value === undefined ? [] : [{ x: s.clients, y: value }]
  })
const unseen = { kind: 'line', colour: 'transparent', width: 0 } as const
const series = computed((): Series[] => {
  const within = props.steps.filter((s) => s.clients <= known.value)
  const beyond = props.steps.filter((s) => s.clients >= known.value)
  return [
    { ...unseen, points: line(props.steps, (s) => s.band?.low) },
    { ...unseen, points: line(props.steps, (s) => s.band?.high), fill: { to: 'line before', ink: { colour: '--sand', alpha: 0.35 } } },
    { kind: 'line', points: line(props.former, (s) => s.measuredPerSecond), colour: '--faded', width: 1, dash: [1, 3] },
    { kind: 'line', points: line(within, (s) => s.predictedPerSecond), colour: '--ink', width: 1.6 },
    { kind: 'line', points: line(beyond, (s) => s.predictedPerSecond), colour: '--ink', width: 1.4, dash: [5, 4] },
    { kind: 'points', points: line(props.former, (s) => s.measuredPerSecond), colour: '--faded', shape: 'square', radius: 3 },
    { kind: 'points', points: line(measured.value, (s) => s.measuredPerSecond), colour: '--water', shape: 'disc', radius: 5 },
  ]
})
const marks = computed((): Mark[] => [{ kind: 'line', x: known.value, colour: '--moss', dash: [4, 3] }])
const words = computed(() =>
  measured.value
    .map(
      (s) =>
        `${s.clients} at once: ${threeDigits(s.measuredPerSecond ?? NaN)} a second measured, ${threeDigits(s.predictedPerSecond)} predicted`,
    )
    .join('; '),
)
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
      :aria-label="`Where it bends. ${words}.`">
      <span class="chart-word" :style="{ left: '0px', top: '0px' }"
        >answers/s: <span class="text-water">● measured</span>, <span class="text-ink">― predicted</span
        ><template v-if="former.length > 0">, ■ before</template></span
      >
      <span class="chart-word text-moss" :style="{ left: `${x(known) + 4}px`, top: `${height - 50}px` }">measured up to here</span>
      <span class="chart-word" :style="{ right: `${PLOT.right}px`, bottom: '0px' }">callers at once</span>
    </ChartPicture>
  </div>
</template>
