<script setup lang="ts">
import { clockSeconds, clockText, duration, type Plan, type ScalingPolicy } from '@sandclock/core'
import { computed, shallowRef } from 'vue'
import type { RunView } from '../../worker/runViews.ts'
import PullTab from '../frame/PullTab.vue'
import type { Panel } from './panels.ts'
import { PLOT, readsTop, timeScale } from './frame.ts'
import { firstSleep, occurrences, weekOffset } from './policyPlaces.ts'

/**
 * What a policy is set to, pulled on the picture of its run: least and most copies, its target, when it sleeps, and the windows of its
 * schedule.
 */
const props = defineProps<{
  plan: Plan
  policy: ScalingPolicy
  run: RunView
  lanes: Panel
  reads: Panel | undefined
  rows: number
  width: number
  showReading: (value: number) => string
}>()
const emit = defineEmits<{ change: [policy: ScalingPolicy] }>()

/** the policy while something is pulled */
const draft = shallowRef<ScalingPolicy | null>(null)
const shown = computed(() => draft.value ?? props.policy)

function commit(next: ScalingPolicy): void {
  draft.value = null
  if (JSON.stringify(next) !== JSON.stringify(props.policy)) emit('change', next)
}

const lane = computed(() => props.lanes.height / props.rows)
const yOfCopies = (n: number) => props.lanes.top + Math.min(n, props.rows) * lane.value
const copiesAt = (y: number) => (y - props.lanes.top) / lane.value
/** The most may lie beyond the rows: pulled below the panel it goes on by a copy every few pixels. */
const PIXELS_A_COPY = 12
const mostAt = (y: number) => {
  const below = y - props.lanes.top - props.lanes.height
  return below > 0 ? Math.max(props.rows, props.policy.max) + below / PIXELS_A_COPY : copiesAt(y)
}
const right = computed(() => props.width - PLOT.right + 26)

const setMin = (min: number): ScalingPolicy => ({ ...props.policy, min })
const setMax = (max: number): ScalingPolicy => ({ ...props.policy, max })

const target = computed(() => shown.value.metrics?.[0]?.target)
const top = computed(() => readsTop(props.run, props.policy.metrics?.[0]?.target ?? 1))
const yOfTarget = (value: number) => (props.reads ? props.reads.top + props.reads.height * (1 - Math.min(1, value / top.value)) : 0)
const targetAt = (y: number) => (props.reads ? ((props.reads.top + props.reads.height - y) / props.reads.height) * top.value : 0)
const targetStep = computed(() => 10 ** Math.floor(Math.log10(Math.max(1e-6, props.policy.metrics?.[0]?.target ?? 1) / 5)))
const setTarget = (value: number): ScalingPolicy => ({
  ...props.policy,
  metrics: (props.policy.metrics ?? []).map((m, i) => (i === 0 ? { ...m, target: Number(value.toPrecision(3)) } : m)),
})

const x = computed(() => timeScale({ timeline: props.run.timeline, width: props.width }))
const within = (pixels: number) => Math.min(props.width - PLOT.right, Math.max(PLOT.left, pixels))

/** Where a sleep began, so that its length is a length of the picture. */
const sleep = computed(() => {
  const { idle } = props.policy
  const { fleet, timeline } = props.run
  const at = idle && fleet ? firstSleep(fleet.wanted, timeline.fromSeconds, timeline.untilSeconds) : undefined
  return idle && at !== undefined ? { from: at - idle.seconds } : undefined
})
const setIdle = (seconds: number): ScalingPolicy =>
  props.policy.idle ? { ...props.policy, idle: { ...props.policy.idle, seconds } } : props.policy

const MARK_SECONDS = 300
const windows = computed(() =>
  (shown.value.schedule ?? [])
    .map((w, i) => ({
      w,
      i,
      places: occurrences(w, props.plan.horizon.start, props.run.timeline.fromSeconds, props.run.timeline.untilSeconds),
    }))
    .filter((o) => o.places.length > 0),
)
const setWindow = (index: number, patch: Partial<NonNullable<ScalingPolicy['schedule']>[number]>): ScalingPolicy => ({
  ...props.policy,
  schedule: (props.policy.schedule ?? []).map((w, i) => (i === index ? { ...w, ...patch } : w)),
})
const removeWindow = (index: number): ScalingPolicy => {
  const schedule = (props.policy.schedule ?? []).filter((_, i) => i !== index)
  const { schedule: _, ...rest } = props.policy
  return schedule.length > 0 ? { ...rest, schedule } : rest
}
/** The time of day under a place, within a day of the window's first occurrence. */
const clockAt = (pixels: number) => (x.value.invert(within(pixels)) + weekOffset(props.plan.horizon.start)) % 86_400
const clockWords = (text: string, end: string) => `${end} ${text}`
</script>

