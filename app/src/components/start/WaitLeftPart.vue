<script setup lang="ts">
import { grouped, waitLeftTable, type WaitLeft } from '@sandclock/core'
import { computed } from 'vue'
import FigureTable from '../frame/FigureTable.vue'
import { saveText } from '../../composables/useFiles.ts'

/** How long it still is for who has waited so long: to be shown to whoever waits, in place of an invented progress. */
const props = defineProps<{ left: WaitLeft }>()
const tooFew = computed(() => {
  const { callers } = props.left
  if (callers === 0) return 'Nobody finds it cold on any draw of the load: there is no wait to tell.'
  return `${grouped(callers, 0)} ${callers === 1 ? 'caller finds' : 'callers find'} it cold over all draws of the load: too few to tell what is left of a wait.`
})
const table = computed(() => waitLeftTable(props.left))
const save = () => saveText(`wait left ${props.left.service}.json`, `${JSON.stringify(props.left)}\n`)
</script>

<template>
  <section aria-label="The wait that is left">
    <h2 class="mb-1 mt-4 text-[1.15rem]">The wait that is left</h2>
    <template v-if="left.after.length > 0">
      <p class="mb-1 max-w-[46rem] text-[0.95rem]"
        >Until a replica is ready, for who has waited so long: {{ grouped(left.callers, 0) }} callers found none, over all draws. A page may
        show it to whoever waits <button type="button" class="word" @click="save">(JSON)</button>; a bar that fills would be invented.</p
      >
      <FigureTable :header="table.header" :rows="table.rows" :words="[0]" />
    </template>
    <p v-else class="text-[0.95rem]">{{ tooFew }}</p>
  </section>
</template>
