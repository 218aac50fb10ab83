<script setup lang="ts">
import { allDigits, bare, duration, parseFigure, percent, threeDigits, type FigureKind } from '@sandclock/core'
import { computed } from 'vue'
import { another, useFigure } from '../../composables/useFigure.ts'
import InPlace from './InPlace.vue'

/** A figure in prose: read it, or click (Enter) and type another; arrows up and down nudge it by a tenth. */
const props = defineProps<{
  value: number
  kind: FigureKind
  /** what the figure is, for those who hear it */
  label: string
  /** smallest and largest value that make sense, ends included */
  min?: number
  max?: number
}>()
const emit = defineEmits<{ commit: [value: number] }>()

useFigure(() => emit('commit', another(props.value, props.min, props.max)))

const HINT: Record<FigureKind, string> = {
  duration: 'a duration such as 600 ms or 4 h 30 min',
  percent: 'a percentage such as 5 %',
  count: 'a whole number',
  number: 'a number',
  rate: 'a number per second',
  factor: 'a number',
}

const shown = computed(() => bare(words()))

function words(): string {
  switch (props.kind) {
    case 'duration':
      return duration(props.value)
    case 'percent':
      return percent(props.value)
    case 'factor':
      return `${threeDigits(props.value)}\u00a0×`
    case 'count':
      return allDigits(props.value)
    default:
      return threeDigits(props.value)
  }
}

function bound(value: number): string {
  if (props.kind === 'duration') return duration(value)
  return props.kind === 'percent' ? percent(value) : String(value)
}

function accept(text: string): string | undefined {
  // What was not touched is not a change, though fewer digits are shown than there are.
  if (text === shown.value.replaceAll(/[\u00a0\u202f]/g, ' ')) return undefined
  const value = parseFigure(text, props.kind)
  if (Number.isNaN(value)) return `Type ${HINT[props.kind]}.`
  if (props.min !== undefined && value < props.min) return `At least ${bound(props.min)}.`
  if (props.max !== undefined && value > props.max) return `At most ${bound(props.max)}.`
  if (value !== props.value) emit('commit', value)
  return undefined
}

function nudge(direction: 1 | -1): void {
  const next =
    props.kind === 'count'
      ? props.value + direction * Math.max(1, Math.round(props.value / 10))
      : Number((props.value * (1 + direction / 10)).toPrecision(3))
  const held = Math.min(props.max ?? Infinity, Math.max(props.min ?? 0, next))
  if (held !== props.value) emit('commit', held)
}
</script>

<template>
  <InPlace
    :shown="shown"
    :label="label"
    action="Change it."
    :title="`${label} — click to change, arrows up and down for a tenth more or less`"
    :accept="accept"
    @nudge="nudge" />
</template>
