<script setup lang="ts">
import { preparationTable, preparationWords, type Preparation } from '@sandclock/core'
import { computed } from 'vue'
import FigureTable from '../frame/FigureTable.vue'

/** What has to be done before any start-up: as a sentence and a table. */
const props = defineProps<{ found: Preparation; service: string; currency: string }>()
const table = computed(() => preparationTable(props.found, props.currency))
</script>

<template>
  <section class="mt-5" aria-labelledby="before-the-first">
    <h2 id="before-the-first" class="text-[1.15rem]">Before the first request</h2>
    <p class="mb-1">{{ preparationWords(found, service, currency) }}.</p>
    <FigureTable class="text-[0.88rem]" :header="table.header" :rows="table.rows" :words="[0, 1, 2]" :last="2" />
  </section>
</template>
