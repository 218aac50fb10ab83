<script setup lang="ts">
import { clock, isClosedLoop, threeDigits, withRate, type ClassPicture, type Plan } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, pushedApart, upward } from '../../charts/plot.ts'
import type { Axis, LineSeries, Mark, Point } from '../../charts/spec.ts'
import { classColour, classDash } from '../../composables/classColour.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'
import { laidOver, type Laid } from '../../edits/loadEdits.ts'
import LaidTabs from './LaidTabs.vue'

/** Arrivals per second of every class over the horizon, as drawn. The knob at a class's height is pulled to change it. */
const props = defineProps<{
  plan: Plan
  classes: readonly ClassPicture[]
  cursorSeconds: number
  height: number
  /** the class whose shape is looked at */
  chosen: string
}>()
const emit = defineEmits<{
  'update:cursorSeconds': [seconds: number]
  scale: [className: string, factor: number]
  choose: [className: string]
  put: [laid: Laid]
  remove: [laid: Laid]
}>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 44, right: 118, top: 16, bottom: 26 }
const NUDGE = 1.05

const pull = ref<{ index: number; factor: number } | null>(null)
const top = computed(() => Math.max(0.01, ...props.classes.map((c) => c.peakPerSecond)) * 1.12)
const x = computed(() => scaleLinear([0, props.plan.horizon.seconds], across(PLOT, width.value)))
const y = computed(() => scaleLinear([0, top.value], upward(PLOT, props.height)))
/** What was drawn may be of the plan before: a class that is not in this one is not pulled. */
const canPull = (index: number) => {
  const { name, count } = props.classes[index]
  const arrivals = props.plan.classes.find((c) => c.name === name)?.arrivals
  return arrivals !== undefined && withRate(arrivals) !== undefined && count > 0
}

const xAxis = computed((): Axis => ({
  scale: x.value,
  labels: 'after',
  ticks: timeTicks(props.plan.horizon.start, 0, props.plan.horizon.seconds).map((t) => ({ at: t.seconds, label: t.label })),
}))
const yAxis = computed((): Axis => ({ scale: y.value, ticks: y.value.ticks(5).map((t) => ({ at: t, label: String(t) })) }))

function points(c: ClassPicture, factor = 1): Point[] {
  const step = props.plan.horizon.seconds / c.rates.length
  return [
    { x: 0, y: 0 },
    ...Array.from(c.rates, (r, i) => ({ x: (i + 0.5) * step, y: r * factor })),
    { x: props.plan.horizon.seconds, y: 0 },
  ]
}
const drawn = computed(() => props.classes.map((c) => points(c)))
const series = computed((): LineSeries[] => {
  const lines = props.classes.map((c, i): LineSeries => ({
    kind: 'line',
    points: pull.value?.index === i ? points(c, pull.value.factor) : drawn.value[i],
    colour: classColour(i),
    dash: classDash(i),
    fill: { to: 'axis', ink: { colour: classColour(i), alpha: 0.1 } },
  }))
  // What is pulled leaves a ghost where it was.
  return pull.value ? [{ kind: 'line', points: drawn.value[pull.value.index], colour: '--faded', width: 1, dash: [3, 3] }, ...lines] : lines
})
const knobs = computed(() =>
  props.classes.map((c, i) => ({
    x: x.value(c.peakAtSeconds + props.plan.horizon.seconds / c.rates.length / 2),
    y: y.value(c.peakPerSecond * (pull.value?.index === i ? pull.value.factor : 1)),
  })),
)
const someFollow = computed(() => props.plan.classes.some((c) => c.turns !== undefined || isClosedLoop(c.arrivals)))
const spikes = computed((): Mark[] =>
  props.plan.classes.flatMap((c) =>
    laidOver(props.plan, c).map((k) => ({
      kind: 'area' as const,
      x: [Math.max(0, k.fromSeconds), Math.min(props.plan.horizon.seconds, k.untilSeconds)] as const,
      colour: '--sand-soft',
      alpha: 0.28,
    })),
  ),
)
/** What lies over the rate of the class that is looked at. */
const laid = computed(() => {
  const c = props.plan.classes.find((one) => one.name === props.chosen)
  return c ? laidOver(props.plan, c) : []
})
/** Names on the right, pushed apart where lines end close together. */
const names = computed(() => {
  const heights = pushedApart(
    props.classes.map((c) => y.value(c.peakPerSecond)),
    38,
    PLOT.top + 8,
  )
  return props.classes.map((c, i) => ({ i, name: c.name, y: heights[i] }))
})
const reading = computed(() =>
  props.classes.map(
    (c) => c.rates[Math.min(c.rates.length - 1, Math.floor((props.cursorSeconds / props.plan.horizon.seconds) * c.rates.length))] ?? 0,
  ),
)

