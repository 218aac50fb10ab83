<script setup lang="ts">
import { targetsOf } from '@sandclock/core'
import { computed, watch } from 'vue'
import FrontierPlot from '../components/answer/FrontierPlot.vue'
import RejectedList from '../components/answer/RejectedList.vue'
import RunnersTable from '../components/answer/RunnersTable.vue'
import ServiceVerdict from '../components/answer/ServiceVerdict.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { useLookStore } from '../stores/lookStore.ts'

const answers = useAnswerStore()
const logs = useLogStore()
const look = useLookStore()

const current = computed(() => answers.answer?.services.find((s) => s.service === look.serviceName) ?? answers.answer?.services[0])
const points = computed(() => answers.frontiers[current.value?.service ?? ''] ?? [])
const targets = computed(() => {
  const plan = answers.answer?.plan
  const service = plan?.services.find((s) => s.name === current.value?.service)
  return plan && service ? targetsOf(plan, service) : []
})
const chosenName = computed(() => {
  const c = current.value?.chosen
  return c ? `${c.machine} ${c.variant} ${c.devices} ${c.sequences} ${c.machines} ${c.policy ?? ''}`.trim() : ''
})

watch([() => answers.answer, () => answers.working], async () => {
  if (answers.answer && !answers.working) await answers.drawFrontiers(await logs.logFor(answers.answer.plan))
}, { immediate: true })
</script>

<template>
  <div>
    <h1 class="sr-only">Answer</h1>
    <template v-if="answers.answer && current">
      <ServiceChoice v-model="look.serviceName" :names="answers.answer.services.map((s) => s.service)" />
      <div :class="answers.stale ? 'opacity-60' : ''">
        <ServiceVerdict :answer="current" :currency="answers.answer.currency" />
        <h2 class="mb-1 mt-5 text-[1.15rem]">Cost against the tightest promise</h2>
        <FrontierPlot v-if="points.length > 0" :points="points" :targets="targets" :currency="answers.answer.currency" :chosen="chosenName" :height="230" />
        <p v-else-if="current.chosen" class="flex h-[230px] items-center text-faded" role="status">{{ answers.working ? 'Drawn when the search is done.' : 'Simulating the options around the chosen one …' }}</p>
        <template v-if="current.chosen">
          <h2 class="mb-1 mt-4 text-[1.15rem]">Next best</h2>
          <RunnersTable :chosen="current.chosen" :runners-up="current.runnersUp" :currency="answers.answer.currency" />
        </template>
        <h2 class="mb-1 mt-5 text-[1.15rem]">Why not the other {{ current.rejected.length }}</h2>
        <RejectedList :rejected="current.rejected" />
      </div>
    </template>
    <p v-else class="font-serif text-[1.1rem] text-faded">The first answer is on its way.</p>
  </div>
</template>