<template>
  <div class="pointer-events-none absolute inset-0 [&>button]:pointer-events-auto">
    <div class="line-y" :style="{ top: `${yOfCopies(shown.min)}px`, left: `${PLOT.left}px`, right: `${PLOT.right - 26}px` }" />
    <div class="line-y" :style="{ top: `${yOfCopies(shown.max)}px`, left: `${PLOT.left}px`, right: `${PLOT.right - 26}px` }" />
    <PullTab
      v-if="!policy.idle"
      axis="y"
      :left="right"
      :top="yOfCopies(shown.min) - 16"
      :value="shown.min"
      :least="1"
      :most="policy.max"
      :step="1"
      :label="`Least copies of ${policy.name}`"
      :words="`least ${shown.min}`"
      :value-at="copiesAt"
      @pull="(v) => (draft = setMin(v))"
      @commit="(v) => commit(setMin(v))" />
    <PullTab
      axis="y"
      :left="right"
      :top="yOfCopies(shown.max) + (shown.max > rows ? 1 : -16)"
      :value="shown.max"
      :least="Math.max(1, policy.min)"
      :most="2000"
      :step="1"
      :label="`Most copies of ${policy.name}`"
      :words="`most ${shown.max}`"
      :value-at="mostAt"
      @pull="(v) => (draft = setMax(v))"
      @commit="(v) => commit(setMax(v))" />
    <template v-if="reads && target !== undefined">
      <div v-if="draft" class="line-y" :style="{ top: `${yOfTarget(target)}px`, left: `${PLOT.left}px`, right: `${PLOT.right}px` }" />
      <PullTab
        axis="y"
        :left="width - PLOT.right + 4"
        :top="yOfTarget(target) - 8"
        :value="target"
        :least="targetStep"
        :most="1e6"
        :step="targetStep"
        :label="`Target of ${policy.name}`"
        :words="`aim ${showReading(target)}`"
        :value-at="targetAt"
        @pull="(v) => (draft = setTarget(v))"
        @commit="(v) => commit(setTarget(v))" />
    </template>
    <template v-if="sleep && shown.idle">
      <div
        class="line-y"
        :style="{
          top: `${lanes.top + lanes.height - 2}px`,
          left: `${within(x(sleep.from))}px`,
          width: `${Math.max(2, within(x(sleep.from + shown.idle.seconds)) - within(x(sleep.from)))}px`,
        }" />
      <PullTab
        axis="x"
        :left="within(x(sleep.from + shown.idle.seconds)) + 2"
        :top="lanes.top + lanes.height - 17"
        :value="shown.idle.seconds"
        :least="60"
        :most="86_400"
        :step="60"
        :label="`Idle time of ${policy.name}`"
        :words="`idle ${duration(shown.idle.seconds)}`"
        :value-at="(px) => x.invert(px) - (sleep?.from ?? 0)"
        @pull="(v) => (draft = setIdle(v))"
        @commit="(v) => commit(setIdle(v))" />
    </template>
    <template v-for="{ w, i, places } in windows" :key="i">
      <div
        v-for="(o, k) in places"
        :key="k"
        class="window"
        :style="{
          left: `${within(x(o.from))}px`,
          width: `${Math.max(2, within(x(o.until)) - within(x(o.from)))}px`,
          top: `${lanes.top}px`,
          height: `${Math.min(w.min, rows) * lane}px`,
        }" />
      <PullTab
        axis="x"
        :left="within(x(places[0].from)) - 34"
        :top="lanes.top + 1"
        :value="clockSeconds(w.from)"
        :least="0"
        :most="86_100"
        :step="MARK_SECONDS"
        :label="`Begin of window ${i + 1} of ${policy.name}`"
        :words="clockWords(w.from, 'from')"
        :value-at="clockAt"
        @pull="(v) => (draft = setWindow(i, { from: clockText(v) }))"
        @commit="(v) => commit(setWindow(i, { from: clockText(v) }))"
        @remove="commit(removeWindow(i))" />
      <PullTab
        axis="x"
        :left="within(x(places[0].until)) + 2"
        :top="lanes.top + 1"
        :value="clockSeconds(w.until)"
        :least="0"
        :most="86_100"
        :step="MARK_SECONDS"
        :label="`End of window ${i + 1} of ${policy.name}`"
        :words="clockWords(w.until, 'to')"
        :value-at="clockAt"
        @pull="(v) => (draft = setWindow(i, { until: clockText(v) }))"
        @commit="(v) => commit(setWindow(i, { until: clockText(v) }))"
        @remove="commit(removeWindow(i))" />
      <PullTab
        axis="y"
        :left="within(x(places[0].until)) + 2"
        :top="lanes.top + Math.min(w.min, rows) * lane - 8"
        :value="w.min"
        :least="1"
        :most="policy.max"
        :step="1"
        :label="`Copies in window ${i + 1} of ${policy.name}`"
        :words="`least ${w.min}`"
        :value-at="copiesAt"
        @pull="(v) => (draft = setWindow(i, { min: v }))"
        @commit="(v) => commit(setWindow(i, { min: v }))"
        @remove="commit(removeWindow(i))" />
    </template>
  </div>
</template>

<style scoped>
.line-y {
  position: absolute;
  border-top: 1px solid var(--color-sand);
}
.window {
  position: absolute;
  border: 1.5px solid var(--color-moss);
  border-top: none;
  background: repeating-linear-gradient(135deg, transparent 0 6px, color-mix(in srgb, var(--color-moss) 22%, transparent) 6px 7px);
}
</style>
