<script setup lang="ts">
import { bare, clock, duration, threeDigits } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import { classColour, classDash } from '../../composables/classColour.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'
import { fillBetween, stepPath, type CompareRow } from './series.ts'

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
const LEFT = 112
const RIGHT = 74
const BOTTOM = 20
const GAP = 14
const SHARES = [0.42, 0.2, 0.19, 0.19]

const pieces = computed(() => props.rows[0]?.series[0]?.length ?? 0)
const x = (i: number) => LEFT + (i * (width.value - LEFT - RIGHT)) / Math.max(1, pieces.value)
const xAt = (seconds: number) => LEFT + (seconds / props.horizonSeconds) * (width.value - LEFT - RIGHT)
const ticks = computed(() => timeTicks(props.startIso, 0, props.horizonSeconds))

/** Every row with its place and scale; endless waits are drawn at the top. */
const panels = computed(() => {
  const shares = props.rows.length === SHARES.length ? SHARES : props.rows.map(() => 1 / props.rows.length)
  const room = props.height - BOTTOM - GAP * (props.rows.length - 1)
  let top = 0
  return props.rows.map((row, r) => {
    const height = room * shares[r]
    const at = top
    top += height + GAP
    const finite = row.series.flat().filter((v) => Number.isFinite(v))
    const most = Math.max(row.limit ?? 0, ...[0.5, 0].map((d) => finite.reduce((m, v) => Math.max(m, v), d)))
    const least = Math.max(1e-3, Math.min(row.limit ?? Infinity, finite.reduce((m, v) => (v > 0 ? Math.min(m, v) : m), Infinity)))
    const scale = row.logarithmic ? scaleLog([least / 1.2, Math.max(most, least * 2) * 1.2], [at + height, at + 2]) : scaleLinear([0, most], [at + height, at + 2])
    const y = (v: number) => Math.max(at + 1, Math.min(at + height, v === Infinity ? at + 1 : scale(row.logarithmic ? Math.max(v, least / 1.2) : v)))
    const [reference, other] = [row.series[props.reference], row.series[props.other]]
    return {
      row, top: at, height, y,
      lines: row.series.map((s) => stepPath(s, x, y)),
      less: other && reference && props.other !== props.reference ? fillBetween(other, reference, false, x, y) : '',
      more: other && reference && props.other !== props.reference ? fillBetween(other, reference, true, x, y) : '',
    }
  })
})
const cursor = computed(() => Math.min(Math.max(0, pieces.value - 1), Math.max(0, Math.floor((cursorSeconds.value / props.horizonSeconds) * pieces.value) || 0)))
const shown = (row: CompareRow, v: number | undefined) => (v === undefined || Number.isNaN(v) ? '–' : v === Infinity ? 'lost' : row.unit === 's' ? bare(duration(v)) : threeDigits(v))

function point(event: PointerEvent): void {
  const share = (event.offsetX - LEFT) / (width.value - LEFT - RIGHT)
  if (share >= 0 && share <= 1) cursorSeconds.value = share * props.horizonSeconds
}
function walk(by: number): void {
  cursorSeconds.value = Math.min(props.horizonSeconds, Math.max(0, ((cursor.value + by + 0.5) / pieces.value) * props.horizonSeconds))
}
</script>

<template>
  <div ref="box" class="relative">
    <svg
      :width="width" :height="height" class="block" tabindex="0" role="slider" aria-label="Time under the cursor" :aria-valuenow="Math.round(cursorSeconds)" :aria-valuemin="0" :aria-valuemax="horizonSeconds" :aria-valuetext="clock(startIso, cursorSeconds || 0)"
      @pointermove="point" @keydown.right.prevent="walk($event.ctrlKey ? 24 : 1)" @keydown.left.prevent="walk($event.ctrlKey ? -24 : -1)"
    >
      <defs><pattern id="compare-more" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="1.800" height="5" fill="var(--rust)" /></pattern></defs>
      <line v-for="t in ticks" :key="t.seconds" :x1="xAt(t.seconds)" :x2="xAt(t.seconds)" y1="0" :y2="height - BOTTOM + 4" stroke="var(--rule)" stroke-width="0.7" />
      <text v-for="t in ticks" :key="`w${t.seconds}`" :x="xAt(t.seconds) + 3" :y="height - 5" class="chart-axis">{{ t.label }}</text>
      <g v-for="p in panels" :key="p.row.name">
        <line :x1="LEFT" :x2="width - RIGHT" :y1="p.top + p.height" :y2="p.top + p.height" stroke="var(--rule)" />
        <path :d="p.less" fill="var(--moss)" opacity="0.35" /><path :d="p.more" fill="url(#compare-more)" opacity="0.8" />
        <line v-if="p.row.limit !== undefined" :x1="LEFT" :x2="width - RIGHT" :y1="p.y(p.row.limit)" :y2="p.y(p.row.limit)" stroke="var(--rust)" stroke-dasharray="4 3" />
        <text v-if="p.row.limit !== undefined" :x="width - RIGHT - 4" :y="p.y(p.row.limit) + (p.y(p.row.limit) - p.top < 14 ? 12 : -4)" text-anchor="end" class="chart-axis">limit {{ bare(duration(p.row.limit)) }}</text>
        <path v-for="(d, i) in p.lines" :key="i" :d="d" fill="none" :stroke="classColour(i)" :stroke-dasharray="classDash(i)" :stroke-width="i === other || i === reference ? 1.8 : 1.1" />
        <text x="0" :y="p.top + 12" class="chart-name" fill="var(--ink)">{{ p.row.name }}</text>
        <text x="0" :y="p.top + (p.row.name === '' ? 12 : 27)" class="chart-axis">{{ p.row.name === '' ? '' : p.row.unit }}</text>
        <text v-for="(s, i) in p.row.series" :key="`v${i}`" :x="width - RIGHT + 8" :y="p.top + 11 + i * 14" class="chart-axis tabular-nums" :style="{ fill: classColour(i) }">{{ String.fromCharCode(65 + i) }} {{ shown(p.row, s[cursor]) }}</text>
      </g>
      <line :x1="x(cursor + 0.5)" :x2="x(cursor + 0.5)" y1="0" :y2="height - BOTTOM" stroke="var(--ink)" stroke-width="0.8" />
    </svg>
    <p v-if="rows[0]?.name === ''" class="pointer-events-none absolute left-0 top-0 w-[104px] text-[0.86rem] leading-tight">{{ promise }}</p>
  </div>
</template>
