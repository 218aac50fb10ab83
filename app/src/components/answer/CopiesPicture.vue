<script setup lang="ts">
import { copiesTable, type CopiesReport } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Point, Series } from '../../charts/spec.ts'
import FigureTable from '../frame/FigureTable.vue'
import { useWidth } from '../../composables/useWidth.ts'

/** How many copies keep every promise when more comes: a curve over the load, beside what they would be in proportion, and the table. */
const props = defineProps<{ report: CopiesReport; currency: string; height: number }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 44, right: 40, top: 22, bottom: 34 }

const points = computed((): Point[] =>
  props.report.rows.flatMap(({ multiple, needed }) => (needed ? [{ x: multiple, y: needed.replicas }] : [])),
)
const first = computed(() => points.value[0]?.y ?? 0)
const mostX = computed(() => Math.max(2, ...points.value.map((p) => p.x)))
const mostY = computed(() => Math.max(1, first.value * mostX.value, ...points.value.map((p) => p.y)))
const x = computed(() => scaleLinear([0, mostX.value], across(PLOT, width.value)))
const y = computed(() => scaleLinear([0, mostY.value], upward(PLOT, props.height)).nice(4))
const xAxis = computed((): Axis => ({ scale: x.value, ticks: points.value.map((p) => ({ at: p.x, label: `${p.x} ×` })) }))
const yAxis = computed((): Axis => ({ scale: y.value, ticks: y.value.ticks(4).map((t) => ({ at: t, label: String(t) })) }))
const series = computed((): Series[] => [
  {
    kind: 'line',
    points: [
      { x: 0, y: 0 },
      { x: mostX.value, y: first.value * mostX.value },
    ],
    colour: '--faded',
    width: 1,
    dash: [3, 3],
  },
  { kind: 'line', points: points.value, colour: '--water', width: 2 },
  { kind: 'points', points: points.value, colour: '--water', shape: 'disc', radius: 4 },
])
const table = computed(() => copiesTable(props.report, props.currency))
</script>

<template>
  <div ref="box">
    <ChartPicture
      v-if="points.length > 1"
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :width="width"
      :height="height"
      role="img"
      aria-label="Copies over the load; the table below has the same">
      <span class="chart-word" :style="{ left: '0px', top: '-4px' }">copies; broken: in proportion to the load</span>
      <span class="chart-word" :style="{ right: `${PLOT.right}px`, bottom: '-2px' }">times the load</span>
    </ChartPicture>
    <FigureTable class="mt-1" :header="table.header" :rows="table.rows" :caption="table.title" />
  </div>
</template>
