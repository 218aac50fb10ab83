<script setup lang="ts">
import {
  COEFFICIENT_FIELDS,
  readCoefficient,
  showCoefficient,
  type CoefficientField,
  type PerSequences,
  type ProfileSpec,
} from '@sandclock/core'
import { computed } from 'vue'
import InPlace from '../sentence/InPlace.vue'

/** The coefficients that are relied on, each of which may be typed in: then all of them are given for this place. */
const props = defineProps<{ spec: ProfileSpec; given: boolean; others: boolean }>()
const emit = defineEmits<{ change: [spec: ProfileSpec]; forget: [] }>()

const fields = computed(() => COEFFICIENT_FIELDS[props.spec.kind])
const value = (f: CoefficientField) => (props.spec as unknown as Record<string, PerSequences>)[f.field] // the fields are those of this kind
const MOST_SHOWN = 40
const shown = (f: CoefficientField) => showCoefficient(value(f), f.kind)
const short = (text: string) => (text.length > MOST_SHOWN ? `${text.slice(0, MOST_SHOWN - 1)}…` : text)

function accept(f: CoefficientField, text: string): string | undefined {
  if (text === short(shown(f)).replaceAll(/[\u00a0\u202f]/g, ' ')) return undefined
  const reading = readCoefficient(text, f.kind)
  if ('complaint' in reading) return reading.complaint
  emit('change', { ...props.spec, [f.field]: reading.value } as ProfileSpec)
  return undefined
}
</script>

<template>
  <p class="mb-3 leading-7">
    {{ given ? 'Typed in for this place:' : 'Relied on; type another figure to have your own for this place:' }}
    <template v-for="(f, i) in fields" :key="f.field"
      ><template v-if="i > 0">, </template
      ><span class="whitespace-nowrap" :title="f.means"
        ><strong class="font-semibold">{{ f.symbol }}</strong
        >&#8239;=&#8239;<InPlace
          :shown="short(shown(f))"
          :label="`${f.symbol}, ${f.means}`"
          action="Change it."
          :accept="(text) => accept(f, text)" /></span></template
    >.
    <button v-if="given && others" type="button" class="word" @click="emit('forget')">forget what was typed</button>
  </p>
</template>
