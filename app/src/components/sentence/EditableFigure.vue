<script setup lang="ts">
import { bare, duration, parseFigure, percent, threeDigits, type FigureKind } from '@sandclock/core'
import { computed, nextTick, ref, useTemplateRef } from 'vue'

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

const editing = ref(false)
const text = ref('')
const complaint = ref('')
const field = useTemplateRef<HTMLInputElement>('field')
const button = useTemplateRef<HTMLButtonElement>('button')

const shown = computed(() => bare(words()))

function words(): string {
  switch (props.kind) {
    case 'duration':
      return duration(props.value)
    case 'percent':
      return percent(props.value)
    case 'rate':
      return threeDigits(props.value)
    case 'factor':
      return `${threeDigits(props.value)}\u00a0×`
    case 'count':
      return props.value.toLocaleString('en').replaceAll(',', '\u202f')
    default:
      return threeDigits(props.value)
  }
}

async function begin(): Promise<void> {
  text.value = shown.value.replaceAll(/[\u00a0\u202f]/g, ' ')
  complaint.value = ''
  editing.value = true
  await nextTick()
  field.value?.select()
}

async function leave(): Promise<void> {
  editing.value = false
  await nextTick()
  button.value?.focus()
}

const HINT: Record<FigureKind, string> = {
  duration: 'a duration such as 600 ms or 4 h 30 min', percent: 'a percentage such as 5 %', count: 'a whole number', number: 'a number', rate: 'a number per second', factor: 'a number',
}

function commit(): void {
  const value = parseFigure(text.value, props.kind)
  if (Number.isNaN(value)) complaint.value = `Type ${HINT[props.kind]}.`
  else if (props.min !== undefined && value < props.min) complaint.value = `At least ${bound(props.min)}.`
  else if (props.max !== undefined && value > props.max) complaint.value = `At most ${bound(props.max)}.`
  else {
    if (value !== props.value) emit('commit', value)
    void leave()
  }
}

function bound(value: number): string {
  if (props.kind === 'duration') return duration(value)
  return props.kind === 'percent' ? percent(value) : String(value)
}

function nudge(direction: 1 | -1): void {
  const next = props.kind === 'count' ? props.value + direction * Math.max(1, Math.round(props.value / 10)) : Number((props.value * (1 + direction / 10)).toPrecision(3))
  const held = Math.min(props.max ?? Infinity, Math.max(props.min ?? 0, next))
  if (held !== props.value) emit('commit', held)
}
</script>

<template>
  <span class="relative">
    <button
      v-if="!editing" ref="button" type="button" class="changeable" :aria-label="`${label}: ${shown}. Change it.`" :title="`${label} — click to change, arrows up and down for a tenth more or less`"
      @click="begin" @keydown.up.prevent="nudge(1)" @keydown.down.prevent="nudge(-1)"
    >
      {{ shown }}
    </button>
    <template v-else>
      <input
        ref="field" v-model="text" type="text" class="w-28 border-b-2 border-sand bg-leaf px-1 text-ink" :aria-label="label" :aria-invalid="complaint !== ''"
        @keydown.enter.prevent="commit" @keydown.esc.stop.prevent="leave" @blur="commit"
      />
      <span v-if="complaint" role="alert" class="drawer absolute left-0 top-full mt-1 w-56 p-2 font-sans text-sm text-rust">{{ complaint }}</span>
    </template>
  </span>
</template>
