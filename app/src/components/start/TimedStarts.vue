<script setup lang="ts">
import {
  cellSentence,
  measuredStages,
  measuredStartRemarks,
  measuredStartsTable,
  type Candidate,
  type MeasuredStage,
  type Service,
  type StartLogReading,
} from '@sandclock/core'
import { computed } from 'vue'
import FigureTable from '../frame/FigureTable.vue'

/** Start-ups that were timed, stage by stage, beside those of the plan, until they are taken in or put away. */
const props = defineProps<{ reading: StartLogReading; fileName: string; service: Service; candidate: Candidate }>()
const emit = defineEmits<{ take: [stages: MeasuredStage[]]; putAway: [] }>()

const stages = computed(() => measuredStages(props.reading.rows))
const starts = computed(() => new Set(props.reading.rows.map((r) => r.start)).size)
const remarks = computed(() => measuredStartRemarks(stages.value, props.candidate))
</script>

<template>
  <section aria-label="Timed start-ups" class="mb-4 border-l-4 border-sand bg-leaf px-4 py-3">
    <p class="font-serif text-[1.12rem]">
      {{ fileName }}: {{ starts === 1 ? 'one start-up was timed' : `${starts} start-ups were timed` }}, here beside {{ service.name }} with
      the weights of {{ candidate.variant.name }}.
    </p>
    <div v-if="reading.problems.length > 0" class="mt-1 text-[0.9rem]">
      <p class="text-rust">What could not be used; the rest is kept:</p>
      <ul class="max-h-28 overflow-auto">
        <li v-for="(p, i) in reading.problems" :key="i">{{ cellSentence(p) }}</li>
      </ul>
    </div>
    <FigureTable class="mt-1" v-bind="measuredStartsTable(stages, candidate)" :words="[0]" :last="1" />
    <p v-for="r in remarks" :key="r" class="text-[0.9rem]">{{ r }}</p>
    <p class="mt-2 flex gap-4 text-[0.95rem]">
      <button v-if="service.start" type="button" class="word font-semibold" @click="emit('take', stages)">take these stages in</button>
      <span v-else>It starts up in one time: take it apart below, and these stages can be taken in.</span>
      <button type="button" class="word" @click="emit('putAway')">put it away</button>
    </p>
  </section>
</template>
