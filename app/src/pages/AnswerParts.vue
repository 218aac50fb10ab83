<script setup lang="ts">
import {
  coldCallers,
  guardWords,
  HOURS_PER_MONTH,
  isRented,
  isSearched,
  mostWords,
  nearestCheaper,
  optionOf,
  price,
  purchaseSuffix,
  purseWords,
  worldsWords,
  worthWords,
  type Alteration,
  type Answer,
  type ServiceAnswer,
} from '@sandclock/core'
import { computed, toRef } from 'vue'
import CopiesPicture from '../components/answer/CopiesPicture.vue'
import LedgerPicture from '../components/answer/LedgerPicture.vue'
import LeverPicture from '../components/answer/LeverPicture.vue'
import RunnersTable from '../components/answer/RunnersTable.vue'
import SparingPicture from '../components/answer/SparingPicture.vue'
import VolumePicture from '../components/answer/VolumePicture.vue'
import WorldsPicture from '../components/answer/WorldsPicture.vue'
import WhenSeen from '../components/answer/WhenSeen.vue'
import InTurn from '../components/frame/InTurn.vue'
import { useChosenRun } from '../composables/useChosenRun.ts'
import { makeSo } from '../edits/makeSo.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** What is behind the verdict of a service: its money, what matters, other ways of paying, the next best. */
const props = defineProps<{ answer: Answer; current: ServiceAnswer }>()
const plans = usePlanStore()

const searched = computed(() => isSearched(props.answer.plan, props.current.service))
const most = computed(() => {
  const { service, chosen, guard } = props.current
  if (!chosen) return ''
  const { plan, currency } = props.answer
  return [...mostWords(plan, service, chosen), ...(guard ? guardWords(guard, plan.horizon.start, currency) : [])]
    .map((w) => `${w}. `)
    .join('')
})
const purse = computed(() => purseWords(props.answer).join(' '))
const { seen, moneys, needed, report, worlds, spared, volume, copies } = useChosenRun(toRef(props, 'current'))
const isCold = computed(() => (props.current.met ?? []).some((m) => coldCallers(m) > 0))
function make(alteration: Alteration): void {
  const { service, chosen } = props.current
  if (chosen) plans.edit(makeSo({ service, option: optionOf(chosen), machines: chosen.machines }, alteration))
}
const cheaper = computed(() => nearestCheaper(props.current))
</script>

<template>
  <div>
    <InTurn v-if="current.chosen">
      <p v-if="cheaper" class="mt-2 text-[0.95rem]"
        >The nearest that costs less,
        <strong>{{ cheaper.machines }} × {{ cheaper.option.machine }}{{ purchaseSuffix(cheaper.option.purchase) }}</strong> with
        {{ cheaper.option.variant }} at {{ price(cheaper.perHour * HOURS_PER_MONTH, answer.currency) }} a month, fails:
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
          :fixed="answer.money.fixed"
          :shared="answer.money.shared"
          :shown="current.service"
          :horizon-seconds="answer.plan.horizon.seconds"
          :start-iso="answer.plan.horizon.start"
          :currency="answer.currency" />
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
        <LeverPicture v-if="report" :report="report" :currency="answer.currency" />
      </WhenSeen>
    </InTurn>
    <InTurn v-if="current.chosen">
      <h2 class="mb-1 mt-4 text-[1.15rem]"
        >In how many worlds does it hold?
        <span v-if="worlds && !worlds.done" class="text-[0.86rem] font-normal text-faded" role="status"
          >{{ worlds.worth ? `what is worth measuring: ${worlds.worth.settled}` : worlds.settled }} of {{ worlds.of }} worlds</span
        >
      </h2>
      <WhenSeen v-model:seen="seen.worlds" :until="worlds !== null" :height="190">
        <template v-if="worlds">
          <p class="mb-1 text-[0.95rem]">{{ worldsWords(answer.plan, worlds).join(' ') }}</p>
          <WorldsPicture :report="worlds" :height="130" />
          <p v-if="worlds.worth && worlds.done" class="mt-1 text-[0.95rem]">{{ worthWords(answer.plan, worlds.worth).join(' ') }}</p>
        </template>
      </WhenSeen>
      <template v-if="isCold">
        <h2 class="mb-1 mt-4 text-[1.15rem]"
          >What does it cost to spare a cold caller?
          <span v-if="spared && !spared.done" class="text-[0.86rem] font-normal text-faded" role="status"
            >{{ spared.settled }} of {{ spared.of }} ways simulated</span
          >
        </h2>
        <WhenSeen v-model:seen="seen.spared" :until="spared !== null" :height="420">
          <SparingPicture v-if="spared" :report="spared" :plan="answer.plan" :service="current.service" :height="230" @make="make" />
        </WhenSeen>
      </template>
    </InTurn>
    <InTurn v-if="current.chosen">
      <h2 class="mb-1 mt-4 text-[1.15rem]">Machines, or paid one by one?</h2>
      <WhenSeen v-model:seen="seen.volume" :until="volume !== null" :height="260">
        <VolumePicture v-if="volume" :report="volume" :machines="current.chosen.machines" :currency="answer.currency" :height="220" />
      </WhenSeen>
      <details v-if="isRented(current.chosen.purchase)" class="mt-4" @toggle="seen.copies = ($event.target as HTMLDetailsElement).open">
        <summary class="cursor-pointer text-[1.15rem] text-water"
          >How many copies for 2, 5, 10 times the load?
          <span v-if="seen.copies && !copies?.done" class="text-[0.86rem] text-faded" role="status"
            >{{ copies?.rows.length ?? 0 }} of {{ copies?.of ?? 4 }} found</span
          ></summary
        >
        <CopiesPicture v-if="copies" :report="copies" :currency="answer.currency" :height="190" />
      </details>
      <h2 v-if="searched" class="mb-1 mt-4 text-[1.15rem]">Next best</h2>
      <RunnersTable v-if="searched" :chosen="current.chosen" :runners-up="current.runnersUp" :currency="answer.currency" />
    </InTurn>
  </div>
</template>
