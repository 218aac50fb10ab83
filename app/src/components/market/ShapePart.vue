<script setup lang="ts">
import { modelFromShape, readQuantity, showQuantity, type Model, type ModelShape } from '@sandclock/core'
import { computed, reactive } from 'vue'
import { SHAPE_WORDS, shapeKind } from './shapeWords.ts'

/** What a published shape file says of a model: read, reckoned to be confirmed, or asked for. Nothing is filled in silently. */
const props = defineProps<{ shape: ModelShape; fileName: string; taken: readonly string[] }>()
const emit = defineEmits<{ take: [model: Model]; putAway: [] }>()

const typed = reactive<Record<string, string>>(
  Object.fromEntries(
    props.shape.facts.map((f) => [
      f.field,
      f.value === undefined ? '' : showQuantity(f.value, shapeKind(f.field)).replaceAll(/[\u00a0\u202f]/g, ' '),
    ]),
  ),
)
const name = reactive({ value: props.shape.name })

/** Read anew from what is typed; figures that were not touched keep all their digits. */
const facts = computed(() =>
  props.shape.facts.map((f) => {
    const text = typed[f.field].trim()
    const untouched = f.value !== undefined && text === showQuantity(f.value, shapeKind(f.field)).replaceAll(/[\u00a0\u202f]/g, ' ')
    const reading = text === '' ? { complaint: 'is needed' } : readQuantity(text, shapeKind(f.field))
    const value = untouched ? f.value : 'value' in reading && reading.value > 0 ? reading.value : undefined
    return { ...f, value, complaint: value === undefined ? ('complaint' in reading ? reading.complaint : 'must be above 0') : '' }
  }),
)
const open = computed(() => facts.value.filter((f) => f.value === undefined).length)
const take = () => emit('take', modelFromShape({ ...props.shape, name: name.value.trim(), facts: facts.value }))
</script>

<template>
  <section aria-label="Shape of a model" class="mb-4 border-l-4 border-sand bg-leaf px-4 py-3">
    <p class="font-serif text-[1.12rem]">
      {{ fileName }} tells of a {{ shape.kind === 'experts' ? 'mixture of experts' : 'dense model' }}, called
      <input
        v-model="name.value"
        class="w-56 border-b-2 border-sand bg-transparent px-1"
        maxlength="80"
        aria-label="Name of the model" />.</p
    >
    <table class="exact mt-1 max-w-[54rem]">
      <thead>
        <tr>
          <th scope="col">what it is</th>
          <th scope="col">figure</th>
          <th scope="col">where from</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in facts" :key="f.field">
          <td>
            {{ SHAPE_WORDS[f.field] }}
          </td>
          <td>
            <input
              v-model="typed[f.field]"
              class="w-32 border-b bg-transparent px-1"
              :class="f.value === undefined ? 'border-rust' : 'border-rule'"
              :aria-label="SHAPE_WORDS[f.field]"
              :aria-invalid="f.value === undefined" />{{ ' ' }}<span v-if="f.complaint" class="text-rust">{{ f.complaint }}</span>
          </td>
          <td :class="f.from === 'read' ? 'text-faded' : f.from === 'reckoned' ? '' : 'text-rust'">
            {{ f.from === 'read' ? `key “${f.how}”` : f.from === 'reckoned' ? `reckoned, look at it: ${f.how}` : f.how }}
          </td>
        </tr>
      </tbody>
    </table>
    <p class="mt-2">
      <button type="button" class="word" :disabled="open > 0 || name.value.trim() === ''" @click="take">{{
        taken.includes(name.value.trim()) ? 'Exchange the model of this name' : 'Take this model in'
      }}</button>
      <span v-if="open > 0" class="ml-2 text-[0.9rem] text-rust">{{ open === 1 ? 'one figure is' : `${open} figures are` }} asked for</span>
      <button type="button" class="word ml-4" @click="emit('putAway')">put it away</button>
    </p>
  </section>
</template>
