<script setup lang="ts">
import { bare, clock, duration, threeDigits } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across } from '../../charts/plot.ts'
import { bareAxis, type Axis, type LineSeries, type Mark } from '../../charts/spec.ts'
import { classColour, classDash } from '../../composables/classColour.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'
import type { CompareRow } from './series.ts'

/**
 * Pinned runs over one another on the same axes: a line each, the difference of one to the reference filled where it is
 * less and hatched where it is more. Arrow keys move the cursor.
 */
const props = defineProps<{
  rows: readonly CompareRow[]
  /** name of the promise whose percentile the first row shows */
  promise: string
  /** places of the reference and of the run whose difference to it is filled */
  reference: number
  other: number
  horizonSeconds: number
  startIso: string
  height: number
}>()
const cursorSeconds = defineModel<number>('cursorSeconds', { required: true })

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 112, right: 74, bottom: 20 }
const GAP = 14
const SHARES = [0.42, 0.2, 0.19, 0.19]

const pieces = computed(() => props.rows[0]?.series[0]?.length ?? 0)
const x = computed(() => scaleLinear([0, props.horizonSeconds], across(PLOT, width.value)))
const ticks = computed(() => timeTicks(props.startIso, 0, props.horizonSeconds).map((t) => ({ at: t.seconds, label: t.label })))
/** The time axis is written once, below the last row. */
const xAxis = (isLast: boolean): Axis => ({
  scale: x.value,
  labels: 'after',
  ticks: isLast ? ticks.value : ticks.value.map((t) => ({ ...t, label: '' })),
})

/** Every row with its place, its scale and what is drawn in it. */
const panels = computed(() => {
  const shares = props.rows.length === SHARES.length ? SHARES : props.rows.map(() => 1 / props.rows.length)
  const room = props.height - PLOT.bottom - GAP * (props.rows.length - 1)
  let top = 0
  return props.rows.map((row, r) => {
    const height = Math.round(room * shares[r])
    const at = top
    top += height + GAP
    const isLast = r === props.rows.length - 1
    const scale = scaleOf(row, height)
    return {
      row,
      top: at,
      height,
      room: height + (isLast ? PLOT.bottom : 2),
      y: scale,
      xAxis: xAxis(isLast),
      yAxis: bareAxis(scale, row.logarithmic),
      series: seriesOf(row, scale.domain()),
      marks: marksOf(row),
    }
  })
})

function scaleOf(row: CompareRow, height: number) {
  const finite = row.series.flat().filter((v) => Number.isFinite(v))
  const most = Math.max(row.limit ?? 0, ...[0.5, 0].map((d) => finite.reduce((m, v) => Math.max(m, v), d)))
  const least = Math.max(
    1e-3,
    Math.min(
      row.limit ?? Infinity,
      finite.reduce((m, v) => (v > 0 ? Math.min(m, v) : m), Infinity),
    ),
  )
  return row.logarithmic ? scaleLog([least / 1.2, Math.max(most, least * 2) * 1.2], [height, 2]) : scaleLinear([0, most], [height, 2])
}

/**
 * The difference of one run to the reference, filled where it is less and hatched where it is more; then a line for each. Endless waits
 * lie at the top.
 */
