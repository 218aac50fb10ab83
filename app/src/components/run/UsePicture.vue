<script setup lang="ts">
import { clock, meanAndMost, percent, USES, type MachineUse, type Use } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import LineSwatch from '../../charts/LineSwatch.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, LineSeries } from '../../charts/spec.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** How the machines of an offer are used over time: a line for each way of reading it, and the table. */
const props = defineProps<{ use: MachineUse; startIso: string; height: number }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 48, right: 16, top: 8, bottom: 22 }
const LINES: Record<Use, { colour: string; dash: readonly number[] }> = {
  busy: { colour: 'var(--water)', dash: [] },
  sequences: { colour: 'var(--sand)', dash: [7, 3] },
  memory: { colour: 'var(--heather)', dash: [2, 3] },
  bandwidth: { colour: 'var(--moss)', dash: [9, 3, 2, 3] },
  arithmetic: { colour: 'var(--rust)', dash: [4, 4] },
}
const told = computed(() => (Object.keys(USES) as Use[]).filter((u) => props.use.uses[u])) // the record has them all
const pieces = computed(() => props.use.machines.length)
const endSeconds = computed(() => pieces.value * props.use.pieceSeconds)
const xAxis = computed((): Axis => ({
  scale: scaleLinear([0, endSeconds.value], across(PLOT, width.value)),
  labels: 'after',
  ticks: timeTicks(props.startIso, 0, endSeconds.value).map((t) => ({ at: t.seconds, label: t.label })),
}))
const yAxis = computed((): Axis => ({
  scale: scaleLinear([0, 1], upward(PLOT, props.height)),
  ticks: [0, 0.25, 0.5, 0.75, 1].map((at) => ({ at, label: `${at * 100}\u00a0%` })),
}))
const series = computed((): LineSeries[] =>
  told.value.map((u) => ({
    kind: 'line',
    points: Array.from(props.use.uses[u] ?? [], (y, i) => ({ x: i * props.use.pieceSeconds, y })),
    stepped: true,
    width: 1.5,
    ...LINES[u],
  })),
)
const rows = computed(() =>
  told.value.map((u) => {
    const found = meanAndMost(props.use, u)
    return {
      use: u,
      words: USES[u],
      cells: found
        ? [percent(found.mean), `${percent(found.most)} from ${clock(props.startIso, found.at * props.use.pieceSeconds)}`]
        : ['–', '–'],
    }
  }),
)
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
      :aria-label="`How ${use.machine} is used over time; the table below has what stands out`" />
    <table class="exact mt-1 text-[0.88rem]">
      <thead>
        <tr
          ><th scope="col">of {{ use.machine }}</th
          ><th scope="col" class="number">mean while there</th><th scope="col" class="number">most</th></tr
        >
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.use">
          <td><LineSwatch :colour="LINES[r.use].colour" :dash="LINES[r.use].dash" /> {{ r.words }}</td>
          <td v-for="(cell, i) in r.cells" :key="i" class="number">{{ cell }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
