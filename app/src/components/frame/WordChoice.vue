<script setup lang="ts" generic="T extends string">
/** One of some words, all of them in sight. */
defineProps<{ options: readonly { value: T; words: string; title?: string }[]; label: string }>()
const chosen = defineModel<T>({ required: true })
</script>

<template>
  <span class="flex flex-wrap gap-x-3" role="radiogroup" :aria-label="label">
    <button
      v-for="o in options"
      :key="o.value"
      type="button"
      role="radio"
      class="word"
      :class="o.value === chosen ? 'font-semibold' : ''"
      :aria-checked="o.value === chosen"
      :title="o.title"
      @click="chosen = o.value"
      >{{ o.words }}</button
    >
  </span>
</template>
