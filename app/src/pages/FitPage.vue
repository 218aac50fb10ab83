<script setup lang="ts">
import { computed } from 'vue'
import FitVessels from '../components/fit/FitVessels.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import { editMachine, setMachineAllowed } from '../edits/edits.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

const plans = usePlanStore()
const views = useViewStore()
const look = useLookStore()
const answers = useAnswerStore()

const service = computed(() => plans.plan.services.find((s) => s.name === look.serviceName) ?? plans.plan.services[0])
const rows = computed(() => views.fits[service.value.name] ?? [])
const allowed = computed(() => service.value.search?.machines ?? plans.plan.machines.map((m) => m.name))
const chosen = computed(() => {
  const c = answers.answer?.services.find((s) => s.service === service.value.name)?.chosen
  return c ? `${c.machine} ${c.variant} ${c.devices}` : ''
})
const fitting = computed(() => rows.value.filter((r) => r.reason === null).length)
</script>

<template>
  <div>
    <h1 class="sr-only">Fit</h1>
    <ServiceChoice v-model="look.serviceName" :names="plans.plan.services.map((s) => s.name)" />
    <p class="mb-3 font-serif text-[1.1rem]">
      {{ service.model ?? 'Its own profile' }} fits {{ fitting }} of {{ rows.length }} ways. Where it does not, the row says why.
    </p>
    <FitVessels :rows="rows" :currency="plans.plan.currency" :allowed="allowed" :chosen="chosen" @allow="(machine, yes) => plans.edit(setMachineAllowed(plans.plan, service, machine, yes))"
      @machine="(name, patch) => plans.edit(editMachine(name, (m) => ({ ...m, ...patch })))" />
  </div>
</template>
