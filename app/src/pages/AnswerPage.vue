<script setup lang="ts">
import {
  coldCallers,
  dustOf,
  HOURS_PER_MONTH,
  isRented,
  isSearched,
  guardWords,
  mostWords,
  movedSentence,
  nearestCheaper,
  optionOf,
  price,
  purchaseSuffix,
  purseWords,
  rankedPoints,
  settledLayers,
  sizedKey,
  targetsOf,
  type Alteration,
  type Dust,
} from '@sandclock/core'
import { computed, watch } from 'vue'
import CopiesPicture from '../components/answer/CopiesPicture.vue'
import FrontierPlot from '../components/answer/FrontierPlot.vue'
import LedgerPicture from '../components/answer/LedgerPicture.vue'
import LeverPicture from '../components/answer/LeverPicture.vue'
import RejectedList from '../components/answer/RejectedList.vue'
import RunnersTable from '../components/answer/RunnersTable.vue'
import SettledLayers from '../components/answer/SettledLayers.vue'
import SparingPicture from '../components/answer/SparingPicture.vue'
import ServiceVerdict from '../components/answer/ServiceVerdict.vue'
import VolumePicture from '../components/answer/VolumePicture.vue'
import WhenSeen from '../components/answer/WhenSeen.vue'
import InTurn from '../components/frame/InTurn.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import { useChosenRun } from '../composables/useChosenRun.ts'
import { useLater } from '../composables/useLater.ts'
import { makeSo } from '../edits/makeSo.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'

const NO_DUST: Dust = { places: new Int32Array(), perHour: new Float64Array(), strain: new Float64Array() }
const answers = useAnswerStore()
const logs = useLogStore()
const look = useLookStore()
const plans = usePlanStore()

const current = computed(() => answers.answer?.services.find((s) => s.service === look.serviceName) ?? answers.answer?.services[0])
/** What is ranked is there at once; the options around it come when they were simulated. */
const points = computed(() => {
  const plan = answers.answer?.plan
  const service = plan?.services.find((s) => s.name === current.value?.service)
  if (!plan || !service || !current.value) return []
  return [...rankedPoints(plan, service, current.value), ...(answers.frontiers[service.name] ?? [])]
})
/** Thousands of reasons come after the verdict. */
const lower = useLater(current)
const layers = computed(() => (lower.value ? settledLayers(lower.value) : []))
const dust = computed(() => (lower.value ? dustOf(lower.value) : NO_DUST))
const moved = computed(() =>
  answers.before && answers.answer && current.value && !answers.stale
    ? movedSentence(answers.before, answers.answer, current.value.service)
    : undefined,
)
const searched = computed(
  () => answers.answer !== null && current.value !== undefined && isSearched(answers.answer.plan, current.value.service),
)
const most = computed(() => {
  const { service, chosen, guard } = current.value ?? {}
  if (!answers.answer || service === undefined || !chosen) return ''
  const { plan, currency } = answers.answer
  return [...mostWords(plan, service, chosen), ...(guard ? guardWords(guard, plan.horizon.start, currency) : [])]
    .map((w) => `${w}. `)
    .join('')
})
const purse = computed(() => (answers.answer ? purseWords(answers.answer).join(' ') : ''))
const targets = computed(() => {
  const plan = answers.answer?.plan
  const service = plan?.services.find((s) => s.name === current.value?.service)
  return plan && service ? targetsOf(plan, service) : []
})
const chosenName = computed(() => {
  const c = current.value?.chosen
  return c ? sizedKey(c) : ''
})

const { seen, moneys, needed, report, spared, volume, copies } = useChosenRun(current)
const isCold = computed(() => (current.value?.met ?? []).some((m) => coldCallers(m) > 0))
function make(alteration: Alteration): void {
  const { service, chosen } = current.value ?? {}
  if (service !== undefined && chosen) plans.edit(makeSo({ service, option: optionOf(chosen), machines: chosen.machines }, alteration))
}
const cheaper = computed(() => (answers.answer && current.value ? nearestCheaper(current.value) : undefined))

watch(
  [() => answers.answer, () => answers.working, () => answers.stale, () => current.value?.service, () => answers.frontiers],
  async () => {
    if (!answers.answer || !current.value || answers.working || answers.stale) return
    await answers.drawFrontier(current.value.service, await logs.logFor(answers.answer.plan))
  },
  { immediate: true },
)
</script>

