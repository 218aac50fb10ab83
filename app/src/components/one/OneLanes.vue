<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across } from '../../charts/plot.ts'
import { pixelAxis, type Axis, type Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'
import type { Lane } from './lanes.ts'
import { PART_INKS } from './partInks.ts'

/** Requests below each other along one scale, of time or of money: each a lane of what it goes through. */
const props = defineProps<{ lanes: readonly Lane[]; label: string; show: (value: number) => string }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 26, right: 212 }
const ROW = 34
const BAR = 18
const top = (i: number) => 20 + i * ROW
const height = computed(() => top(props.lanes.length) + 18)
const most = computed(() => Math.max(1e-9, ...props.lanes.flatMap((l) => l.bars.map((b) => b.until))))
const x = computed(() => scaleLinear([0, most.value], across(PLOT, width.value, 100)))
const xAxis = computed((): Axis => ({ scale: x.value, ticks: x.value.ticks(7).map((at) => ({ at, label: props.show(at) })) }))
const yAxis = computed(() => pixelAxis(height.value - 18, 14))
const parts = Object.keys(PART_INKS) as (keyof typeof PART_INKS)[] // the record has them all
const series = computed((): Series[] =>
  [
    ...parts.map((part): Series => ({
      kind: 'bars',
      thickness: BAR,
      ink: PART_INKS[part],
      outline: { colour: '--ink', width: 0.7 },
      bars: props.lanes.flatMap((l, i) =>
        l.bars.flatMap((b) => (b.part === part ? [{ from: b.from, until: b.until, at: top(i) + BAR / 2 }] : [])),
      ),
    })),
    {
      kind: 'points',
      points: props.lanes.flatMap((l, i) => (l.grains ?? []).map((at) => ({ x: at, y: top(i) + BAR + 6 }))),
      colour: '--sand',
      shape: 'grain',
      radius: 1.6,
    } satisfies Series,
  ].filter((s) => s.kind !== 'bars' || s.bars.length > 0),
)
/** What is said of a lane stands where it ends, or where the picture does. */
const endOf = (l: Lane) => x.value(l.bars.reduce((end, b) => Math.max(end, b.until), 0))
</script>

<template>
  <div ref="box" class="min-w-0">
    <ChartPicture :x="xAxis" :y="yAxis" :series="series" :width="width" :height="height" role="img" :aria-label="label">
      <template v-for="(l, i) in lanes" :key="l.letter">
        <span class="chart-word chart-name" :style="{ left: '4px', top: `${top(i) + 1}px` }">{{ l.letter }}</span>
        <span class="chart-word" :style="{ left: `${endOf(l) + 8}px`, top: `${top(i) + 1}px` }">{{ l.words }}</span>
      </template>
    </ChartPicture>
  </div>
</template>
