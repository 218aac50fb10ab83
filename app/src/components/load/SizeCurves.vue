<script setup lang="ts">
import { grouped, threeDigits, type ClassPicture, type SizeHistogram } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across } from '../../charts/plot.ts'
import { bareAxis, type Axis, type LineSeries } from '../../charts/spec.ts'
import { classColour } from '../../composables/classColour.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** How long requests are: prompts above each line, answers below it, on one logarithmic axis. */
const props = defineProps<{ classes: readonly ClassPicture[] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 190, right: 16 }
const ROW = 66
const HALF = 25
const height = computed(() => props.classes.length * ROW + 26)
const largest = computed(() => Math.max(100, ...props.classes.flatMap((c) => [c.input.edges.at(-1) ?? 0, c.output?.edges.at(-1) ?? 0])))
const x = computed(() => scaleLog([1, largest.value], across(PLOT, width.value)))
const xAxis = computed((): Axis => ({
  scale: x.value,
  log: true,
  ticks: Array.from({ length: Math.floor(Math.log10(largest.value)) + 1 }, (_, i) => ({ at: 10 ** i, label: grouped(10 ** i, 0) })),
}))
/** Every class has a row, one high, with its line in the middle. */
const yAxis = computed(() => bareAxis(scaleLinear([0, props.classes.length], [height.value - 22, 4])))
const middleOf = (row: number) => props.classes.length - row - 0.5

function outline(h: SizeHistogram, row: number, direction: 1 | -1): LineSeries['points'] {
  if (h.shares.length === 0) return []
  const top = Math.max(...h.shares)
  const base = middleOf(row)
  const corners = h.shares.flatMap((s, i) =>
    [h.edges[i], h.edges[i + 1]].map((edge) => ({ x: edge, y: base + direction * (s / top) * (HALF / ROW) })),
  )
  return [{ x: h.edges[0], y: base }, ...corners, { x: h.edges[h.edges.length - 1], y: base }]
}
/** A curve stands on the line of its row: above it prompts, below it answers. */
const series = computed((): LineSeries[] =>
  props.classes.flatMap((c, i) => {
    const line: LineSeries = {
      kind: 'line',
      points: [
        { x: 1, y: middleOf(i) },
        { x: largest.value, y: middleOf(i) },
      ],
      colour: '--faded',
      width: 0.7,
    }
    const half = (h: SizeHistogram, direction: 1 | -1, alpha: number, width: number): LineSeries[] => [
      { kind: 'line', points: outline(h, i, direction).map((p) => ({ ...p, y: middleOf(i) })), colour: 'transparent', width: 0 },
      {
        kind: 'line',
        points: outline(h, i, direction),
        colour: classColour(i),
        width,
        fill: { to: 'line before', ink: { colour: classColour(i), alpha } },
      },
    ]
    return [...half(c.input, 1, 0.55, 0), ...(c.output ? half(c.output, -1, 0.22, 0.8) : []), line]
  }),
)
const words = (what: string, h: SizeHistogram, unit: string) =>
  h.median === null ? `${what}: no data` : `${what} ${threeDigits(h.median)} ${unit}, p95 ${threeDigits(h.p95)}`
</script>

<template>
  <div ref="box">
    <ChartPicture
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :width="width"
      :height="height"
      role="img"
      aria-label="Sizes of requests by class, on a logarithmic axis">
      <p v-for="(c, i) in classes" :key="c.name" class="chart-word" :style="{ left: 0, top: `${i * ROW + ROW / 2 - 22}px` }">
        <span class="chart-name block" :style="{ color: classColour(i) }">{{ c.name }}</span>
        <span class="block">{{ c.output ? words('prompt', c.input, 'tokens') : words('work', c.input, 'units') }}</span>
        <span v-if="c.output" class="block">{{ words('answer', c.output, 'tokens') }}</span>
      </p>
    </ChartPicture>
  </div>
</template>
