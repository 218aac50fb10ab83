<script setup lang="ts">
import { nextTick, ref, useTemplateRef } from 'vue'

/** A name in prose that can be written anew in place. */
const props = defineProps<{ value: string; label: string; /** names that are taken */ taken: readonly string[]; colour?: string }>()
const emit = defineEmits<{ commit: [value: string] }>()

const LONGEST = 80
const editing = ref(false)
const text = ref('')
const complaint = ref('')
const field = useTemplateRef<HTMLInputElement>('field')
const button = useTemplateRef<HTMLButtonElement>('button')

async function begin(): Promise<void> {
  text.value = props.value
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

function commit(): void {
  const name = text.value.trim()
  if (name === '') complaint.value = 'A name has at least one character.'
  else if (name !== props.value && props.taken.includes(name)) complaint.value = `There is a “${name}” already.`
  else {
    if (name !== props.value) emit('commit', name)
    void leave()
  }
}
</script>

<template>
  <span class="relative">
    <button v-if="!editing" ref="button" type="button" class="changeable font-semibold" :style="colour ? { color: colour } : undefined" :aria-label="`${label}: ${value}. Rename it.`" @click="begin">{{ value }}</button>
    <template v-else>
      <input
        ref="field" v-model="text" type="text" class="w-40 border-b-2 border-sand bg-leaf px-1 text-ink" :maxlength="LONGEST" :aria-label="label" :aria-invalid="complaint !== ''"
        @keydown.enter.prevent="commit" @keydown.esc.stop.prevent="leave" @blur="commit"
      />
      <span v-if="complaint" role="alert" class="drawer absolute left-0 top-full mt-1 w-56 p-2 font-sans text-sm text-rust">{{ complaint }}</span>
    </template>
  </span>
</template>
