<script setup lang="ts">
import { bare, duration, percent, type Predicted, type ProbedRequest } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, ref, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'
import WordChoice from '../frame/WordChoice.vue'
import { BESIDE, besideOf, stair, type BesideOf } from './beside.ts'

/** Prediction beside measurement: as distributions over each other, request by request, or over time. */
const props = defineProps<{
  rows: readonly ProbedRequest[]
  predicted: readonly Predicted[]
  /** parts that judged; the others were fitted */
  judging: readonly string[]
  height: number
}>()
const of = ref<BesideOf>('first')
const way = ref<'over' | 'each' | 'time'>('over')
const FIGURES = (Object.keys(BESIDE) as BesideOf[]).map((value) => ({ value, words: BESIDE[value] }))
const WAYS = [
  { value: 'over' as const, words: 'over each other' },
  { value: 'each' as const, words: 'request by request' },
  { value: 'time' as const, words: 'over time' },
]

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 56, right: 16, top: 20, bottom: 34 }
const ROUND = [1e-4, 1e-3, 1e-2, 0.1, 1, 10, 100, 1000].flatMap((d) => [d, 2 * d, 5 * d])
const MOST_TICKS = 7

const all = computed(() => besideOf(props.rows, props.predicted, of.value, (part) => props.judging.includes(part)))
const judged = computed(() => all.value.filter((b) => b.judging))
/** What was not fitted, where there is such. */
const shown = computed(() => (judged.value.length > 0 ? judged.value : all.value))
const ends = computed(() => {
  const values = (way.value === 'each' ? all.value : shown.value).flatMap((b) => [b.measured, b.predicted]).filter((s) => s > 0)
  return [values.reduce((a, b) => Math.min(a, b), Infinity) * 0.9, values.reduce((a, b) => Math.max(a, b), 0) * 1.1]
})
const seconds = (range: [number, number]): Axis => {
  const scale = scaleLog(ends.value, range)
  const ticks = ROUND.filter((t) => t >= ends.value[0] && t <= ends.value[1])
  const every = Math.ceil(ticks.length / MOST_TICKS)
  return { scale, log: true, ticks: ticks.filter((_, i) => i % every === 0).map((at) => ({ at, label: bare(duration(at)) })) }
}
const shares: Axis['ticks'] = [0, 0.25, 0.5, 0.75, 0.95].map((at) => ({ at, label: bare(percent(at)) }))

const x = computed((): Axis => {
  const range = across(PLOT, width.value)
  if (way.value !== 'time') return seconds(range)
  const due = shown.value.map((b) => b.due)
  const scale = scaleLinear([due.reduce((a, b) => Math.min(a, b), Infinity), due.reduce((a, b) => Math.max(a, b), 0) + 1], range)
  return { scale, ticks: scale.ticks(5).map((at) => ({ at, label: bare(duration(at)) })) }
})
const y = computed((): Axis =>
  way.value === 'over' ? { scale: scaleLinear([0, 1], upward(PLOT, props.height)), ticks: shares } : seconds(upward(PLOT, props.height)),
)
const SERIES: Record<typeof way.value, () => Series[]> = {
  over: () => [
    { kind: 'line', points: stair(shown.value.map((b) => b.measured)), colour: '--water', width: 3, stepped: true },
    { kind: 'line', points: stair(shown.value.map((b) => b.predicted)), colour: '--ink', width: 1.4, dash: [4, 3], stepped: true },
  ],
  each: () => [
    { kind: 'line', points: ends.value.map((v) => ({ x: v, y: v })), colour: '--faded', width: 1, dash: [4, 3] },
    {
      kind: 'points',
      points: all.value.filter((b) => !b.judging).map((b) => ({ x: b.measured, y: b.predicted })),
      colour: '--sand',
      shape: 'ring',
      radius: 3,
    },
    { kind: 'points', points: judged.value.map((b) => ({ x: b.measured, y: b.predicted })), colour: '--water', shape: 'disc', radius: 3.5 },
  ],
  time: () => [
    { kind: 'points', points: shown.value.map((b) => ({ x: b.due, y: b.measured })), colour: '--water', shape: 'disc', radius: 3.5 },
    { kind: 'points', points: shown.value.map((b) => ({ x: b.due, y: b.predicted })), colour: '--ink', shape: 'cross', radius: 3 },
  ],
}
const series = computed(() => SERIES[way.value]())
const NAMES = { over: 'share at or below it', each: 'predicted', time: 'took' }
</script>

<template>
  <div ref="box">
    <p class="mb-1 flex flex-wrap gap-x-6 gap-y-1.5 text-[0.95rem]">
      <WordChoice v-model="of" :options="FIGURES" label="Which time" />
      <WordChoice v-model="way" :options="WAYS" label="How prediction lies beside measurement" />
    </p>
    <ChartPicture
      :x="x"
      :y="y"
      :series="series"
      :width="width"
      :height="height"
      role="img"
      :aria-label="`Prediction beside measurement, ${BESIDE[of]}; the table below has the percentiles`">
      <span class="chart-word" :style="{ left: '0px', top: '0px' }"
        >{{ NAMES[way] }}:
        <template v-if="way === 'each'"
          ><span class="text-water">● judging</span>, <span class="text-sand">○ fitted</span>, on the line they agree</template
        ><template v-else
          ><span class="text-water">{{ way === 'over' ? '━' : '●' }} measured</span>,
          <span class="text-ink">{{ way === 'over' ? '┅' : '×' }} predicted</span></template
        ></span
      >
      <span class="chart-word" :style="{ right: `${PLOT.right}px`, bottom: '0px' }">{{
        way === 'time' ? 'due, after the beginning' : way === 'each' ? 'measured' : BESIDE[of]
      }}</span>
    </ChartPicture>
  </div>
</template>
