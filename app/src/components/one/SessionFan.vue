<script setup lang="ts">
import { costAt, duration, ENDINGS, price, type Branch, type Session } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, pushedApart, upward } from '../../charts/plot.ts'
import type { Axis, LineSeries, Mark } from '../../charts/spec.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** A session as one line of money along the clock that fans out at its end: a branch for each way of ending it. */
const props = defineProps<{ session: Session; startIso: string; currency: string; height: number }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 76, right: 270, top: 12, bottom: 26 }
/** Colours go with dashes, so that colour never speaks alone. */
const LOOKS: Record<Branch['ending'], Pick<LineSeries, 'colour' | 'dash'>> = {
  deleted: { colour: '--water' },
  stopped: { colour: '--water', dash: [2, 3] },
  idle: { colour: '--sand', dash: [7, 3] },
  until: { colour: '--sand' },
  never: { colour: '--rust' },
}

/** As far as what is forgotten has cost as much again, the last machine is given back, and somewhat on. */
const span = computed(() => {
  const { seconds, forgettingSeconds, branches } = props.session
  const ends = branches.flatMap((b) => (b.ending === 'never' ? [] : b.course.slice(0, -1).map((p) => p.seconds)))
  return Math.max(seconds + 1.3 * forgettingSeconds, 1.15 * Math.max(...ends))
})
const x = computed(() => scaleLinear([0, span.value], across(PLOT, width.value)))
const most = computed(() => Math.max(...props.session.branches.map((b) => costAt(b, span.value))))
const y = computed(() => scaleLinear([0, most.value * 1.05], upward(PLOT, props.height)))
const xAxis = computed((): Axis => ({
  scale: x.value,
  ticks: timeTicks(props.startIso, 0, span.value).map((t) => ({ at: t.seconds, label: t.label })),
}))
const yAxis = computed((): Axis => ({ scale: y.value, ticks: y.value.ticks(5).map((at) => ({ at, label: price(at, props.currency) })) }))
const series = computed((): LineSeries[] => {
  const { branches, seconds } = props.session
  const fan = branches.map((b): LineSeries => {
    const bends = b.course.filter((p) => p.seconds > seconds && p.seconds < span.value)
    const points = [{ seconds, cost: costAt(b, seconds) }, ...bends, { seconds: span.value, cost: costAt(b, span.value) }]
    return { kind: 'line', points: points.map((p) => ({ x: p.seconds, y: p.cost })), width: 2, ...LOOKS[b.ending] }
  })
  const stem = [0, seconds].map((t) => ({ x: t, y: costAt(branches[0], t) }))
  return [...fan, { kind: 'line', points: stem, colour: '--ink', width: 4 }]
})
const marks = computed((): Mark[] => {
  const { seconds, startUpSeconds, forgettingSeconds } = props.session
  return [
    { kind: 'area', x: [0, startUpSeconds], colour: '--sand-soft', alpha: 0.8 },
    { kind: 'line', x: seconds + forgettingSeconds, colour: '--rust', dash: [3, 3] },
  ]
})
const names = computed(() => {
  const { branches } = props.session
  const costs = branches.map((b) => costAt(b, span.value))
  const heights = pushedApart(
    costs.map((c) => y.value(c) - 8),
    16,
    0,
  )
  // Those that must give way go up from the axis, not below it.
  const below = Math.max(0, Math.max(...heights) - (props.height - PLOT.bottom - 12))
  return branches.map((b, i) => ({
    ending: b.ending,
    words: `${ENDINGS[b.ending]}: ${price(costs[i], props.currency)}`,
    top: heights[i] - (b.ending === 'never' ? 0 : below),
    colour: LOOKS[b.ending].colour,
  }))
})
/** Beside its line, on the side that has room. */
const forgotten = computed(() => {
  const at = x.value(props.session.seconds + props.session.forgettingSeconds)
  return at < width.value / 2 ? { left: `${at + 5}px` } : { right: `${width.value - at + 5}px` }
})
const words = computed(
  () => `What the session costs along the clock, ${duration(props.session.seconds)} of it and after its end; the table below has the same`,
)
</script>

<template>
  <div ref="box">
    <ChartPicture :x="xAxis" :y="yAxis" :series="series" :marks="marks" :width="width" :height="height" role="img" :aria-label="words">
      <span
        v-for="n in names"
        :key="n.ending"
        class="chart-word"
        :style="{ left: `${width - PLOT.right + 8}px`, top: `${n.top}px`, color: `var(${n.colour})` }"
        >{{ n.words }}</span
      >
      <span class="chart-word" :style="{ ...forgotten, top: `${PLOT.top}px`, color: 'var(--rust)' }"
        >forgetting has cost as much as the session</span
      >
    </ChartPicture>
  </div>
</template>
