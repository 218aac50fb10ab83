<script setup lang="ts">
import { isSearched, movedSentence, rankedPoints, settledLayers, sizedKey, targetsOf, dustOf, type Dust } from '@sandclock/core'
import { computed, watch } from 'vue'
import FrontierPlot from '../components/answer/FrontierPlot.vue'
import RejectedList from '../components/answer/RejectedList.vue'
import ServiceVerdict from '../components/answer/ServiceVerdict.vue'
import SettledLayers from '../components/answer/SettledLayers.vue'
import InTurn from '../components/frame/InTurn.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import { drawn } from '../composables/frames.ts'
import { useLater } from '../composables/useLater.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import AnswerParts from './AnswerParts.vue'

const NO_DUST: Dust = { places: new Int32Array(), perHour: new Float64Array(), strain: new Float64Array() }
const answers = useAnswerStore()
const logs = useLogStore()
const look = useLookStore()

/** An answer that arrives is in the verdict line at once; the page has it a frame later, its lower parts after that. */
const told = useLater(computed(() => answers.answer))
const current = computed(() => told.value?.services.find((s) => s.service === look.serviceName) ?? told.value?.services[0])
/** What is ranked is there at once; the options around it come when they were simulated. */
const points = computed(() => {
  const plan = told.value?.plan
  const service = plan?.services.find((s) => s.name === current.value?.service)
  if (!plan || !service || !current.value) return []
  return [...rankedPoints(plan, service, current.value), ...(answers.frontiers[service.name] ?? [])]
})
const below = useLater(computed(() => (told.value && current.value ? { answer: told.value, current: current.value } : undefined)))
/** Thousands of reasons come after the verdict, each picture and list of them in a frame of its own. */
const lower = useLater(computed(() => below.value?.current))
const dust = computed(() => (lower.value ? dustOf(lower.value) : NO_DUST))
const layered = useLater(lower)
const layers = computed(() => (layered.value ? settledLayers(layered.value) : []))
const listed = useLater(layered)
const moved = computed(() =>
  answers.before && told.value && current.value && !answers.stale
    ? movedSentence(answers.before, told.value, current.value.service)
    : undefined,
)
const searched = computed(() => told.value && current.value && isSearched(told.value.plan, current.value.service))
const targets = computed(() => {
  const plan = told.value?.plan
  const service = plan?.services.find((s) => s.name === current.value?.service)
  return plan && service ? targetsOf(plan, service) : []
})
const chosenName = computed(() => {
  const c = current.value?.chosen
  return c ? sizedKey(c) : ''
})

// The neighbourhood is simulated when all of the page is there: on few cores it would hold the page up.
watch(
  [listed, () => answers.working, () => answers.stale, () => answers.frontiers],
  async () => {
    await drawn()
    if (!answers.answer || !listed.value || answers.working || answers.stale) return
    await answers.drawFrontier(listed.value.service, await logs.logFor(answers.answer.plan))
  },
  { immediate: true },
)
</script>

<template>
  <div>
    <h1 class="sr-only">Answer</h1>
    <template v-if="told && current">
      <ServiceChoice v-model="look.serviceName" :names="told.services.map((s) => s.service)" />
      <div :class="answers.stale ? 'opacity-60' : ''">
        <ServiceVerdict :answer="current" :moved="moved" :plan="told.plan" :currency="told.currency">
          <h2 class="mb-1 mt-3 text-[1.15rem]">Cost against the tightest promise</h2>
          <FrontierPlot
            :points="points"
            :dust="dust"
            :rejected="lower?.rejected ?? []"
            :targets="targets"
            :currency="told.currency"
            :chosen="chosenName"
            :height="320" />
        </ServiceVerdict>
        <AnswerParts v-if="below" :answer="below.answer" :current="below.current" />
        <h2 v-if="searched && layered" class="mb-1 mt-5 text-[1.15rem]">Why not the other {{ layered.rejected.length }} </h2>
        <InTurn v-if="searched && layered">
          <SettledLayers
            v-if="layers.length > 0"
            :layers="layers"
            :rejected="layered.rejected"
            :chosen-per-hour="layered.chosen?.money.perHour ?? null"
            :currency="told.currency" />
        </InTurn>
        <InTurn v-if="searched && listed">
          <RejectedList :rejected="listed.rejected" />
        </InTurn>
      </div>
    </template>
    <p v-else-if="!answers.answer" class="font-serif text-[1.1rem] text-faded">The first answer is on its way.</p>
  </div>
</template>