<template>
  <div>
    <h1 class="sr-only">Answer</h1>
    <template v-if="answers.answer && current">
      <ServiceChoice v-model="look.serviceName" :names="answers.answer.services.map((s) => s.service)" />
      <div :class="answers.stale ? 'opacity-60' : ''">
        <ServiceVerdict :answer="current" :moved="moved" :plan="answers.answer.plan" :currency="answers.answer.currency">
          <h2 class="mb-1 mt-3 text-[1.15rem]">Cost against the tightest promise</h2>
          <FrontierPlot
            :points="points"
            :dust="dust"
            :rejected="lower?.rejected ?? []"
            :targets="targets"
            :currency="answers.answer.currency"
            :chosen="chosenName"
            :height="320" />
        </ServiceVerdict>
        <InTurn v-if="current.chosen">
          <p v-if="cheaper" class="mt-2 text-[0.95rem]"
            >The nearest that costs less,
            <strong>{{ cheaper.machines }} × {{ cheaper.option.machine }}{{ purchaseSuffix(cheaper.option.purchase) }}</strong> with
            {{ cheaper.option.variant }} at {{ price(cheaper.perHour * HOURS_PER_MONTH, answers.answer.currency) }} a month, fails:
            {{ cheaper.option.reason }}.</p
          >
          <h2 class="mb-1 mt-4 text-[1.15rem]">Where a month’s money goes</h2>
          <p v-if="most" class="mb-1 text-[0.95rem]">{{ current.service }}: {{ most }}</p>
          <p v-if="purse" class="mb-2 text-[0.95rem]">
            {{ purse }}
          </p>
          <p v-for="words in needed" :key="words" class="mb-1 text-[0.95rem]">{{ words }}.</p>
          <WhenSeen v-model:seen="seen.money" :until="moneys.length > 0" :height="200">
            <LedgerPicture
              v-if="moneys.length > 0"
              :rows="moneys"
              :fixed="answers.answer.money.fixed"
              :shared="answers.answer.money.shared"
              :shown="current.service"
              :horizon-seconds="answers.answer.plan.horizon.seconds"
              :start-iso="answers.answer.plan.horizon.start"
              :currency="answers.answer.currency" />
          </WhenSeen>
        </InTurn>
        <InTurn v-if="current.chosen">
          <h2 class="mb-1 mt-4 text-[1.15rem]"
            >What matters
            <span v-if="report && !report.done" class="text-[0.86rem] font-normal text-faded" role="status"
              >{{ report.settled }} of {{ report.of }} inputs moved</span
            >
          </h2>
          <WhenSeen v-model:seen="seen.levers" :until="report !== null" :height="300">
            <LeverPicture v-if="report" :report="report" :currency="answers.answer.currency" />
          </WhenSeen>
          <template v-if="isCold">
            <h2 class="mb-1 mt-4 text-[1.15rem]"
              >What does it cost to spare a cold caller?
              <span v-if="spared && !spared.done" class="text-[0.86rem] font-normal text-faded" role="status"
                >{{ spared.settled }} of {{ spared.of }} ways simulated</span
              >
            </h2>
            <WhenSeen v-model:seen="seen.spared" :until="spared !== null" :height="420">
              <SparingPicture
                v-if="spared"
                :report="spared"
                :plan="answers.answer.plan"
                :service="current.service"
                :height="230"
                @make="make" />
            </WhenSeen>
          </template>
        </InTurn>
        <InTurn v-if="current.chosen">
          <h2 class="mb-1 mt-4 text-[1.15rem]">Machines, or paid one by one?</h2>
          <WhenSeen v-model:seen="seen.volume" :until="volume !== null" :height="260">
            <VolumePicture
              v-if="volume"
              :report="volume"
              :machines="current.chosen.machines"
              :currency="answers.answer.currency"
              :height="220" />
          </WhenSeen>
          <details v-if="isRented(current.chosen.purchase)" class="mt-4" @toggle="seen.copies = ($event.target as HTMLDetailsElement).open">
            <summary class="cursor-pointer text-[1.15rem] text-water"
              >How many copies for 2, 5, 10 times the load?
              <span v-if="seen.copies && !copies?.done" class="text-[0.86rem] text-faded" role="status"
                >{{ copies?.rows.length ?? 0 }} of {{ copies?.of ?? 4 }} found</span
              ></summary
            >
            <CopiesPicture v-if="copies" :report="copies" :currency="answers.answer.currency" :height="190" />
          </details>
          <h2 v-if="searched" class="mb-1 mt-4 text-[1.15rem]">Next best</h2>
          <RunnersTable v-if="searched" :chosen="current.chosen" :runners-up="current.runnersUp" :currency="answers.answer.currency" />
        </InTurn>
        <h2 v-if="searched" class="mb-1 mt-5 text-[1.15rem]">Why not the other {{ current.rejected.length }} </h2>
        <InTurn v-if="searched && lower">
          <SettledLayers
            v-if="layers.length > 0"
            :layers="layers"
            :rejected="lower.rejected"
            :chosen-per-hour="lower.chosen?.money.perHour ?? null"
            :currency="answers.answer.currency" />
        </InTurn>
        <InTurn v-if="searched && lower">
          <RejectedList :rejected="lower.rejected" />
        </InTurn>
      </div>
    </template>
    <p v-else class="font-serif text-[1.1rem] text-faded">The first answer is on its way.</p>
  </div>
</template>
