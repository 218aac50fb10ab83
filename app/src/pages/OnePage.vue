<script setup lang="ts">
import { onMachines } from '@sandclock/core'
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import PartsNav from '../components/frame/PartsNav.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { useOneStore } from '../stores/oneStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import OneRequestPart from './OneRequestPart.vue'
import SessionPart from './SessionPart.vue'
import SizedPart from './SizedPart.vue'

/** What comes before any week of load: one request, and one session of some. */
const [plans, answers, look, ones, route] = [usePlanStore(), useAnswerStore(), useLookStore(), useOneStore(), useRoute()]
const PARTS = [
  { name: 'request', path: '/one', words: 'one request' },
  { name: 'session', path: '/one/session', words: 'one session' },
  { name: 'size', path: '/one/size', words: 'only a model’s size' },
]
const part = computed(() => PARTS.find((p) => p.name === route.params.part)?.name ?? 'request')
const service = computed(() => plans.plan.services.find((s) => s.name === look.serviceName) ?? plans.plan.services[0])
const chosen = computed(() => {
  const answer = answers.answer?.services.find((s) => s.service === service.value.name)
  return answer && onMachines(answer)
})
watch([service, chosen], () => ones.begin(plans.plan, service.value, chosen.value), { immediate: true })
const rows = computed(() => ones.rows[service.value.name] ?? [])
</script>

<template>
  <div>
    <h1 class="sr-only">One</h1>
    <div class="mb-1 flex flex-wrap items-baseline justify-between gap-x-6">
      <ServiceChoice v-if="part !== 'size'" v-model="look.serviceName" class="!mb-0" :names="plans.plan.services.map((s) => s.name)" />
      <PartsNav view="One" :parts="PARTS" :part="part" />
    </div>
    <SizedPart v-if="part === 'size'" />
    <p v-else-if="rows.length === 0" class="font-serif text-[1.1rem]">
      {{
        service.model === undefined
          ? `${service.name} states its own step costs and has no model: there is nothing to be laid out.`
          : `${service.model} fits none of these machines; Fit says why.`
      }}
    </p>
    <SessionPart v-else-if="part === 'session'" :service="service" :place="rows[0]" />
    <OneRequestPart v-else :service="service" :rows="rows" />
  </div>
</template>
