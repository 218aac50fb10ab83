<script setup lang="ts">
import { ref } from 'vue'
import EditableFigure from '../sentence/EditableFigure.vue'
import InPlace from '../sentence/InPlace.vue'

/** What a monitoring server is asked for, in a sentence whose parts are changed in place. */
defineProps<{ asking: boolean }>()
const emit = defineEmits<{ ask: [question: { address: string; select: string; pastSeconds: number; stepSeconds: number }] }>()

const DAY_SECONDS = 86_400
const EVERY = 'every metric'
const question = ref({ address: 'http://localhost:9090', select: '', pastSeconds: 8 * DAY_SECONDS, stepSeconds: 300 })

function acceptAddress(text: string): string | undefined {
  if (!URL.canParse(text) || !/^https?:$/.test(new URL(text).protocol)) return 'Type an address such as http://localhost:9090.'
  question.value.address = text
  return undefined
}
function acceptSelect(text: string): undefined {
  question.value.select = text === EVERY ? '' : text.trim()
}
</script>

<template>
  <p class="mt-2 text-[0.9rem] text-faded">
    Or ask a monitoring server at
    <InPlace
      :shown="question.address"
      label="Address of the monitoring server"
      action="Change it."
      :longest="300"
      :accept="acceptAddress" />
    for
    <InPlace
      :shown="question.select || EVERY"
      label="Which metrics it is asked for"
      action="Change it."
      :longest="400"
      :accept="acceptSelect" />
    of the last
    <EditableFigure
      :value="question.pastSeconds"
      kind="duration"
      :min="60"
      label="How far back"
      @commit="(pastSeconds) => (question = { ...question, pastSeconds })" />
    by steps of
    <EditableFigure
      :value="question.stepSeconds"
      kind="duration"
      :min="1"
      label="From sample to sample"
      @commit="(stepSeconds) => (question = { ...question, stepSeconds })" />:
    <button type="button" class="word" :disabled="asking" @click="emit('ask', question)">{{ asking ? 'it is asked …' : 'ask it' }}</button>.
    The server of this page asks; other machines than its own only where it was started with --allow-host.
  </p>
</template>
