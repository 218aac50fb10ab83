<script setup lang="ts">
import { ESTIMATES, waysOf, type Estimated } from '@sandclock/core'
import EditableQuantity from '../sentence/EditableQuantity.vue'

/** Own estimates of a replica and its request, each beside what it is made of. */
defineProps<{
  /** where, in words */
  place: string
  mine: Readonly<Partial<Record<Estimated, number>>>
  /** what differs, in words */
  words: Readonly<Partial<Record<Estimated, string>>>
}>()
const emit = defineEmits<{ set: [what: Estimated, value: number | undefined] }>()
</script>

<template>
  <section aria-label="Check your own estimate" class="mt-4">
    <h2 class="text-[1.15rem]"
      >Check your own estimate <span class="font-sans text-[0.82rem] text-faded">of {{ place }}</span></h2
    >
    <ul class="text-[0.95rem]">
      <li v-for="what in waysOf(ESTIMATES)" :key="what" class="leading-[1.8]"
        >I make it
        <EditableQuantity
          :value="mine[what]"
          :kind="ESTIMATES[what].kind"
          :min="1e-6"
          optional
          :label="`Own estimate: ${ESTIMATES[what].words}`"
          @commit="(value) => emit('set', what, value)" />
        {{ ESTIMATES[what].words
        }}<template v-if="mine[what] !== undefined && words[what]"
          >. <span role="status">{{ words[what] }}.</span></template
        ></li
      >
    </ul>
  </section>
</template>
