<script setup lang="ts">
import { SENT, sentWords, type TestedLoad } from '@sandclock/core'

/** What a load test sends: requests of which class, and how long ones. */
defineProps<{ classes: readonly string[]; name: string }>()
const load = defineModel<TestedLoad>({ required: true })
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <span class="whitespace-nowrap">
    <select
      v-if="classes.length > 1"
      class="changeable w-auto pr-5"
      :value="load.className"
      :aria-label="`${name}: which class`"
      @change="load = { ...load, className: value($event) }"
      ><option v-for="c in classes" :key="c" :value="c">{{ c }}</option></select
    >
    <select
      class="changeable w-auto pr-5"
      :value="load.sent"
      :aria-label="`${name}: which of its requests`"
      @change="load = { ...load, sent: SENT.find((s) => s === value($event)) ?? 'as drawn' }"
      ><option v-for="s in SENT" :key="s" :value="s">{{ sentWords(s) }}</option></select
    >
  </span>
</template>
