<script setup lang="ts">
/** Exact figures as rows, the same that the command line prints. */
const {
  header,
  rows,
  words = [],
  caption = '',
  last = 0,
} = defineProps<{
  header: readonly string[]
  rows: readonly (readonly string[])[]
  /** columns of words; all others are figures, and stand to the right */
  words?: readonly number[]
  caption?: string
  /** so many rows at the end are the sum of it */
  last?: number
}>()
const kind = (column: number) => (words.includes(column) ? '' : 'number')
</script>

<template>
  <table class="exact">
    <caption v-if="caption" class="text-left text-[0.86rem] text-faded">{{ caption }}</caption>
    <thead>
      <tr>
        <th v-for="(h, k) in header" :key="k" scope="col" :class="kind(k)">{{ h }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, i) in rows" :key="i" :class="i >= rows.length - last ? 'font-semibold' : ''">
        <td v-for="(cell, k) in row" :key="k" :class="kind(k)">{{ cell }}</td>
      </tr>
    </tbody>
  </table>
</template>
