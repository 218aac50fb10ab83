<script setup lang="ts">
import { preparationTable, preparationWords, type Preparation } from '@sandclock/core'
import { computed } from 'vue'

/** What has to be done before any start-up: as a sentence and a table. */
const props = defineProps<{ found: Preparation; service: string; currency: string }>()
const table = computed(() => preparationTable(props.found, props.currency))
</script>

<template>
  <section class="mt-5" aria-labelledby="before-the-first">
    <h2 id="before-the-first" class="text-[1.15rem]">Before the first request</h2>
    <p class="mb-1">{{ preparationWords(found, service, currency) }}.</p>
    <table class="exact text-[0.88rem]">
      <thead>
        <tr
          ><th v-for="h in table.header" :key="h" scope="col" :class="h === 'takes' || h === 'costs' ? 'number' : ''">{{ h }}</th></tr
        >
      </thead>
      <tbody>
        <tr v-for="(row, i) in table.rows" :key="row[0]" :class="i >= table.rows.length - 2 ? 'font-semibold' : ''">
          <td v-for="(cell, k) in row" :key="k" :class="k > 2 ? 'number' : ''">{{ cell }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
