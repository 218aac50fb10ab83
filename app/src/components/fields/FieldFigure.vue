<script setup lang="ts">
import { complaintAbout, grouped, readQuantity, showQuantity, type Shape } from '@sandclock/core'
import { computed } from 'vue'
import InPlace from '../sentence/InPlace.vue'

/** A figure, a text or a list of them, changed in place; what the plan's schema does not take is said with its rule. */
const props = defineProps<{ shape: Shape; value: unknown; label: string }>()
const emit = defineEmits<{ change: [value: unknown] }>()

/** A longer list is shown by its ends, and typed whole. */
const SHOWN_WHOLE = 12
const LONGEST_TEXT = 200_000

const entry = computed(() => (props.shape.kind === 'list' ? props.shape.of : props.shape))
const show = (value: unknown): string => (entry.value.kind === 'number' ? showQuantity(Number(value), entry.value.unit) : String(value))
const list = computed(() => (props.shape.kind === 'list' ? (props.value as readonly unknown[]) : undefined)) // of its shape
const text = computed(() => (list.value ? list.value.map(show).join(', ') : show(props.value)))
const shown = computed(() => {
  if (!list.value || list.value.length <= SHOWN_WHOLE) return text.value === '' ? '–' : text.value
  return `${show(list.value[0])}, ${show(list.value[1])} … ${show(list.value.at(-1))} (${grouped(list.value.length, 0)} of them)`
})

function read(typed: string): { value: unknown } | { complaint: string } {
  if (entry.value.kind !== 'number') return { value: typed.trim() }
  return readQuantity(typed, entry.value.unit)
}

function accept(typed: string): string | undefined {
  if (typed === text.value.replaceAll(/[\u00a0\u202f]/g, ' ')) return undefined
  const readings = (list.value ? typed.split(/[,;\n]+/).filter((part) => part.trim() !== '') : [typed]).map(read)
  const wrong = readings.find((r) => 'complaint' in r)
  if (wrong && 'complaint' in wrong) return wrong.complaint
  const values = readings.map((r) => ('value' in r ? r.value : undefined))
  const value = list.value ? values : values[0]
  const rule = complaintAbout(props.shape, value)
  if (rule) return `It ${rule}.`
  emit('change', value)
  return undefined
}
</script>

<template>
  <InPlace :shown="shown" :whole="text" :longest="LONGEST_TEXT" :label="label" action="Change it." :accept="accept" />
</template>
