<script setup lang="ts">
import { cellSentence, type Measurement, type MeasurementReading, type Plan } from '@sandclock/core'
import { computed, reactive } from 'vue'

/** Load tests that were found in a table: to which variant, on which machine, they belong is asked where the table does not say. */
const props = defineProps<{ reading: MeasurementReading; fileName: string; plan: Plan }>()
const emit = defineEmits<{ take: [entries: { model: string; variant: string; measurement: Measurement }[]]; putAway: [] }>()

const known = (names: readonly string[], name: string | undefined) => (name !== undefined && names.includes(name) ? name : '')
const modelNames = computed(() => props.plan.models.map((m) => m.name))
const variantNames = (model: string) => props.plan.models.find((m) => m.name === model)?.variants.map((v) => v.name) ?? []
const entries = reactive(
  props.reading.groups.map(({ model, variant, measurement }) => {
    const only =
      model ?? (variant === undefined ? undefined : props.plan.models.find((m) => m.variants.some((v) => v.name === variant))?.name)
    const chosen = known(modelNames.value, only)
    return {
      model: chosen,
      variant: known(variantNames(chosen), variant),
      machine: known(
        props.plan.machines.map((m) => m.name),
        measurement.machine,
      ),
      devices: measurement.devices ?? 1,
      cold: false,
      source: props.fileName,
      measurement,
    }
  }),
)
const ready = computed(() => entries.filter((e) => e.model !== '' && e.variant !== '' && e.machine !== ''))
const strange = (asked: string | undefined, found: string) =>
  asked !== undefined && found === '' ? `the table says “${asked}”, which is not in this plan` : ''

function take(): void {
  emit(
    'take',
    ready.value.map((e) => ({
      model: e.model,
      variant: e.variant,
      measurement: {
        ...e.measurement,
        machine: e.machine,
        ...(e.devices > 1 && { devices: e.devices }),
        source: e.source,
        ...(e.cold && { warmedUp: false }),
      },
    })),
  )
}
</script>

<template>
  <section aria-label="Load tests" class="mb-4 border-l-4 border-sand bg-leaf px-4 py-3">
    <p class="font-serif text-[1.12rem]">
      {{ fileName }}: {{ reading.groups.length === 1 ? 'one load test' : `${reading.groups.length} load tests` }}.</p
    >
    <div v-if="reading.problems.length > 0" class="mt-1 text-[0.9rem]">
      <p class="text-rust">What could not be used; the rest is kept:</p>
      <ul class="max-h-28 overflow-auto">
        <li v-for="(p, i) in reading.problems" :key="i">
          {{ cellSentence(p) }}
        </li>
      </ul>
    </div>
    <p v-for="(e, i) in entries" :key="i" class="mt-1">
      {{ e.measurement.rows.length }} rows are of
      <select v-model="e.model" class="changeable w-auto" :aria-label="`Model of load test ${i + 1}`" @change="e.variant = ''"
        ><option value="">which model?</option
        ><option v-for="n in modelNames" :key="n">{{ n }}</option></select
      >
      in
      <select v-model="e.variant" class="changeable w-auto" :aria-label="`Variant of load test ${i + 1}`"
        ><option value="">which variant?</option
        ><option v-for="n in variantNames(e.model)" :key="n">{{ n }}</option></select
      >
      on
      <input
        v-model.number="e.devices"
        type="number"
        min="1"
        max="1024"
        class="w-14 border-b border-rule bg-transparent"
        :aria-label="`Devices of load test ${i + 1}`" />
      {{ e.devices === 1 ? 'device' : 'devices' }} of
      <select v-model="e.machine" class="changeable w-auto" :aria-label="`Machine of load test ${i + 1}`"
        ><option value="">which machine?</option
        ><option v-for="m in plan.machines" :key="m.name">{{ m.name }}</option></select
      >, measured by
      <input
        v-model="e.source"
        class="w-64 border-b border-rule bg-transparent px-1"
        maxlength="400"
        :aria-label="`Source of load test ${i + 1}`" />;
      <label><input v-model="e.cold" type="checkbox" class="accent-(--water)" /> start-up is within its figures</label>
      <span class="text-rust">{{
        [
          strange(reading.groups[i].model, e.model),
          strange(reading.groups[i].variant, e.variant),
          strange(reading.groups[i].measurement.machine, e.machine),
        ]
          .filter((w) => w !== '')
          .join('; ')
      }}</span>
      <span v-if="e.measurement.concurrencyStated === false" class="text-rust">
        The table does not say how many requests were side by side; one is assumed, and marked so.</span
      >
    </p>
    <p class="mt-2">
      <button type="button" class="word" :disabled="ready.length === 0" @click="take">{{
        ready.length === entries.length ? 'Rely on what was measured' : `Take ${ready.length} of ${entries.length} in`
      }}</button>
      <button type="button" class="word ml-4" @click="emit('putAway')">put it away</button>
    </p>
  </section>
</template>
