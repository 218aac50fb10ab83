<script setup lang="ts">
import { cellSentence, type CatalogueReading } from '@sandclock/core'
import { computed } from 'vue'

/** What was found in a dropped catalogue, before it is taken in. */
const props = defineProps<{ reading: CatalogueReading; fileName: string; known: readonly string[] }>()
const emit = defineEmits<{ take: [wholly: boolean]; putAway: [] }>()
const same = computed(() => props.reading.machines.filter((m) => props.known.includes(m.name)).length)
const fresh = computed(() => props.reading.machines.length - same.value)
</script>

<template>
  <section aria-label="Catalogue" class="mb-4 border-l-4 border-sand bg-leaf px-4 py-3">
    <p class="font-serif text-[1.12rem]">
      {{ fileName }}: {{ reading.machines.length }} {{ reading.machines.length === 1 ? 'machine' : 'machines' }}, {{ fresh }} new<template
        v-if="same > 0">
        and {{ same }} that {{ same === 1 ? 'has the name of one' : 'have names of some' }} in this plan</template
      >.
    </p>
    <div v-if="reading.problems.length > 0" class="mt-1 text-[0.9rem]">
      <p class="text-rust">What could not be used; the rest is kept:</p>
      <ul class="max-h-28 overflow-auto">
        <li v-for="(p, i) in reading.problems" :key="i">
          {{ cellSentence(p) }}
        </li>
      </ul>
    </div>
    <p class="mt-2">
      <button type="button" class="word" :disabled="reading.machines.length === 0" @click="emit('take', false)"
        >Add them; same names are replaced</button
      >
      <button type="button" class="word ml-4" :disabled="reading.machines.length === 0" @click="emit('take', true)">have only these</button>
      <button type="button" class="word ml-4" @click="emit('putAway')">put it away</button>
    </p>
  </section>
</template>
