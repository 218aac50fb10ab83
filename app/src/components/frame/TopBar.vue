<script setup lang="ts">
import { percent } from '@sandclock/core'
import { useTemplateRef } from 'vue'
import Glass from '../glass/Glass.vue'

/** The line on top: the glass that tells how far the search is, the plan, and what works everywhere. */
defineProps<{
  searching: boolean
  /** share of the options that are settled */
  settled: number
  canUndo: boolean
  canRedo: boolean
  theme: 'day' | 'dusk'
  /** whether the plan is there as text */
  asText: boolean
}>()
const emit = defineEmits<{ undo: []; redo: []; text: []; theme: []; keys: []; files: [files: FileList | null] }>()

const picker = useTemplateRef<HTMLInputElement>('picker')
defineExpose({ pick: () => picker.value?.click() })
</script>

<template>
  <header class="flex flex-wrap items-center gap-x-3 px-6 py-2">
    <Glass
      class="h-8"
      :waiting="1 - settled"
      :in-service="settled"
      :ready="true"
      :label="searching ? `Searching, ${percent(settled)} settled` : 'Sand Clock'" />
    <span class="whitespace-nowrap font-serif text-[1.12rem] font-semibold">Sand Clock</span>
    <span aria-hidden="true" class="text-rule">/</span>
    <slot />
    <span class="ml-auto flex gap-3 text-[0.9rem]">
      <button type="button" class="word" :disabled="!canUndo" @click="emit('undo')">undo</button>
      <button type="button" class="word" :disabled="!canRedo" @click="emit('redo')">redo</button>
      <button type="button" class="word" :aria-pressed="asText" @click="emit('text')">text</button>
      <button type="button" class="word" @click="emit('theme')">{{ theme === 'dusk' ? 'day' : 'dusk' }}</button>
      <button type="button" class="word" @click="emit('keys')">keys</button>
      <a href="/guide.html" target="_blank" class="word" title="A whole case, from a log to what to rent; opens beside this page">guide</a>
    </span>
    <input
      ref="picker"
      type="file"
      multiple
      accept=".json,.jsonl,.ndjson,.csv,.tsv,.gz,.zst,.parquet,.yaml,.yml"
      class="hidden"
      aria-label="Open a plan, a log, a catalogue, a model or measurements"
      @change="emit('files', ($event.target as HTMLInputElement).files)" />
  </header>
</template>
