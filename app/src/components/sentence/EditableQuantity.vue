<script setup lang="ts">
import { readQuantity, showQuantity, type QuantityKind } from '@sandclock/core'
import { another, useFigure } from '../../composables/useFigure.ts'
import InPlace from './InPlace.vue'

/** A quantity with a unit of hardware or models, changed in place: typed as people type units. */
const props = defineProps<{
  /** undefined is shown as a dash and may be typed */
  value: number | undefined
  kind: QuantityKind
  label: string
  min?: number
  max?: number
  /** may be emptied */
  optional?: boolean
}>()
const emit = defineEmits<{ commit: [value: number | undefined] }>()

useFigure(() => emit('commit', another(props.value ?? 0, props.min, props.max)))

const shown = () => (props.value === undefined ? '–' : showQuantity(props.value, props.kind))

function accept(text: string): string | undefined {
  if (text === shown().replaceAll(/[\u00a0\u202f]/g, ' ')) return undefined
  if (props.optional && /^[\s–-]*$/.test(text)) return void emit('commit', undefined)
  const reading = readQuantity(text, props.kind)
  if ('complaint' in reading) return reading.complaint
  if (props.min !== undefined && reading.value < props.min) return `At least ${showQuantity(props.min, props.kind)}.`
  if (props.max !== undefined && reading.value > props.max) return `At most ${showQuantity(props.max, props.kind)}.`
  if (reading.value !== props.value) emit('commit', reading.value)
  return undefined
}
</script>

<template>
  <InPlace :shown="shown()" :label="label" action="Change it." :accept="accept" />
</template>
