<script setup lang="ts">
import { bare, duration, fleetWords, grouped, price, threeDigits, type VolumeReport } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import { useWidth } from '../../composables/useWidth.ts'

/** Machines that are there against calls that are paid one by one, over the volume, with the volume at which they cost the same. */
const props = defineProps<{ report: VolumeReport & { done: boolean }; machines: number; currency: string; height: number }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const LEFT = 84
const RIGHT = 190
const TOP = 10
const BOTTOM = 34

const mean = (list: readonly (number | null)[]) => (list.some((v) => v === null) || list.length === 0 ? null : list.reduce<number>((sum, v) => sum + (v ?? 0), 0) / list.length)
const points = computed(() => props.report.points.map((p) => ({ ...p, machines: mean(p.alwaysOn), calls: mean(p.called) ?? 0 })))
const amounts = computed(() => points.value.flatMap((p) => [p.machines ?? 0, p.calls, p.warm, p.cold]).filter((v) => v > 0))
const x = computed(() => scaleLog([points.value[0]?.callsPerMonth || 1, Math.max(2, points.value.at(-1)?.callsPerMonth ?? 2)], [LEFT, width.value - RIGHT]))
const y = computed(() => scaleLog([Math.min(1e9, ...amounts.value) / 1.4, Math.max(1, ...amounts.value) * 1.4], [props.height - BOTTOM, TOP]))
const at = (v: number) => y.value(Math.max(v, y.value.domain()[0]))
const line = (of: (p: (typeof points.value)[number]) => number | null) => {
  let d = ''
  for (const p of points.value) {
    const v = of(p)
    d += v === null ? '' : `${d === '' ? 'M' : 'L'}${x.value(p.callsPerMonth).toFixed(1)},${at(v).toFixed(1)}`
  }
  return d
}
const band = computed(() => `${line((p) => p.cold)}L${[...points.value].reverse().map((p) => `${x.value(p.callsPerMonth).toFixed(1)},${at(p.warm).toFixed(1)}`).join('L')}Z`)
const own = computed(() => points.value.find((p) => p.multiple === 1))
const last = computed(() => points.value.at(-1))
/** Where the line of the machines ends: beyond it they do not hold. */
const lastHeld = computed(() => {
  const held = points.value.filter((p) => p.machines !== null).at(-1)
  return held && { ...held, machines: held.machines ?? 0 }
})
/** How many calls a month a multiple of the load is. */
const callsAt = (multiple: number) => multiple * ((last.value?.callsPerMonth ?? 0) / (last.value?.multiple ?? 1))
const round = (calls: number) => grouped(Number(calls.toPrecision(3)), 0)
const ticks = (scale: { ticks: (n: number) => number[] }) => scale.ticks(6).filter((t) => /^[1-9]0*$/.test(String(t)) && /^[125]/.test(String(t)))
const words = computed(() => {
  const { breakEven, called, alwaysOn, startSeconds } = props.report
  const offer = `${called.machine} by the call`
  const late = points.value.find((p) => p.multiple === 1 && !p.calledHolds) ? ` At the plan’s volume its calls do not keep every promise: a cold one waits ${bare(duration(startSeconds))}.` : ''
  if (breakEven) {
    const range = breakEven.high - breakEven.low > 1e-6 ? ` (${round(callsAt(breakEven.low))} to ${round(callsAt(breakEven.high))} over the draws of the load)` : ''
    return `Below ${round(breakEven.callsPerMonth)} calls a month${range} ${offer} costs less, above it ${alwaysOn.machine} does; the plan has ${round(own.value?.callsPerMonth ?? 0)}, ${bare(threeDigits(1 / breakEven.multiple))} times that.${late}`
  }
  if (!props.report.done) return ''
  const cheaper = (own.value?.calls ?? 0) < (own.value?.machines ?? Infinity)
  return `${cheaper ? offer : alwaysOn.machine} costs less at every volume that was tried.${late}`
})
</script>

<template>
  <div ref="box">
    <svg v-if="points.length > 1" :width="width" :height="height" role="img" :aria-label="words || 'Cost over the volume'">
      <g v-for="t in ticks(x)" :key="`x${t}`"><line :x1="x(t)" :x2="x(t)" :y1="TOP" :y2="height - BOTTOM" stroke="var(--rule)" stroke-width="0.7" /><text :x="x(t)" :y="height - BOTTOM + 14" text-anchor="middle" class="chart-axis">{{ grouped(t, 0) }}</text></g>
      <g v-for="t in ticks(y)" :key="`y${t}`"><line :x1="LEFT" :x2="width - RIGHT" :y1="y(t)" :y2="y(t)" stroke="var(--rule)" stroke-width="0.7" /><text :x="LEFT - 6" :y="y(t) + 4" text-anchor="end" class="chart-axis">{{ price(t, currency) }}</text></g>
      <text :x="width - RIGHT" :y="height - 4" text-anchor="end" class="chart-axis">calls a month</text>
      <path :d="band" fill="var(--sand-soft)" opacity="0.5" />
      <path :d="line((p) => p.calls)" fill="none" stroke="var(--sand)" stroke-width="2" />
      <path :d="line((p) => p.machines)" fill="none" stroke="var(--water)" stroke-width="2" stroke-dasharray="7 3" />
      <template v-if="own"><line :x1="x(own.callsPerMonth)" :x2="x(own.callsPerMonth)" :y1="TOP" :y2="height - BOTTOM" stroke="var(--ink)" stroke-width="0.8" /><text :x="x(own.callsPerMonth) + 4" :y="height - BOTTOM - 6" class="chart-axis">the plan</text></template>
      <template v-if="report.breakEven">
        <rect :x="x(callsAt(report.breakEven.low))" :y="TOP" :width="Math.max(1, x(callsAt(report.breakEven.high)) - x(callsAt(report.breakEven.low)))" :height="height - TOP - BOTTOM" fill="var(--rust)" opacity="0.25" />
        <line :x1="x(report.breakEven.callsPerMonth)" :x2="x(report.breakEven.callsPerMonth)" :y1="TOP" :y2="height - BOTTOM" stroke="var(--rust)" stroke-dasharray="3 3" />
      </template>
      <template v-if="last">
        <text :x="width - RIGHT + 8" :y="at(last.calls) + 4" class="chart-label" style="fill: var(--sand)">by the call</text>
        <text v-if="lastHeld" :x="x(lastHeld.callsPerMonth) + 8" :y="at(lastHeld.machines) + 15" class="chart-label" style="fill: var(--water)">{{ fleetWords({ ...report.alwaysOn, machines }) }}<template v-if="lastHeld.multiple < last.multiple">, no more of them hold</template></text>
      </template>
    </svg>
    <p class="text-[0.92rem]" aria-live="polite">{{ words }} <span class="text-faded">The band runs from all calls warm to all cold{{ report.done ? '' : `; ${report.points.length} of ${report.of} volumes simulated` }}.</span></p>
  </div>
</template>
