<script setup lang="ts">
import { bare, duration, FIRST_EDGE_SECONDS, percent, type Distribution } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, pushedApart, upward } from '../../charts/plot.ts'
import type { Axis, Mark, Point, Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** How long it took, of each request: the first run as a heap, others as lines over it, with percentiles and promises marked. */
const props = defineProps<{
  runs: readonly { name: string; colour: string; dash: readonly number[]; of: Distribution }[]
  /** limits of promises on this measure */
  promises: readonly { words: string; seconds: number }[]
  height: number
}>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 44, right: 16, top: 38, bottom: 22 }
const LABEL_ROOM = 74
const first = computed(() => props.runs[0].of)

const ends = computed((): [number, number] => {
  const edges = props.runs.flatMap(({ of }) => of.bins.flatMap((b) => [b.fromSeconds, b.untilSeconds]))
  const all = [...edges.filter(Number.isFinite), ...props.promises.map((p) => p.seconds)]
  const [low, high] = all.length > 0 ? [Math.min(...all), Math.max(...all)] : [0.1, 10]
  return [Math.max(FIRST_EDGE_SECONDS, low / 1.15), Math.max(high * 1.15, low * 10)]
})
const x = computed(() => scaleLog(ends.value, across(PLOT, width.value)))
/** One, two and five of each power of ten, fewer where they would touch. */
const xAxis = computed((): Axis => {
  const decades = Math.log10(ends.value[1] / ends.value[0])
  const steps = decades > 4 ? [1] : decades > 2 ? [1, 3] : [1, 2, 5]
  const from = Math.floor(Math.log10(ends.value[0]))
  const ticks = Array.from({ length: Math.ceil(decades) + 2 }, (_, i) => steps.map((s) => s * 10 ** (from + i))).flat()
  return {
    scale: x.value,
    log: true,
    ticks: ticks.filter((t) => t >= ends.value[0] && t <= ends.value[1]).map((at) => ({ at, label: bare(duration(at)) })),
  }
})
const all = ({ spread }: Distribution) => Math.max(1, spread.count)
const top = computed(() => Math.max(0.01, ...props.runs.flatMap(({ of }) => of.bins.map((b) => b.requests / all(of)))))
const yAxis = computed((): Axis => {
  const scale = scaleLinear([0, top.value], upward(PLOT, props.height))
  return { scale, ticks: scale.ticks(3).map((at) => ({ at, label: at === 0 ? '' : bare(percent(at)) })) }
})

function outline(of: Distribution): Point[] {
  const last = of.bins.at(-1)
  if (!last) return []
  const edge = (seconds: number) => Math.min(ends.value[1], seconds)
  return [
    { x: of.bins[0].fromSeconds, y: 0 },
    ...of.bins.map((b) => ({ x: edge(b.fromSeconds), y: b.requests / all(of) })),
    { x: edge(last.untilSeconds), y: 0 },
  ]
}
const series = computed((): Series[] =>
  props.runs.map(({ of, colour, dash }, i) => ({
    kind: 'line',
    points: outline(of),
    stepped: true,
    colour,
    dash: i === 0 ? [] : dash,
    width: i === 0 ? 0.8 : 1.6,
    ...(i === 0 && { fill: { to: 'axis', ink: { colour, alpha: 0.4 } } }),
  })),
)
const SHARES = ['p50', 'p90', 'p95', 'p99'] as const
const percentiles = computed(() => {
  const shown = SHARES.flatMap((p) => {
    const seconds = first.value.spread[p]
    return seconds === undefined || seconds < ends.value[0] ? [] : [{ seconds, words: `${p} ${duration(seconds)}` }]
  })
  const lefts = pushedApart(
    shown.map((p) => Math.min(width.value - PLOT.right - LABEL_ROOM, x.value(p.seconds)) - 2),
    LABEL_ROOM,
  )
  return shown.map((p, i) => ({ ...p, left: lefts[i] }))
})
const promised = computed(() => {
  const lefts = pushedApart(
    props.promises.map((p) => x.value(p.seconds)),
    1,
  )
  return props.promises.map((p, i) => ({ ...p, left: lefts[i], turned: lefts[i] > width.value * 0.7 }))
})
const marks = computed((): Mark[] => [
  ...percentiles.value.map(({ seconds }): Mark => ({ kind: 'line', x: seconds, colour: '--faded', dash: [2, 3] })),
  ...props.promises.map(({ seconds }): Mark => ({ kind: 'line', x: seconds, colour: '--rust', width: 1.4, dash: [6, 3] })),
])
const label = computed(
  () =>
    `How long it took, on a logarithmic scale: ${percentiles.value.map((p) => p.words).join(', ') || 'no data'}; the table below has all of it`,
)
</script>

<template>
  <div ref="box">
    <ChartPicture :x="xAxis" :y="yAxis" :series="series" :marks="marks" :width="width" :height="height" role="img" :aria-label="label">
      <span v-for="p in percentiles" :key="p.words" class="chart-word" :style="{ left: `${p.left}px`, top: '0px' }">{{ p.words }}</span>
      <span
        v-for="(p, i) in promised"
        :key="p.words"
        class="chart-word text-rust"
        :style="{ left: `${p.left}px`, top: `${18 + i * 15}px`, transform: p.turned ? 'translateX(calc(-100% - 5px))' : 'translateX(5px)' }"
        >{{ p.words }}</span
      >
      <span class="chart-word" :style="{ left: '0px', top: '18px' }">share</span>
    </ChartPicture>
  </div>
</template>
