<script setup lang="ts">
import { METRICS, waysOf, type ScalingPolicy } from '@sandclock/core'
import { computed } from 'vue'
import EditableChoice from './EditableChoice.vue'
import EditableClock from './EditableClock.vue'
import EditableFigure from './EditableFigure.vue'
import EditableName from './EditableName.vue'

/** One way of scaling, as prose. */
const props = defineProps<{ policy: ScalingPolicy; taken: readonly string[]; service: string }>()
const emit = defineEmits<{ change: [policy: ScalingPolicy]; remove: [] }>()

type Metric = NonNullable<ScalingPolicy['metrics']>[number]
const PICKED = Object.values(METRICS).map((m) => m.picked)
const metricOf = (picked: string) => waysOf(METRICS).find((name) => METRICS[name].picked === picked) ?? 'in-flight'
const nameOf = (m: Metric) => METRICS[m.metric].picked
const isShare = (m: Metric) => METRICS[m.metric].isShare
const metrics = computed(() => props.policy.metrics ?? [])
const set = (patch: Partial<ScalingPolicy>) => emit('change', { ...props.policy, ...patch })
type Window = NonNullable<ScalingPolicy['schedule']>[number]
const DAYS: Record<string, number[]> = {
  'working days': [1, 2, 3, 4, 5],
  'every day': [1, 2, 3, 4, 5, 6, 7],
  'week-ends': [6, 7],
  Mondays: [1],
  Tuesdays: [2],
  Wednesdays: [3],
  Thursdays: [4],
  Fridays: [5],
  Saturdays: [6],
  Sundays: [7],
}
const daysOf = ({ days }: Window) =>
  Object.keys(DAYS).find((k) => DAYS[k].join() === [...days].sort().join()) ??
  [...days]
    .sort()
    .map((d) => Object.keys(DAYS).find((k) => DAYS[k].join() === String(d)))
    .join(', ')
const schedule = computed(() => props.policy.schedule ?? [])
const setWindow = (index: number, patch: Partial<Window> | null) => {
  const next = schedule.value.flatMap((w, i) => (i !== index ? [w] : patch ? [{ ...w, ...patch }] : []))
  const { schedule: _, ...rest } = props.policy
  emit('change', next.length > 0 ? { ...rest, schedule: next } : rest)
}
const addWindow = () =>
  set({
    schedule: [
      ...schedule.value,
      { days: DAYS['working days'], from: '07:00', until: '19:00', min: Math.min(props.policy.max, props.policy.min + 1) },
    ],
  })

const CALLERS = { hold: 'held until one is ready', refuse: 'refused' } as const
/** Half an hour without a request is a quiet night, not a pause between two callers. */
const FIRST_IDLE_SECONDS = 1800
const letSleep = () => set({ min: 0, idle: { seconds: FIRST_IDLE_SECONDS, firstCaller: 'hold' } })
const keepAwake = () => {
  const { idle: _, ...rest } = props.policy
  emit('change', { ...rest, min: 1 })
}
const setMetric = (index: number, patch: Partial<Metric>) =>
  set({ metrics: metrics.value.map((m, i) => (i === index ? { ...m, ...patch } : m)) })
</script>

<template>
  <span>
    <EditableName :value="policy.name" :taken="taken" :label="`Policy of ${service}`" @commit="(name) => set({ name })" />: between
    <EditableFigure
      :value="policy.min"
      kind="count"
      :min="policy.idle ? 0 : 1"
      :max="policy.idle ? 0 : policy.max"
      :label="`Minimum of ${policy.name}`"
      @commit="(min) => set({ min })" />
    and
    <EditableFigure
      :value="policy.max"
      kind="count"
      :min="Math.max(1, policy.min)"
      :max="2000"
      :label="`Maximum of ${policy.name}`"
      @commit="(max) => set({ max })" />
    copies<template v-for="(m, i) in metrics" :key="i"
      >{{ i === 0 ? ', by ' : ' and '
      }}<EditableChoice
        :value="nameOf(m)"
        :options="PICKED"
        :label="`Metric of ${policy.name}`"
        @commit="(w) => setMetric(i, { metric: metricOf(w), target: METRICS[metricOf(w)].firstTarget })" />
      of
      <EditableFigure
        :value="m.target"
        :kind="isShare(m) ? 'percent' : 'number'"
        :min="0.001"
        :label="`Target of ${policy.name}`"
        @commit="(target) => setMetric(i, { target })" />
      each</template
    ><template v-for="(w, i) in schedule" :key="`window ${i}`"
      >, at least
      <EditableFigure
        :value="w.min"
        kind="count"
        :min="1"
        :max="policy.max"
        :label="`Copies in window ${i + 1} of ${policy.name}`"
        @commit="(min) => setWindow(i, { min })" />
      on
      <EditableChoice
        :value="daysOf(w)"
        :options="Object.keys(DAYS)"
        :label="`Days of window ${i + 1} of ${policy.name}`"
        @commit="(d) => setWindow(i, { days: DAYS[d] })" />
      from
      <EditableClock :value="w.from" :label="`Begin of window ${i + 1} of ${policy.name}`" @commit="(from) => setWindow(i, { from })" /> to
      <EditableClock :value="w.until" :label="`End of window ${i + 1} of ${policy.name}`" @commit="(until) => setWindow(i, { until })" />
      (<button
        type="button"
        class="word font-sans text-[0.78rem]"
        :aria-label="`Take window ${i + 1} of ${policy.name} out`"
        @click="setWindow(i, null)"
        >take out</button
      >)</template
    ><template v-if="policy.ahead">, ahead of what {{ policy.ahead.from === 'plan' ? 'the plan expects' : 'came a week before' }}</template
    ><template v-if="policy.idle"
      >, none after
      <EditableFigure
        :value="policy.idle.seconds"
        kind="duration"
        :min="1"
        :label="`Idle time of ${policy.name}`"
        @commit="(seconds) => policy.idle && set({ idle: { ...policy.idle, seconds } })" />
      without a request, the first caller
      <EditableChoice
        :value="CALLERS[policy.idle.firstCaller]"
        :options="Object.values(CALLERS)"
        :label="`First caller of ${policy.name}`"
        @commit="
          (w) => policy.idle && set({ idle: { ...policy.idle, firstCaller: w === CALLERS.refuse ? 'refuse' : 'hold' } })
        " /></template
    >; fewer only after
    <EditableFigure
      :value="policy.down?.stabilisationSeconds ?? 300"
      kind="duration"
      :min="0"
      :max="3600"
      :label="`Stabilisation downwards of ${policy.name}`"
      @commit="(stabilisationSeconds) => set({ down: { ...policy.down, stabilisationSeconds } })" />{{ ' '
    }}<span class="font-sans text-[0.78rem]"
      >(<button type="button" class="word" :aria-label="`Add a window to the schedule of ${policy.name}`" @click="addWindow"
        >add a window</button
      >,
      <button v-if="policy.idle" type="button" class="word" :aria-label="`Keep ${policy.name} awake`" @click="keepAwake">keep awake</button
      ><button v-else type="button" class="word" :aria-label="`Let ${policy.name} sleep`" @click="letSleep">let it sleep</button>, or
      <button type="button" class="word" :aria-label="`Take the policy ${policy.name} out`" @click="emit('remove')">take it out</button
      >)</span
    >
  </span>
</template>
