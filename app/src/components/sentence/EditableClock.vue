<script setup lang="ts">
import { useFigure } from '../../composables/useFigure.ts'
import InPlace from './InPlace.vue'

/** A time of day in prose, changed in place. */
const props = defineProps<{ value: string; label: string }>()
const emit = defineEmits<{ commit: [value: string] }>()

useFigure(() => emit('commit', props.value === '12:00' ? '12:30' : '12:00'))

function accept(text: string): string | undefined {
  const [, hours, minutes = '00'] = /^\s*(\d{1,2})(?:[:.](\d{2}))?\s*$/.exec(text) ?? []
  if (hours === undefined || Number(hours) > 24 || Number(minutes) > 59 || (Number(hours) === 24 && minutes !== '00'))
    return 'A time of day such as 07:30.'
  const value = `${hours.padStart(2, '0')}:${minutes}`
  if (value !== props.value) emit('commit', value)
  return undefined
}
</script>

<template>
  <InPlace :shown="value" :label="label" action="Change it." :accept="accept" />
</template>
