<script setup lang="ts">
import { type FitRow, type Plan, type Service } from '@sandclock/core'
import { computed } from 'vue'
import EditableQuantity from '../sentence/EditableQuantity.vue'

/** How much fits, what the search tries of it, and what it is held to, in prose. */
const props = defineProps<{ plan: Plan; service: Service; rows: readonly FitRow[] }>()
const emit = defineEmits<{
  service: [change: (s: Service) => Service]
  share: [share: number]
  assume: [patch: Partial<Plan['assumptions']>]
}>()

const fitting = computed(() => props.rows.filter((r) => r.reason === null))
const searched = computed(() => fitting.value.filter((r) => r.searched).length)
const derives = computed(() => props.rows.some((r) => r.source === 'derived'))
const hasQuality = computed(() => props.rows.some((r) => r.quality !== null))
type Search = NonNullable<Service['search']>
const setSearch = (change: (s: Search) => Search) => emit('service', (s) => (s.search ? { ...s, search: change(s.search) } : s))
const setFloor = (floor: number | undefined) =>
  setSearch(({ qualityFloor: _, ...s }) => (floor === undefined ? s : { ...s, qualityFloor: floor }))
const setLicensed = () => setSearch(({ licensedForProduction: now, ...s }) => (now ? s : { ...s, licensedForProduction: true }))
</script>

<template>
  <p class="mb-2 font-serif text-[1.08rem] leading-relaxed">
    {{ service.model }} fits {{ fitting.length }} of {{ rows.length }} ways{{
      service.search ? `, and the search tries ${searched} of them` : '; it runs as it is stated'
    }}. The server gets
    <EditableQuantity
      :value="plan.assumptions.memoryShare"
      kind="percent"
      :min="0.05"
      :max="1"
      label="Share of the memory given to the server"
      @commit="(v) => v !== undefined && emit('share', v)" />
    of the memory.
    <template v-if="service.search">
      Variants may be
      <button type="button" class="changeable" @click="setLicensed">{{
        service.search.licensedForProduction ? 'only those licensed for production' : 'of any licence'
      }}</button><template v-if="hasQuality"
        >, of a quality of at least
        <EditableQuantity
          :value="service.search.qualityFloor"
          kind="percent"
          :min="0.01"
          :max="1"
          optional
          label="Quality floor"
          @commit="setFloor" />
        with the whole interval</template
      >.
    </template>
    <span v-if="derives" :title="plan.assumptions.source"
      >Derived costs assume that
      <EditableQuantity
        :value="plan.assumptions.memoryEfficiency"
        kind="percent"
        :min="0.01"
        :max="1"
        label="Share of the bandwidth that is reached"
        @commit="(v) => v !== undefined && emit('assume', { memoryEfficiency: v })" />
      of the bandwidth and
      <EditableQuantity
        :value="plan.assumptions.arithmeticEfficiency"
        kind="percent"
        :min="0.01"
        :max="1"
        label="Share of the arithmetic that is reached"
        @commit="(v) => v !== undefined && emit('assume', { arithmeticEfficiency: v })" />
      of the arithmetic are reached, and
      <EditableQuantity
        :value="plan.assumptions.launchSeconds"
        kind="duration"
        :min="0"
        label="Launch overhead of a step"
        @commit="(v) => v !== undefined && emit('assume', { launchSeconds: v })" />
      a launch.</span
    >
  </p>
</template>
