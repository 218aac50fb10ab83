<script setup lang="ts">
import { useFigure } from '../../composables/useFigure.ts'
import InPlace from './InPlace.vue'

/** A name in prose that can be written anew in place. */
const props = defineProps<{
  value: string
  label: string
  /** names that others have */
  taken: readonly string[]
  colour?: string
}>()
const emit = defineEmits<{ commit: [value: string] }>()

useFigure(() => emit('commit', `${props.value}’`))

function accept(text: string): string | undefined {
  const name = text.trim()
  if (name === '') return 'A name has at least one character.'
  if (name === props.value) return undefined
  if (props.taken.includes(name)) return `There is a “${name}” already.`
  emit('commit', name)
  return undefined
}
</script>

<template>
  <InPlace
    :shown="value"
    :label="label"
    action="Rename it."
    :accept="accept"
    class="font-semibold"
    :style="colour ? { color: colour } : undefined" />
</template>
