<script setup lang="ts">
import { duration, grouped, type WaitLeft } from '@sandclock/core'
import { computed } from 'vue'
import { saveText } from '../../composables/useFiles.ts'

/** How long it still is for who has waited so long: to be shown to whoever waits, in place of an invented progress. */
const props = defineProps<{ left: WaitLeft }>()
const tooFew = computed(() => {
  const { callers } = props.left
  if (callers === 0) return 'Nobody finds it cold on any draw of the load: there is no wait to tell.'
  return `${grouped(callers, 0)} ${callers === 1 ? 'caller finds' : 'callers find'} it cold over all draws of the load: too few to tell what is left of a wait.`
})
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
      <table class="exact">
        <thead>
          <tr>
            <th scope="col">after waiting</th>
            <th scope="col" class="number">ready within, for half</th>
            <th scope="col" class="number">for 90 of 100</th>
            <th scope="col" class="number">callers</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="a in left.after" :key="a.seconds">
            <td>{{ duration(a.seconds) }}</td>
            <td class="number">{{ duration(a.p50Seconds) }}</td>
            <td class="number">{{ duration(a.p90Seconds) }}</td>
            <td class="number">{{ grouped(a.callers, 0) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-else class="text-[0.95rem]">{{ tooFew }}</p>
  </section>
</template>
