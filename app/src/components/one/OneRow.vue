<script setup lang="ts">
import { FINDS, namesOfPlaces, waysOf, type Finds, type OneAsked, type Plan, type Service } from '@sandclock/core'
import { computed } from 'vue'
import EditableChoice from '../sentence/EditableChoice.vue'
import EditableFigure from '../sentence/EditableFigure.vue'

/** What one of several requests beside each other finds, and where: in words that are changed in place. */
const props = defineProps<{ letter: string; asked: OneAsked; plan: Plan; service: Service; canGo: boolean }>()
const emit = defineEmits<{ change: [patch: Partial<OneAsked>]; remove: [] }>()

const places = computed(() => namesOfPlaces(props.plan, props.service))
const findsOf = (words: string) => waysOf(FINDS).find((f) => FINDS[f].words === words) ?? ('warm' satisfies Finds)
const of = (what: string) => `${what} of ${props.letter}`
</script>

<template>
  <li class="leading-[1.8]">
    <span class="mr-1 font-sans font-semibold">{{ letter }}</span> finds
    <EditableChoice
      :value="FINDS[asked.finds].words"
      :options="waysOf(FINDS).map((f) => FINDS[f].words)"
      :label="of('What is there at the call')"
      @commit="(words) => emit('change', { finds: findsOf(words) })" />
    on
    <EditableChoice
      :value="asked.machine"
      :options="places.machines"
      :label="of('Machine')"
      @commit="(machine) => emit('change', { machine })" />,
    <EditableChoice
      :value="asked.variant"
      :options="places.variants"
      :label="of('Variant')"
      @commit="(variant) => emit('change', { variant })" />
    on
    <EditableFigure
      :value="asked.devices"
      kind="count"
      :min="1"
      :max="1024"
      :label="of('Devices')"
      @commit="(devices) => emit('change', { devices })" />
    {{ asked.devices === 1 ? 'device' : 'devices' }}, which takes
    <EditableFigure
      :value="asked.sequences"
      kind="count"
      :min="1"
      :max="4096"
      :label="of('Requests side by side')"
      @commit="(sequences) => emit('change', { sequences })" />
    side by side, with
    <EditableFigure
      :value="asked.others"
      kind="count"
      :min="0"
      :max="4096"
      :label="of('Others in service')"
      @commit="(others) => emit('change', { others })" />
    {{ asked.others === 1 ? 'other' : 'others' }} in service
    <button v-if="canGo" type="button" class="word font-sans text-[0.8rem]" :aria-label="`Take ${letter} out`" @click="emit('remove')"
      >take out</button
    >
  </li>
</template>
