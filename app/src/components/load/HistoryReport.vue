<script setup lang="ts">
import {
  bare,
  duration,
  grouped,
  ROLES,
  threeDigits,
  waysOf,
  type Figures,
  type FromLog,
  type HistoryFit,
  type Role,
  type Roles,
} from '@sandclock/core'
import { computed } from 'vue'
import type { HistoryRead } from '../../worker/histories.ts'
import EditableChoice from '../sentence/EditableChoice.vue'
import LogFitPart from './LogFit.vue'

/** What was found in a metrics history: which metric is what, to be said otherwise, what it is like, and the plan that begins from it. */
const props = defineProps<{ report: HistoryRead & { name: string; by: string | null | undefined }; fit: HistoryFit | null }>()
const emit = defineEmits<{
  say: [roles: Roles, by: string | null | undefined]
  begin: [figures: Figures, from: Omit<FromLog, 'log'>]
  putAway: []
}>()

const NOTHING = 'nothing'
const NO_LABEL = 'no label: all is one class'
const metrics = computed(() => [...props.report.metrics.map((m) => m.name), NOTHING])
const label = computed(() => (props.report.by === null ? NO_LABEL : (props.report.by ?? props.report.labels[0] ?? NO_LABEL)))
function setRole(role: Role, name: string): void {
  const { [role]: _, ...rest } = props.report.roles
  emit('say', name === NOTHING ? rest : { ...rest, [role]: name }, props.report.by)
}
const served = computed(() => {
  const { inFlight, replicas, latencyP50Seconds, latencyP95Seconds } = props.fit?.served ?? {}
  return [
    inFlight !== undefined && `${bare(threeDigits(inFlight))} in flight on average`,
    replicas !== undefined && `${bare(threeDigits(replicas))} replicas on average`,
    latencyP50Seconds !== undefined &&
      `half of them took less than ${duration(latencyP50Seconds)}, 95 of 100 less than ${duration(latencyP95Seconds)}`,
  ]
    .filter((w) => w !== false)
    .join(', ')
})
</script>

<template>
  <section aria-label="Metrics history" class="mb-4 border-l-4 border-sand bg-leaf px-4 py-3">
    <p class="font-serif text-[1.15rem]">
      {{ report.name }}: a metrics history of {{ grouped(report.metrics.length, 0) }} metrics<template v-if="fit">
        over {{ duration(fit.seconds) }}, by steps of {{ duration(fit.stepSeconds) }}</template
      >.<template v-if="served"> It was served with {{ served }}.</template>
    </p>
    <p class="text-[0.95rem] leading-[1.75]">
      <template v-for="(role, i) in waysOf(ROLES)" :key="role"
        ><template v-if="i > 0">, </template>{{ ROLES[role] }}:
        <EditableChoice
          :value="report.roles[role] ?? NOTHING"
          :options="metrics"
          :label="`Which metric is ${ROLES[role]}`"
          @commit="(name) => setRole(role, name)" /></template
      >; classes by
      <EditableChoice
        :value="label"
        :options="[...report.labels, NO_LABEL]"
        label="Label whose values are classes"
        @commit="(by) => emit('say', report.roles, by === NO_LABEL ? null : by)" />.
    </p>
    <ul v-if="report.problems.length > 0" class="mt-1 max-h-28 overflow-auto text-[0.9rem] text-rust">
      <li v-for="problem in report.problems" :key="problem">{{ problem }}</li>
    </ul>
    <p class="mt-1 text-[0.9rem] text-faded"
      >What happens within a step is not in it. It stays in this browser.
      <button type="button" class="word" @click="emit('putAway')">put it away</button></p
    >
    <LogFitPart
      v-if="fit"
      :key="fit.classes.map((c) => c.name).join()"
      :fit="fit"
      :has-requests="false"
      @begin="(figures, from) => emit('begin', figures, from)" />
  </section>
</template>
