<script setup lang="ts">
import type { FieldShape, FirstFrom } from '@sandclock/core'
import { defineAsyncComponent, ref } from 'vue'

/** Everything that a plan can say of one thing, behind a word: for what its prose has no figure for. */
defineProps<{
  fields: () => readonly FieldShape[]
  value: Record<string, unknown>
  skip?: readonly string[]
  label: string
  path: string
  from: FirstFrom
}>()
const emit = defineEmits<{ change: [value: Record<string, unknown>] }>()
const open = ref(false)
/** Loaded when it is opened: few do. */
const FieldGroup = defineAsyncComponent(() => import('./FieldGroup.vue'))
</script>

<template>
  <div class="py-0.5 font-sans text-[0.82rem] leading-relaxed">
    <button type="button" class="word" :aria-expanded="open" @click="open = !open">{{
      open ? `fold the fields of ${label}` : `every field of ${label}`
    }}</button>
    <div v-if="open" class="field-block">
      <FieldGroup
        :fields="fields()"
        :value="value"
        :skip="skip ?? []"
        :label="label"
        :path="path"
        :from="from"
        @change="(v) => emit('change', v)" />
    </div>
  </div>
</template>
