<script setup lang="ts">
import { bare, bendOf, duration, threeDigits, type LoadStep, type LoadTest } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, pushedApart, upward } from '../../charts/plot.ts'
import type { Axis, Mark, Point, Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** What is answered, and how long that takes, over how hard is pressed: the places are marked, and where each test bends. */
const props = defineProps<{
  tests: readonly { name: string; colour: string; dash: readonly number[]; test: LoadTest }[]
  /** what the lower picture tells of */
  of: 'latency' | 'ttft'
}>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 52, right: 44, top: 20, bottom: 4 }
const LOWER = { left: 52, right: 44, top: 8, bottom: 34 }
const HEIGHT = 150
const LOWER_HEIGHT = 220
const WORD_ROOM = 15
const FAR = 3

/** Marks of logarithmic axes. */
const DECADES = Array.from({ length: 14 }, (_, i) => [1, 3].map((n) => n * 10 ** (i - 6))).flat()
const atOnce = computed(() => props.tests[0]?.test.pressing === 'at once')
const pressureOf = (s: LoadStep) => s.clients ?? s.offeredPerSecond ?? 0
const steps = computed(() => props.tests.flatMap(({ test }) => test.steps))
const most = computed(() => Math.max(2, ...steps.value.map(pressureOf)))
const least = computed(() => Math.min(most.value / 2, ...steps.value.map(pressureOf)))
/** Callers at once are powers of two; rates are even steps, unless one test climbs far beyond another. */
const isLog = computed(() => {
  const ends = props.tests.map(({ test }) => Math.max(0, ...test.steps.map(pressureOf)))
  return atOnce.value || Math.max(...ends) > FAR * Math.min(...ends)
})
const x = computed(() =>
  isLog.value
    ? scaleLog([least.value, most.value], across(PLOT, width.value))
    : scaleLinear([0, most.value], across(PLOT, width.value)).nice(),
)
const xTicks = computed(() => {
  if (!atOnce.value) {
    const ticks = isLog.value ? DECADES.filter((t) => t >= least.value && t <= most.value) : x.value.ticks(6)
    return ticks.map((at) => ({ at, label: at === 0 ? '0' : bare(threeDigits(at)) }))
  }
  const longest = props.tests.reduce((long, { test }) => (test.steps.length > long.length ? test.steps : long), [] as readonly LoadStep[])
  const powers = longest.map(pressureOf).filter((n) => Number.isInteger(Math.log2(n)))
  return powers.map((at) => ({ at, label: String(at) }))
})
const xAxis = computed((): Axis => ({ scale: x.value, log: isLog.value, ticks: xTicks.value }))
const bareX = computed((): Axis => ({ ...xAxis.value, ticks: xTicks.value.map((t) => ({ ...t, label: '' })) }))

const rates = computed((): Axis => {
  const scale = scaleLinear([0, Math.max(0.001, ...steps.value.map((s) => s.requestsPerSecond))], upward(PLOT, HEIGHT)).nice(3)
  return { scale, ticks: scale.ticks(3).map((at) => ({ at, label: at === 0 ? '0' : bare(threeDigits(at)) })) }
})
const read = (s: LoadStep) => s[props.of]
const times = computed((): Axis => {
  const all = steps.value.flatMap((s) => [read(s)?.p50, read(s)?.p99]).filter((v) => v !== undefined && v > 0) as number[]
  const [low, high] = all.length > 0 ? [Math.min(...all), Math.max(...all)] : [0.1, 10]
  const scale = scaleLog([low / 1.2, Math.max(high, low * 3) * 1.2], upward(LOWER, LOWER_HEIGHT))
  return {
    scale,
    log: true,
    ticks: DECADES.filter((t) => t >= scale.domain()[0] && t <= scale.domain()[1]).map((at) => ({ at, label: bare(duration(at)) })),
  }
})

const course = (test: LoadTest, of: (s: LoadStep) => number | undefined): Point[] =>
  test.steps.flatMap((s) => {
    const y = of(s)
    return y === undefined || Number.isNaN(y) ? [] : [{ x: pressureOf(s), y }]
  })
