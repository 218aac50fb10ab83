<script setup lang="ts">
import { firstOfForm, firstValue, formOfValue, isPlain, type FirstFrom, type Shape } from '@sandclock/core'
import { computed } from 'vue'
import EditableChoice from '../sentence/EditableChoice.vue'
import FieldFigure from './FieldFigure.vue'
import FieldGroup from './FieldGroup.vue'

/** One place of the plan with what stands in it, whatever its shape: a figure, a choice, a list, a group, one of several forms. */
const props = defineProps<{
  shape: Shape
  value: unknown
  /** of the field, which says what names it may point to */
  name: string
  /** what it is, for those who hear it */
  label: string
  /** the way to it in the plan, as core/plan/places writes it */
  path: string
  from: FirstFrom
}>()
const emit = defineEmits<{ change: [value: unknown] }>()

/** More entries than these are read in the text of the plan. */
const MOST_ENTRIES = 40
const FLAG = { true: 'yes', false: 'no' } as const
/** Bits of numbers that machines reckon in, in the order of use. */
const MAP_KEYS = ['16', '8', '4', '32', '64']

const names = computed(() => (props.shape.kind === 'text' ? props.from.namesFor(props.name) : undefined))
const list = computed(() => (props.shape.kind === 'list' ? (props.value as readonly unknown[]) : [])) // of its shape
const isList = (shape: Shape): shape is Extract<Shape, { kind: 'list' }> => shape.kind === 'list'
const isOfFigures = computed(() => isList(props.shape) && isPlain(props.shape.of))
const entries = computed(() => Object.entries((props.shape.kind === 'map' ? props.value : {}) as Record<string, unknown>)) // of its shape
const form = computed(() => (props.shape.kind === 'oneOf' ? formOfValue(props.shape, props.value) : undefined))

const put = (index: number, value: unknown) =>
  emit(
    'change',
    list.value.map((x, i) => (i === index ? value : x)),
  )
const drop = (index: number) =>
  emit(
    'change',
    list.value.filter((_, i) => i !== index),
  )
function another(): void {
  if (!isList(props.shape)) return
  const last = list.value.at(-1)
  emit('change', [
    ...list.value,
    last === undefined ? firstValue({ key: props.name, shape: props.shape.of }, props.from) : structuredClone(last),
  ])
}
function anotherKey(): void {
  const key = MAP_KEYS.find((k) => !entries.value.some(([taken]) => taken === k))
  if (key && props.shape.kind === 'map') emit('change', { ...(props.value as object), [key]: entries.value[0]?.[1] ?? 1e14 })
}
function turnInto(name: string): void {
  if (props.shape.kind === 'oneOf' && name !== form.value?.name) emit('change', firstOfForm(props.shape, name, props.from, props.value))
}
</script>

<template>
  <EditableChoice v-if="names" :value="String(value)" :options="names" :label="label" @commit="(v) => emit('change', v)" />
  <EditableChoice
    v-else-if="shape.kind === 'choice'"
    :value="String(value)"
    :options="shape.values"
    :label="label"
    @commit="(v) => emit('change', v)" />
  <EditableChoice
    v-else-if="shape.kind === 'flag'"
    :value="value ? FLAG.true : FLAG.false"
    :options="Object.values(FLAG)"
    :label="label"
    @commit="(v) => emit('change', v === FLAG.true)" />
  <FieldFigure
    v-else-if="shape.kind === 'number' || shape.kind === 'text' || isOfFigures"
    :shape="shape"
    :value="value"
    :label="label"
    @change="(v) => emit('change', v)" />
  <div v-else-if="isList(shape)" class="field-block">
    <div v-for="(entry, i) in list.slice(0, MOST_ENTRIES)" :key="i" class="mb-1">
      <FieldPlace
        :shape="shape.of"
        :value="entry"
        :name="name"
        :label="`${label}, ${i + 1}`"
        :path="`${path}[]`"
        :from="from"
        @change="(v) => put(i, v)" />{{ ' ' }}
      <button v-if="list.length > shape.least" type="button" class="word" :aria-label="`Take ${label}, ${i + 1} out`" @click="drop(i)"
        >take out</button
      >
    </div>
    <p v-if="list.length > MOST_ENTRIES">… and {{ list.length - MOST_ENTRIES }} more, in the plan as text.</p>
    <button type="button" class="word" :aria-label="`Another ${label}`" @click="another">another</button>
  </div>
  <div v-else-if="shape.kind === 'map'" class="field-block">
    <span v-for="[key, entry] in entries" :key="key" class="mr-3">
      {{ key }}:
      <FieldPlace
        :shape="shape.of"
        :value="entry"
        name=""
        :label="`${label}, ${key}`"
        :path="`${path}{}`"
        :from="from"
        @change="(v) => emit('change', { ...(value as object), [key]: v })" />{{ ' ' }}
      <button
        v-if="entries.length > 1"
        type="button"
        class="word"
        :aria-label="`Take ${label}, ${key} out`"
        @click="emit('change', Object.fromEntries(entries.filter(([k]) => k !== key)))"
        >take out</button
      >
    </span>
    <button v-if="entries.length < MAP_KEYS.length" type="button" class="word" :aria-label="`Another ${label}`" @click="anotherKey"
      >another</button
    >
  </div>
  <div v-else-if="shape.kind === 'oneOf' && form" class="field-block">
    <span :data-field="shape.by ? `${path}(${form.name}).${shape.by}` : undefined"
      ><EditableChoice
        :value="form.name"
        :options="shape.forms.map((f) => f.name)"
        :label="`${label}, its kind`"
        @commit="turnInto" /></span
    >{{ ' '
    }}<FieldGroup
      v-if="form.shape.kind === 'group'"
      :fields="form.shape.fields"
      :skip="shape.by ? [shape.by] : []"
      :value="value as Record<string, unknown>"
      :label="label"
      :path="`${path}(${form.name})`"
      :from="from"
      @change="(v) => emit('change', v)" /><FieldPlace
      v-else
      :shape="form.shape"
      :value="value"
      :name="name"
      :label="label"
      :path="`${path}(${form.name})`"
      :from="from"
      @change="(v) => emit('change', v)" />
  </div>
  <div v-else-if="shape.kind === 'group'" class="field-block">
    <FieldGroup
      :fields="shape.fields"
      :value="value as Record<string, unknown>"
      :label="label"
      :path="path"
      :from="from"
      @change="(v) => emit('change', v)" />
  </div>
</template>
