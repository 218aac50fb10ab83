<script setup lang="ts">
import { nextTick, ref, useTemplateRef } from 'vue'
import { useTouched } from '../../composables/useTouched.ts'

/** Words in prose that become a field when they are clicked, and words again on Enter, Esc or leaving. */
defineOptions({ inheritAttrs: false })
const props = defineProps<{
  shown: string
  /** what it is, for those who hear it */
  label: string
  /** what can be done with it: "Change it." */
  action: string
  title?: string
  /** what is typed over, where that is more than what is shown */
  whole?: string
  /** characters that may be typed; 80 if left out */
  longest?: number
  /** takes what was typed, or says in a sentence why not */
  accept: (text: string) => string | undefined
}>()
const emit = defineEmits<{ nudge: [direction: 1 | -1] }>()
const { touch, effect } = useTouched(() => props.label)

const editing = ref(false)
const text = ref('')
const complaint = ref('')
const field = useTemplateRef<HTMLInputElement>('field')
const button = useTemplateRef<HTMLButtonElement>('button')

async function begin(): Promise<void> {
  text.value = (props.whole ?? props.shown).replaceAll(/[\u00a0\u202f]/g, ' ')
  complaint.value = ''
  editing.value = true
  await nextTick()
  field.value?.select()
}

function nudge(direction: 1 | -1): void {
  touch()
  emit('nudge', direction)
}

async function leave(): Promise<void> {
  editing.value = false
  await nextTick()
  button.value?.focus()
}

function commit(): void {
  if (!editing.value) return // leaving by Enter takes the field away, which is a leaving too
  touch()
  complaint.value = props.accept(text.value) ?? ''
  if (complaint.value === '') void leave()
}
</script>

<template>
  <span class="relative">
    <button
      v-if="!editing"
      ref="button"
      type="button"
      class="changeable"
      v-bind="$attrs"
      :aria-label="`${label}: ${shown}. ${action}`"
      :title="title"
      @click="begin"
      @keydown.up.prevent="nudge(1)"
      @keydown.down.prevent="nudge(-1)">
      {{ shown }}
    </button>
    <template v-else>
      <input
        ref="field"
        v-model="text"
        type="text"
        class="w-32 border-b-2 border-sand bg-leaf px-1 text-ink"
        :maxlength="longest ?? 80"
        :aria-label="label"
        :aria-invalid="complaint !== ''"
        @keydown.enter.prevent="commit"
        @keydown.esc.stop.prevent="leave"
        @blur="commit" />
      <span v-if="complaint" role="alert" class="drawer absolute left-0 top-full mt-1 w-56 p-2 font-sans text-sm text-rust">{{
        complaint
      }}</span> </template
    ><span v-if="effect" class="effect">{{ effect }}</span>
  </span>
</template>
