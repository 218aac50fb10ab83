<script setup lang="ts">
import { duration, price, type PlanSwitchOff } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, ref, useTemplateRef, watch } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Mark, Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'
import PullTab from '../frame/PullTab.vue'

/** What switching off after some time without a call costs over the gaps of a plan's calls; the time-out is pulled along it. */
const props = defineProps<{ calls: NonNullable<PlanSwitchOff['calls']>; currency: string; height: number }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
/** Of a tab over the picture, and of all of them. */
const TAB = 22
const PLOT = { left: 76, right: 190, top: 2 * TAB + 4, bottom: 30 }
const TICKS_SECONDS = [1, 5, 10, 30, 60, 120, 300, 600, 1800, 3600, 6 * 3600, 86_400, 7 * 86_400]

const course = computed(() => props.calls.course)
const x = computed(() => scaleLog([course.value[0].timeoutSeconds, course.value.at(-1)!.timeoutSeconds], across(PLOT, width.value)))
const most = computed(() => Math.max(2 * props.calls.clairvoyantCost, ...course.value.map((c) => c.cost)))
const y = computed(() => scaleLinear([0, most.value * 1.08], upward(PLOT, props.height)))
const within = (seconds: number) => seconds >= x.value.domain()[0] && seconds <= x.value.domain()[1]
const xAxis = computed((): Axis => ({
  scale: x.value,
  log: true,
  ticks: TICKS_SECONDS.filter(within).map((at) => ({ at, label: duration(at) })),
}))
const yAxis = computed((): Axis => ({ scale: y.value, ticks: y.value.ticks(5).map((at) => ({ at, label: price(at, props.currency) })) }))
/** Never is beyond the end of the picture: the longest there. */
const nearest = (seconds: number) =>
  course.value.reduce((best, _, i) => {
    const wanted = Math.min(Math.max(1, seconds), course.value.at(-1)!.timeoutSeconds)
    const apart = (k: number) => Math.abs(Math.log(course.value[k].timeoutSeconds / wanted))
    return apart(i) < apart(best) ? i : best
  }, 0)
/** Places of the course that are held: at first those next to the rule and to the best here. */
const held = ref<number[]>([])
watch(
  () => props.calls,
  ({ fair, best }) => (held.value = [fair, best].map((s) => nearest(s.timeoutSeconds))),
  { immediate: true },
)
const NAMES = ['rule', 'best']
const pulled = computed(() =>
  held.value.map((place, i) => {
    const at = course.value[Math.min(place, course.value.length - 1)]
    return { at, place, label: `Time-out that began as the ${NAMES[i]}`, reading: readingOf(at) }
  }),
)
const hold = (which: number, place: number) => (held.value = held.value.map((p, i) => (i === which ? place : p)))
const shown = computed(() => [
  { name: 'by the rule', ...props.calls.fair },
  ...(within(props.calls.best.timeoutSeconds) ? [{ name: 'best here', ...props.calls.best }] : []),
])
const series = computed((): Series[] => [
  { kind: 'line', points: course.value.map((c) => ({ x: c.timeoutSeconds, y: c.cost })), colour: '--ink', width: 2 },
  {
    kind: 'points',
    points: shown.value.filter((s) => within(s.timeoutSeconds)).map((s) => ({ x: s.timeoutSeconds, y: s.cost })),
    colour: '--sand',
    shape: 'disc',
    radius: 5,
  },
  {
    kind: 'points',
    points: pulled.value.map(({ at }) => ({ x: at.timeoutSeconds, y: at.cost })),
    colour: '--water',
    shape: 'ring',
    radius: 7,
  },
])
const LINES = computed(() => [
  { words: 'who knows every gap', cost: props.calls.clairvoyantCost },
  { words: 'twice that', cost: 2 * props.calls.clairvoyantCost },
])
const marks = computed((): Mark[] => LINES.value.map(({ cost }) => ({ kind: 'line', y: cost, colour: '--water', dash: [3, 3] })))
function readingOf({ timeoutSeconds, cost, cold }: (typeof course.value)[number]): string {
  return `after ${duration(timeoutSeconds)}: ${price(cost, props.currency)}, ${cold} cold callers`
}
</script>

<template>
  <div ref="box">
    <ChartPicture
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :marks="marks"
      :width="width"
      :height="height"
      role="group"
      aria-label="What switching off after some time without a call costs over the gaps of the plan’s calls">
      <span
        v-for="s in shown"
        :key="s.name"
        class="chart-word"
        :style="{ left: `${x(s.timeoutSeconds) + 8}px`, top: `${y(s.cost) + 6}px`, color: 'var(--sand)' }"
        >{{ s.name }}</span
      >
      <span
        v-for="l in LINES"
        :key="l.words"
        class="chart-word"
        :style="{ left: `${width - PLOT.right + 8}px`, top: `${y(l.cost) - 8}px`, color: 'var(--water)' }"
        >{{ l.words }}: {{ price(l.cost, currency) }}</span
      >
      <span class="chart-word" :style="{ right: `${PLOT.right}px`, bottom: '-4px' }">switched off after so long without a call</span>
      <PullTab
        v-for="(p, i) in pulled"
        :key="p.label"
        axis="x"
        :left="x(p.at.timeoutSeconds)"
        :top="2 + i * TAB"
        :value="p.place"
        :least="0"
        :most="course.length - 1"
        :step="1"
        :label="p.label"
        :words="p.reading"
        :value-at="(pixels) => nearest(x.invert(pixels))"
        @pull="(to) => hold(i, to)"
        @commit="(to) => hold(i, to)"
        >⇥ {{ duration(p.at.timeoutSeconds) }}</PullTab
      >
    </ChartPicture>
    <p class="text-[0.92rem]" aria-live="polite"
      >Switched off {{ pulled.map((p) => p.reading).join('; ')
      }}<span class="text-faded">; pull the tabs, or use the arrow keys on them.</span></p
    >
  </div>
</template>
