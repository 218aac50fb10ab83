<script setup lang="ts">
import { useFigure } from '../../composables/useFigure.ts'

/** Words in prose that are struck out where they do not hold, and hold again when they are pressed. */
defineProps<{ holds: boolean; words: string; label: string }>()
const emit = defineEmits<{ toggle: [] }>()
useFigure(() => emit('toggle'))
</script>

<template>
  <button
    type="button"
    class="changeable"
    :class="holds ? '' : 'text-faded line-through'"
    :aria-pressed="holds"
    :aria-label="label"
    @click="emit('toggle')"
    >{{ words }}</button
  >
</template>
