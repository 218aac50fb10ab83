<script setup lang="ts">
import { countedOf, fleetWords, PURCHASES, grouped, price, volumeWords, type VolumeReport } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, LineSeries, Mark } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** Machines that are there against calls or tokens paid one by one, over the volume, with the volume at which they cost the same. */
const props = defineProps<{ report: VolumeReport & { done: boolean }; machines: number; currency: string; height: number }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 84, right: 190, top: 10, bottom: 34 }

const mean = (list: readonly (number | null)[]) =>
  list.some((v) => v === null) || list.length === 0 ? null : list.reduce<number>((sum, v) => sum + (v ?? 0), 0) / list.length
const points = computed(() => props.report.points.map((p) => ({ ...p, machines: mean(p.alwaysOn), calls: mean(p.called) ?? 0 })))
const amounts = computed(() =>
  points.value.flatMap((p) => [p.machines ?? 0, p.calls, p.bounds?.warm ?? 0, p.bounds?.cold ?? 0]).filter((v) => v > 0),
)
const x = computed(() =>
  scaleLog([points.value[0]?.callsPerMonth || 1, Math.max(2, points.value.at(-1)?.callsPerMonth ?? 2)], across(PLOT, width.value)),
)
const y = computed(() => scaleLog([Math.min(1e9, ...amounts.value) / 1.4, Math.max(1, ...amounts.value) * 1.4], upward(PLOT, props.height)))
const at = (v: number) => y.value(Math.max(v, y.value.domain()[0]))
const line = (of: (p: (typeof points.value)[number]) => number | null) =>
  points.value.flatMap((p) => {
    const v = of(p)
    return v === null ? [] : [{ x: p.callsPerMonth, y: Math.max(v, y.value.domain()[0]) }]
  })
const series = computed((): LineSeries[] => [
  // The band runs from all calls warm to all cold.
  { kind: 'line', points: line((p) => p.bounds?.cold ?? null), colour: 'transparent', width: 0 },
  {
    kind: 'line',
    points: line((p) => p.bounds?.warm ?? null),
    colour: 'transparent',
    width: 0,
    fill: { to: 'line before', ink: { colour: '--sand-soft', alpha: 0.5 } },
  },
  { kind: 'line', points: line((p) => p.calls), colour: '--sand', width: 2 },
  { kind: 'line', points: line((p) => p.machines), colour: '--water', width: 2, dash: [7, 3] },
])
const own = computed(() => points.value.find((p) => p.multiple === 1))
const last = computed(() => points.value.at(-1))
/** Where the line of the machines ends: beyond it they do not hold. */
const lastHeld = computed(() => {
  const held = points.value.filter((p) => p.machines !== null).at(-1)
  return held && { ...held, machines: held.machines ?? 0 }
})
/** How many calls a month a multiple of the load is. */
const callsAt = (multiple: number) => multiple * ((last.value?.callsPerMonth ?? 0) / (last.value?.multiple ?? 1))
const round125 = (scale: Axis['scale']) => scale.ticks(6).filter((t) => /^[1-9]0*$/.test(String(t)) && /^[125]/.test(String(t)))
const xAxis = computed((): Axis => ({ scale: x.value, log: true, ticks: round125(x.value).map((t) => ({ at: t, label: grouped(t, 0) })) }))
const yAxis = computed((): Axis => ({
  scale: y.value,
  log: true,
  ticks: round125(y.value).map((t) => ({ at: t, label: price(t, props.currency) })),
}))
const marks = computed((): Mark[] => {
  const { breakEven } = props.report
  return [
    ...(own.value ? [{ kind: 'line', x: own.value.callsPerMonth, colour: '--ink', width: 0.8 } as const] : []),
    ...(breakEven
      ? [
          { kind: 'area', x: [callsAt(breakEven.low), callsAt(breakEven.high)], colour: '--rust', alpha: 0.25 } as const,
          { kind: 'line', x: breakEven.callsPerMonth, colour: '--rust', dash: [3, 3] } as const,
        ]
      : []),
  ]
})
const words = computed(() => volumeWords(props.report, props.currency, props.report.done).join(' '))
/** How what is paid one by one is called at its line. */
const paidBy = computed(() => PURCHASES[props.report.called.purchase.kind].picked)
</script>

<template>
  <div ref="box">
    <ChartPicture
      v-if="points.length > 1"
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :marks="marks"
      :width="width"
      :height="height"
      role="img"
      :aria-label="words || 'Cost over the volume'">
      <span class="chart-word" :style="{ right: `${PLOT.right}px`, bottom: '-2px' }">{{ countedOf(report) }} a month</span>
      <span v-if="own" class="chart-word" :style="{ left: `${x(own.callsPerMonth) + 4}px`, top: `${height - PLOT.bottom - 18}px` }"
        >the plan</span
      >
      <template v-if="last">
        <span class="chart-word" :style="{ left: `${width - PLOT.right + 8}px`, top: `${at(last.calls) - 8}px`, color: 'var(--sand)' }">{{
          paidBy
        }}</span>
        <span
          v-if="lastHeld"
          class="chart-word"
          :style="{ left: `${x(lastHeld.callsPerMonth) + 8}px`, top: `${at(lastHeld.machines) + 3}px`, color: 'var(--water)' }"
          >{{ fleetWords({ ...report.alwaysOn, machines })
          }}<template v-if="lastHeld.multiple < last.multiple">, no more of them hold</template></span
        >
      </template>
    </ChartPicture>
    <p class="text-[0.92rem]" aria-live="polite">
      {{ words }}
      <span class="text-faded"
        ><template v-if="own?.bounds">The band runs from all calls warm to all cold. </template
        ><template v-if="!report.done">{{ report.points.length }} of {{ report.of }} volumes are simulated.</template></span
      >
    </p>
  </div>
</template>
