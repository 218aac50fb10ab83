<script setup lang="ts">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { useFigure } from '../../composables/useFigure.ts'
import { useTouched } from '../../composables/useTouched.ts'

/** A name in prose that can be exchanged for another of a list. */
const props = defineProps<{ value: string; options: readonly string[]; label: string; hints?: Record<string, string> }>()
const emit = defineEmits<{ commit: [value: string] }>()
useFigure(() => emit('commit', props.options.find((o) => o !== props.value) ?? `${props.value}’`))
const { touch, effect } = useTouched(() => props.label)

function commit(value: string): void {
  touch()
  emit('commit', value)
}
</script>

<template>
  <span class="relative inline-block"
    ><Listbox :model-value="value" @update:model-value="commit">
      <ListboxButton class="changeable" :aria-label="`${label}: ${value}. Change it.`">{{ value }}</ListboxButton><span
        v-if="effect"
        class="effect"
        >{{ effect }}</span
      >
      <ListboxOptions class="drawer absolute left-0 mt-1 max-h-64 min-w-40 overflow-auto py-1 font-sans text-sm">
        <ListboxOption v-for="option in options" :key="option" v-slot="{ active, selected }" :value="option" as="template">
          <li
            class="cursor-pointer px-3 py-1"
            :title="hints?.[option] || undefined"
            :class="[active ? 'bg-sand-soft' : '', selected ? 'font-semibold' : '']">
            {{ option }}
          </li>
        </ListboxOption>
      </ListboxOptions>
    </Listbox></span
  >
</template>