function seriesOf(row: CompareRow, [low, high]: number[]): LineSeries[] {
  const piece = props.horizonSeconds / Math.max(1, pieces.value)
  const held = (v: number) => (Number.isNaN(v) ? NaN : Math.min(high, Math.max(low, v)))
  const points = (s: readonly number[]) => [
    ...s.map((v, i) => ({ x: i * piece, y: held(v) })),
    { x: s.length * piece, y: held(s.at(-1) ?? NaN) },
  ]
  const [reference, other] = [row.series[props.reference], row.series[props.other]]
  const unseen = { kind: 'line', colour: 'transparent', width: 0, stepped: true } as const
  const between: LineSeries[] =
    other && reference && props.other !== props.reference
      ? [
          { ...unseen, points: points(reference) },
          {
            ...unseen,
            points: points(other),
            fill: { to: 'line before', ink: { colour: '--rust', hatch: 'slant', alpha: 0.8 }, below: { colour: '--moss', alpha: 0.35 } },
          },
        ]
      : []
  return [
    ...between,
    ...row.series.map((s, i): LineSeries => ({
      kind: 'line',
      points: points(s),
      stepped: true,
      colour: classColour(i),
      dash: classDash(i),
      width: i === props.other || i === props.reference ? 1.8 : 1.1,
    })),
  ]
}
function marksOf({ limit }: CompareRow): Mark[] {
  return limit === undefined ? [] : [{ kind: 'line', y: limit, colour: '--rust', dash: [4, 3] }]
}
const cursor = computed(() =>
  Math.min(Math.max(0, pieces.value - 1), Math.max(0, Math.floor((cursorSeconds.value / props.horizonSeconds) * pieces.value) || 0)),
)
const shown = (row: CompareRow, v: number | undefined) =>
  v === undefined || Number.isNaN(v) ? '–' : v === Infinity ? 'lost' : row.unit === 's' ? bare(duration(v)) : threeDigits(v)

function point(event: PointerEvent): void {
  const { left } = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const share = (event.clientX - left - PLOT.left) / (width.value - PLOT.left - PLOT.right)
  if (share >= 0 && share <= 1) cursorSeconds.value = share * props.horizonSeconds
}
function walk(by: number): void {
  cursorSeconds.value = Math.min(props.horizonSeconds, Math.max(0, ((cursor.value + by + 0.5) / pieces.value) * props.horizonSeconds))
}
</script>

<template>
  <div ref="box" class="relative">
    <div
      class="relative"
      :style="{ width: `${width}px`, height: `${height}px` }"
      tabindex="0"
      role="slider"
      aria-label="Time under the cursor"
      :aria-valuenow="Math.round(cursorSeconds)"
      :aria-valuemin="0"
      :aria-valuemax="horizonSeconds"
      :aria-valuetext="clock(startIso, cursorSeconds || 0)"
      @pointermove="point"
      @keydown.right.prevent="walk($event.ctrlKey ? 24 : 1)"
      @keydown.left.prevent="walk($event.ctrlKey ? -24 : -1)">
      <div v-for="p in panels" :key="p.row.name" class="absolute left-0" :style="{ top: `${p.top}px` }">
        <ChartPicture :x="p.xAxis" :y="p.yAxis" :series="p.series" :marks="p.marks" :width="width" :height="p.room">
          <span
            v-if="p.row.limit !== undefined"
            class="chart-word"
            :style="{ right: `${PLOT.right + 4}px`, top: `${p.y(p.row.limit) + (p.y(p.row.limit) < 16 ? 1 : -16)}px` }"
            >limit {{ bare(duration(p.row.limit)) }}</span
          >
          <span class="chart-word chart-name text-ink" :style="{ left: 0, top: 0 }">{{ p.row.name }}</span>
          <span v-if="p.row.name !== ''" class="chart-word" :style="{ left: 0, top: '15px' }">{{ p.row.unit }}</span>
          <span
            v-for="(s, i) in p.row.series"
            :key="`v${i}`"
            class="chart-word tabular-nums"
            :style="{ left: `${width - PLOT.right + 8}px`, top: `${i * 14 - 1}px`, color: classColour(i) }"
            >{{ String.fromCharCode(65 + i) }} {{ shown(p.row, s[cursor]) }}</span
          >
        </ChartPicture>
      </div>
      <span
        class="cursor-line"
        :style="{ left: `${x(((cursor + 0.5) * horizonSeconds) / Math.max(1, pieces))}px`, top: 0, height: `${height - PLOT.bottom}px` }" />
    </div>
    <p v-if="rows[0]?.name === ''" class="pointer-events-none absolute left-0 top-0 w-[104px] text-[0.86rem] leading-tight">
      {{ promise }}
    </p>
  </div>
</template>
