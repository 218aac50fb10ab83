<script setup lang="ts">
import { firstValue, isPlain, type FieldShape, type FirstFrom, type Shape } from '@sandclock/core'
import { computed } from 'vue'
import EditableChoice from '../sentence/EditableChoice.vue'
import FieldPlace from './FieldPlace.vue'

/** The fields of a part of the plan: those that it states, one after the other, and those that it could state, to be added. */
const {
  fields,
  value,
  skip = [],
  label,
  path,
  from,
} = defineProps<{
  fields: readonly FieldShape[]
  value: Record<string, unknown>
  /** fields that are changed elsewhere */
  skip?: readonly string[]
  label: string
  path: string
  from: FirstFrom
}>()
const emit = defineEmits<{ change: [value: Record<string, unknown>] }>()

const shown = computed(() => fields.filter((f) => !skip.includes(f.key)))
const stated = computed(() => shown.value.filter((f) => value[f.key] !== undefined))
const left = computed(() => shown.value.filter((f) => value[f.key] === undefined))

/** Figures and their lists are read on; what has parts stands by itself. */
const isInLine = (shape: Shape) => isPlain(shape) || (shape.kind === 'list' && isPlain(shape.of))
const put = (key: string, next: unknown) => emit('change', { ...value, [key]: next })
function without(key: string): void {
  const { [key]: _, ...rest } = value
  emit('change', rest)
}
function add(words: string): void {
  const field = left.value.find((f) => f.words === words)
  if (field) put(field.key, firstValue(field, from))
}
</script>

<template>
  <div class="inline">
    <component
      :is="isInLine(f.shape) ? 'span' : 'div'"
      v-for="f in stated"
      :key="f.key"
      :class="isInLine(f.shape) ? 'mr-3' : ''"
      :data-field="`${path}.${f.key}`">
      <span :title="f.means || undefined">{{ f.words }}</span>
      <template v-if="f.optional && !isInLine(f.shape)"
        >{{ ' ' }}<button type="button" class="word" :aria-label="`Take ${f.words} of ${label} out`" @click="without(f.key)">out</button>
      </template>
      {{ ' '
      }}<FieldPlace
        :shape="f.shape"
        :value="value[f.key]"
        :name="f.key"
        :label="`${f.words} of ${label}`"
        :path="`${path}.${f.key}`"
        :from="from"
        @change="(v) => put(f.key, v)" /><template v-if="isInLine(f.shape)"
        ><template v-if="f.optional"
          >{{ ' ' }}(<button type="button" class="word" :aria-label="`Take ${f.words} of ${label} out`" @click="without(f.key)">out</button
          >)</template
        >{{ ' ' }}</template
      >
    </component>
    <EditableChoice
      v-if="left.length > 0"
      value="say more"
      :options="left.map((f) => f.words)"
      :hints="Object.fromEntries(left.map((f) => [f.words, f.means]))"
      :label="`Say more of ${label}`"
      @commit="add" />
  </div>
</template>
