<script setup lang="ts">
import type { ScalingPolicy } from '@sandclock/core'
import { computed } from 'vue'
import EditableChoice from './EditableChoice.vue'
import EditableFigure from './EditableFigure.vue'
import EditableName from './EditableName.vue'

/** One way of scaling, as prose. */
const props = defineProps<{ policy: ScalingPolicy; taken: readonly string[]; service: string }>()
const emit = defineEmits<{ change: [policy: ScalingPolicy]; remove: [] }>()

type Metric = NonNullable<ScalingPolicy['metrics']>[number]
const METRICS: Record<string, Metric['metric']> = { 'requests in flight': 'in-flight', 'busy share': 'busy', 'arrivals a second': 'arrivals', 'requests waiting': 'waiting', 'host CPU': 'host-cpu' }
const nameOf = (m: Metric) => Object.keys(METRICS).find((k) => METRICS[k] === m.metric) ?? ''
const isShare = (m: Metric) => m.metric === 'busy' || m.metric === 'host-cpu'
/** A target that makes sense of a metric, when another one is read. */
const FIRST_TARGET: Record<Metric['metric'], number> = { 'in-flight': 10, busy: 0.7, arrivals: 1, waiting: 1, 'host-cpu': 0.7 }
const metrics = computed(() => props.policy.metrics ?? [])
const set = (patch: Partial<ScalingPolicy>) => emit('change', { ...props.policy, ...patch })
const setMetric = (index: number, patch: Partial<Metric>) => set({ metrics: metrics.value.map((m, i) => (i === index ? { ...m, ...patch } : m)) })
</script>

<template>
  <span>
    <EditableName :value="policy.name" :taken="taken" :label="`Policy of ${service}`" @commit="(name) => set({ name })" />: between
    <EditableFigure :value="policy.min" kind="count" :min="policy.idle ? 0 : 1" :max="policy.idle ? 0 : policy.max" :label="`Minimum of ${policy.name}`" @commit="(min) => set({ min })" /> and
    <EditableFigure :value="policy.max" kind="count" :min="Math.max(1, policy.min)" :max="2000" :label="`Maximum of ${policy.name}`" @commit="(max) => set({ max })" /> copies<template v-for="(m, i) in metrics" :key="i">{{ i === 0 ? ', by ' : ' and ' }}<EditableChoice :value="nameOf(m)" :options="Object.keys(METRICS)" :label="`Metric of ${policy.name}`" @commit="(w) => setMetric(i, { metric: METRICS[w], target: FIRST_TARGET[METRICS[w]] })" />
      of <EditableFigure :value="m.target" :kind="isShare(m) ? 'percent' : 'number'" :min="0.001" :label="`Target of ${policy.name}`" @commit="(target) => setMetric(i, { target })" /> each</template><template v-if="policy.schedule?.length">, by {{ policy.schedule.length === 1 ? 'a schedule' : `${policy.schedule.length} windows of a schedule` }}</template><template v-if="policy.ahead">, ahead of what {{ policy.ahead.from === 'plan' ? 'the plan expects' : 'came a week before' }}</template><template v-if="policy.idle">, none after
      <EditableFigure :value="policy.idle.seconds" kind="duration" :min="1" :label="`Idle time of ${policy.name}`" @commit="(seconds) => policy.idle && set({ idle: { ...policy.idle, seconds } })" /> without a request</template>;
    fewer only after <EditableFigure :value="policy.down?.stabilisationSeconds ?? 300" kind="duration" :min="0" :max="3600" :label="`Stabilisation downwards of ${policy.name}`" @commit="(stabilisationSeconds) => set({ down: { ...policy.down, stabilisationSeconds } })" /><button type="button" class="word ml-1 font-sans text-[0.78rem]" :aria-label="`Take the policy ${policy.name} out`" @click="emit('remove')">take it out</button>
  </span>
</template>
