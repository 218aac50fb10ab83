<script setup lang="ts">
import { worldsWords, worthWords } from '@sandclock/core'
import { computed } from 'vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import WhenSeen from '../components/answer/WhenSeen.vue'
import { useChosenRun } from '../composables/useChosenRun.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLookStore } from '../stores/lookStore.ts'

/** What it would be worth to measure before anything is rented, of what is chosen. */
const [answers, look] = [useAnswerStore(), useLookStore()]
const services = computed(() => answers.answer?.services.filter((s) => s.chosen) ?? [])
const current = computed(() => services.value.find((s) => s.service === look.serviceName) ?? services.value.at(0))
const { seen, worlds } = useChosenRun(current)
const words = computed(() => {
  const [{ value: told }, plan] = [worlds, answers.answer?.plan]
  if (!told || !plan) return ''
  const [kept, , deciding] = worldsWords(plan, told)
  if (told.worth) return [kept, ...worthWords(plan, told.worth)].join(' ')
  return [kept, deciding].join(' ')
})
</script>

<template>
  <div v-if="current" data-testid="worth">
    <h2 class="mb-1 mt-4 text-[1.15rem]"
      >What is worth measuring next?
      <span v-if="worlds && !worlds.done" class="text-[0.86rem] font-normal text-faded" role="status"
        >{{ worlds.worth ? worlds.worth.settled : worlds.settled }} of {{ worlds.of }} worlds</span
      >
    </h2>
    <ServiceChoice v-model="look.serviceName" :names="services.map((s) => s.service)" />
    <WhenSeen v-model:seen="seen.worlds" :until="worlds !== null" :height="70">
      <p class="max-w-[62rem] text-[0.95rem]">{{ words }}</p>
    </WhenSeen>
  </div>
</template>