const asManyAsCome = computed((): Series => {
  const top = rates.value.scale.domain()[1]
  const from = isLog.value ? least.value : 0
  const points = Array.from({ length: 41 }, (_, i) => from + ((Math.min(top, most.value) - from) * i) / 40).map((n) => ({ x: n, y: n }))
  return { kind: 'line', points, colour: '--faded', width: 1, dash: [2, 3] }
})
const answered = computed((): Series[] => [
  ...(atOnce.value ? [] : [asManyAsCome.value]),
  ...props.tests.flatMap(({ test, colour, dash }): Series[] => {
    const points = course(test, (s) => s.requestsPerSecond)
    const bend = bendOf(test)
    return [
      { kind: 'line', points, colour, dash, width: 2 },
      { kind: 'points', points, colour, shape: 'disc', radius: 2.5 },
      ...(bend
        ? [
            {
              kind: 'points' as const,
              points: [{ x: pressureOf(bend), y: bend.requestsPerSecond }],
              colour: '--rust',
              shape: 'ring' as const,
              radius: 7,
            },
          ]
        : []),
    ]
  }),
])
/** Of one test all four percentiles; of several the half and 95 of 100, so that lines can be told apart. */
const shown = computed(() => (props.tests.length > 1 ? (['p50', 'p95'] as const) : (['p50', 'p90', 'p95', 'p99'] as const)))
const WIDTHS = { p50: 2.2, p90: 1.2, p95: 1.8, p99: 0.9 }
const lines = computed(() =>
  props.tests.flatMap(({ test, name, colour, dash }) =>
    shown.value.map((p) => ({ p, name, colour, dash, width: WIDTHS[p], points: course(test, (s) => read(s)?.[p]) })),
  ),
)
const taken = computed((): Series[] =>
  lines.value.map(({ points, colour, dash, width }) => ({ kind: 'line', points, colour, dash, width })),
)
/** Percentiles at the ends of lines; whose they are, colour and stroke say. */
const names = computed(() => {
  const ends = lines.value.flatMap(({ p, name, colour, points }) => {
    const last = points.at(-1)
    return last ? [{ key: `${p} ${name}`, words: p, colour, left: x.value(last.x) + 7, top: times.value.scale(last.y) - 8 }] : []
  })
  const tops = pushedApart(
    ends.map((e) => e.top),
    WORD_ROOM,
  )
  return ends.map((e, i) => ({ ...e, top: tops[i] }))
})
const places = computed(() => [...new Set(props.tests.map(({ test }) => test.places))])
const marks = computed((): Mark[] =>
  atOnce.value ? places.value.map((n) => ({ kind: 'line', x: n, colour: '--moss', width: 1.2, dash: [5, 3] })) : [],
)
</script>

<template>
  <div ref="box">
    <ChartPicture
      :x="bareX"
      :y="rates"
      :series="answered"
      :marks="marks"
      :width="width"
      :height="HEIGHT"
      role="img"
      aria-label="What is answered a second; the table below has the same">
      <span class="chart-word" :style="{ left: '0px', top: '0px' }"
        >answered, requests/s; ringed: where it bends{{ atOnce ? '' : '; dotted: as many as come' }}</span
      >
      <template v-if="atOnce">
        <span v-for="n in places" :key="n" class="chart-word text-moss" :style="{ left: `${x(n) + 4}px`, top: '14px' }"
          >{{ n }} places</span
        >
      </template>
    </ChartPicture>
    <ChartPicture
      :x="xAxis"
      :y="times"
      :series="taken"
      :marks="marks"
      :width="width"
      :height="LOWER_HEIGHT"
      role="img"
      aria-label="How long it takes; the table below has the same">
      <span
        v-for="n in names"
        :key="n.key"
        class="chart-word bg-paper"
        :style="{ left: `${n.left}px`, top: `${n.top}px`, color: n.colour }"
        >{{ n.words }}</span
      >
      <span class="chart-word" :style="{ right: `${LOWER.right}px`, bottom: '0px' }">{{
        atOnce ? 'callers at once' : 'callers a second'
      }}</span>
    </ChartPicture>
  </div>
</template>
