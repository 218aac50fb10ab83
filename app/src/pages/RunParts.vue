<script setup lang="ts">
import type { RunChoice } from '../composables/useRunChoices.ts'
import LoadTestPart from './LoadTestPart.vue'
import TimesPart from './TimesPart.vue'
import UsePart from './UsePart.vue'

/** What is told of runs beside their pictures over time, whether one is looked at or some are compared. */
const { runs, from, until, letters } = defineProps<{
  runs: readonly RunChoice[]
  from: number
  until: number
  /** they are called A, B … */
  letters?: boolean
}>()
const MOST_TESTED = 2
</script>

<template>
  <TimesPart :runs="runs" :from="from" :until="until" />
  <LoadTestPart :runs="runs.slice(0, MOST_TESTED)" :letters="letters" />
  <UsePart v-if="!letters" />
</template>