function point(event: PointerEvent): void {
  const rect = (event.currentTarget as HTMLElement).getBoundingClientRect()
  if (pull.value) {
    const c = props.classes[pull.value.index]
    const rate = Math.max(c.peakPerSecond / 20, y.value.invert(event.clientY - rect.top))
    pull.value = { ...pull.value, factor: Math.min(20, rate / c.peakPerSecond) }
    return
  }
  // Beside the plot are names, which do not belong to a time.
  const seconds = x.value.invert(event.clientX - rect.left)
  if (seconds >= 0 && seconds <= props.plan.horizon.seconds) emit('update:cursorSeconds', seconds)
}

function take(index: number, event: PointerEvent): void {
  if (!canPull(index)) return
  pull.value = { index, factor: 1 }
  ;(event.target as Element).closest('[role=group]')?.setPointerCapture(event.pointerId)
}

function letGo(): void {
  if (pull.value && pull.value.factor !== 1) emit('scale', props.classes[pull.value.index].name, pull.value.factor)
  pull.value = null
}
</script>

<template>
  <div ref="box">
    <ChartPicture
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :marks="spikes"
      :width="width"
      :height="height"
      class="touch-none select-none"
      role="group"
      aria-label="Arrivals per second over the horizon"
      @pointermove="point"
      @pointerup="letGo"
      @pointercancel="pull = null">
      <span class="chart-word" :style="{ right: `${width - PLOT.left + 6}px`, top: '-3px' }">/s</span>
      <span
        class="cursor-line"
        :style="{ left: `${x(cursorSeconds)}px`, top: `${PLOT.top}px`, height: `${height - PLOT.top - PLOT.bottom}px` }" />
      <p v-for="n in names" :key="n.name" class="chart-word" :style="{ left: `${width - PLOT.right + 10}px`, top: `${n.y - 12}px` }">
        <button
          type="button"
          class="chart-name pointer-events-auto block text-left hover:underline"
          :class="n.name === chosen ? 'underline' : ''"
          :style="{ color: classColour(n.i) }"
          :aria-pressed="n.name === chosen"
          :title="`How ${n.name} goes: paint its hours and days below`"
          @click="emit('choose', n.name)"
          >{{ n.name }}</button>{{ threeDigits(reading[n.i]) }} /s here
      </p>
      <template v-for="(k, i) in knobs" :key="`k${i}`">
        <span
          v-if="canPull(i)"
          class="ring"
          :style="{ left: `${k.x}px`, top: `${k.y}px`, borderColor: classColour(i) }"
          tabindex="0"
          role="slider"
          :aria-label="`Height of ${classes[i].name}, requests a second`"
          :aria-valuenow="Number(classes[i].peakPerSecond.toFixed(2))"
          :aria-valuetext="`${threeDigits(classes[i].peakPerSecond)} a second`"
          aria-orientation="vertical"
          @pointerdown.prevent="take(i, $event)"
          @keydown.up.prevent="emit('scale', classes[i].name, NUDGE)"
          @keydown.down.prevent="emit('scale', classes[i].name, 1 / NUDGE)" />
        <span v-if="pull?.index === i" class="chart-word chart-name" :style="{ left: `${k.x + 12}px`, top: `${k.y - 10}px` }"
          >{{ threeDigits(classes[i].peakPerSecond * pull.factor) }} /s</span
        >
      </template>
      <LaidTabs
        :class-name="chosen"
        :laid="laid"
        :x="x"
        :top="PLOT.top"
        :height="height - PLOT.top - PLOT.bottom"
        @put="(l) => emit('put', l)"
        @remove="(l) => emit('remove', l)" />
    </ChartPicture>
    <p class="mt-1 text-[0.82rem] text-faded">
      {{ clock(plan.horizon.start, cursorSeconds) }} under the cursor. Shaded: spikes and events. Pull a ring to raise or lower a class;
      choose one by its name.<template v-if="someFollow"> Requests that follow others are drawn as if answers took no time.</template>
    </p>
  </div>
</template>
