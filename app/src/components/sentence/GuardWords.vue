<script setup lang="ts">
import type { Service } from '@sandclock/core'
import { editService, type Edit } from '../../edits/edits.ts'
import EditableQuantity from './EditableQuantity.vue'
import EditableChoice from './EditableChoice.vue'

/** What a service may spend in a day or a month before it is stopped. */
const props = defineProps<{ service: Service; currency: string }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

type Guard = NonNullable<Service['guard']>
const set = (guard: Guard | undefined) =>
  emit(
    'edit',
    editService(props.service.name, ({ guard: _, ...s }) => ({ ...s, ...(guard && { guard }) })),
  )
const EVERY: readonly Guard['every'][] = ['day', 'month']
/** What a guard begins as; another is typed. */
const FIRST: Guard = { budget: 100, every: 'day' }
</script>

<template>
  <span>
    <template v-if="service.guard"
      >It is stopped once it has spent
      <EditableQuantity
        :value="service.guard.budget"
        kind="money"
        :min="0.01"
        :label="`Guard of ${service.name}, ${currency}`"
        @commit="(budget) => budget !== undefined && service.guard && set({ ...service.guard, budget })" />
      {{ currency }} a
      <EditableChoice
        :value="service.guard.every"
        :options="EVERY"
        :label="`Guard of ${service.name}, every`"
        @commit="(every) => service.guard && set({ ...service.guard, every: EVERY.find((e) => e === every) ?? service.guard.every })" />
      (<button
        type="button"
        class="word font-sans text-[0.78rem]"
        :aria-label="`Take out the guard of ${service.name}`"
        @click="set(undefined)"
        >take out</button
      >).</template
    ><button
      v-else
      type="button"
      class="word font-sans text-[0.78rem]"
      :aria-label="`Guard what ${service.name} spends`"
      @click="set(FIRST)"
      >guard what it spends</button
    >
  </span>
</template>
