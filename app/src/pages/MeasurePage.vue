<script setup lang="ts">
import {
  askedAt,
  endWords,
  foundBy,
  grouped,
  idleOf,
  judgedTable,
  probedTables,
  reachedShares,
  specOfSteps,
  stepCostsTable,
  type Combination,
  type Reached,
  type Service,
} from '@sandclock/core'
import { computed, onMounted, ref } from 'vue'
import FigureTable from '../components/frame/FigureTable.vue'
import InTurn from '../components/frame/InTurn.vue'
import AskWords from '../components/measure/AskWords.vue'
import BendPicture from '../components/measure/BendPicture.vue'
import BesidePicture from '../components/measure/BesidePicture.vue'
import StrokesPicture from '../components/measure/StrokesPicture.vue'
import TakeSleep from '../components/measure/TakeSleep.vue'
import TakeWords from '../components/measure/TakeWords.vue'
import { SHAPE_WORDS, sizesWords } from '../components/measure/shapes.ts'
import EditableChoice from '../components/sentence/EditableChoice.vue'
import EditableFigure from '../components/sentence/EditableFigure.vue'
import { saveText } from '../composables/useFiles.ts'
import { fileName } from '../data/fileName.ts'
import { takeCosts, takeOwnCosts } from '../edits/takeCosts.ts'
import { takeSleep } from '../edits/takeSleep.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { useMeasureStore } from '../stores/measureStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useRemarkStore } from '../stores/remarkStore.ts'
import { useViewStore } from '../stores/viewStore.ts'
import WorthPart from './WorthPart.vue'

/** What a real endpoint takes for real requests, which step costs are behind it, and how far they can be believed. */
const [measures, plans, answers, views, remarks] = [useMeasureStore(), usePlanStore(), useAnswerStore(), useViewStore(), useRemarkStore()]
onMounted(() => measures.start())
const logs = ref<string[]>([])
onMounted(async () => (logs.value = await useLogStore().keptNames()))

const [SMALL, TALL] = [210, 270]
const told = computed(() => measures.told)
const isGoing = computed(() => measures.running !== '')
const answeredSoFar = computed(() => measures.rows.filter((r) => r.outcome === 'finished').length)
const currentPart = computed(() => measures.rows.at(-1)?.part)
const currency = computed(() => askedAt(measures.looked?.order?.how ?? '').price?.currency ?? plans.plan.currency)
const ended = computed(() =>
  measures.looked?.ended ? endWords(measures.looked.cutShort, measures.looked.spent, currency.value).join(' ') : '',
)
const dayOf = (at: number) => new Date(at).toISOString().slice(0, 19).replace('T', ' ')
const others = computed(() => measures.kept.filter((k) => k.id !== measures.looked?.id))
const nameOf = (k: { name: string; measuredAt: number }) => `${k.name}, ${dayOf(k.measuredAt)}`
const NONE = 'no other'
function choose(words: string, then: (id: string) => void): void {
  const found = measures.kept.find((k) => nameOf(k) === words)
  if (found) then(found.id)
}

const judging = computed(() => told.value?.judged?.parts ?? [])
const tables = computed(() => (told.value ? probedTables(told.value.parts) : []))
const formerTables = computed(() => (measures.former ? probedTables(measures.former.told.parts) : []))
const services = computed(() =>
  plans.plan.services.filter((s) => plans.plan.classes.some((c) => c.service === s.name && c.output !== undefined)),
)
function chosenOf(service: string): Combination | undefined {
  const chosen = answers.answer?.services.find((s) => s.service === service)?.chosen
  return chosen ? { machine: chosen.machine, variant: chosen.variant, devices: chosen.devices } : undefined
}
const reachedAt = (service: Service, at: Combination) => {
  const { fitted } = told.value ?? {}
  return fitted && reachedShares(plans.plan, service, at, fitted)
}
function take(service: Service, at: Combination | undefined, reached: Reached | undefined): void {
  const { fitted, judged } = told.value ?? {}
  const { looked } = measures
  if (!fitted || !looked) return
  const profile = specOfSteps(fitted.values)
  const by = `${looked.name}, ${dayOf(looked.measuredAt)}, ${grouped(fitted.requests, 0)} requests`
  const measured = foundBy(by, { fitted, judged }, measures.rows)
  const done =
    at === undefined
      ? plans.edit(takeOwnCosts(service.name, profile))
      : service.model !== undefined && plans.edit(takeCosts({ model: service.model, at, profile, measured, reached }))
  if (done) remarks.words = `The measured step costs of ${service.name} are in the plan; the answer is found anew. Ctrl+Z takes them back.`
}

const sleep = computed(() => told.value?.idle && idleOf(told.value.idle))
function letSleep(service: Service, policy: string | undefined): void {
  if (sleep.value && plans.edit(takeSleep(service.name, policy, sleep.value)))
    remarks.words = `A policy of ${service.name} sleeps so in the plan; the answer is found anew. Ctrl+Z takes it back.`
}

/** Who has measured nothing sees at once what would be asked. */
const askChosen = ref<boolean>()
const askOpen = computed({
  get: () => askChosen.value ?? (measures.looked === null && measures.kept.length === 0),
  set: (open) => (askChosen.value = open),
})
const askedWords = computed(() => {
  const { shape, how, log } = measures.order
  const { url } = askedAt(how)
  const host = url !== undefined && URL.canParse(url) ? new URL(url).host : 'an address'
  return `${host}, ${SHAPE_WORDS[shape.kind]}${shape.kind === 'log' ? ` (${log ?? 'none is chosen'})` : `, of ${sizesWords(shape.sizes)} tokens`}`
})
async function csv(): Promise<void> {
  saveText(`${fileName(measures.looked?.name ?? 'measured').replace(/\.json$/, '')}.csv`, await views.measuredRows(measures.rows))
}
function json(): void {
  const { looked } = measures
  if (!looked || !told.value) return
  const { parts, fitted, belief, judged, remarks: said } = told.value
  const file = {
    format: 'sand-clock-measured',
    version: 1,
    name: looked.name,
    measuredAt: new Date(looked.measuredAt).toISOString(),
    ...(looked.order && { shape: looked.order.shape.kind, order: looked.order }),
    ...(looked.cutShort !== undefined && { cutShort: looked.cutShort }),
    ...(looked.spent !== undefined && { spent: looked.spent }),
    belief,
    parts,
    ...(fitted && { stepCosts: specOfSteps(fitted.values), intervals: fitted.intervals, correlation: fitted.correlation }),
    ...(judged && { judged: judged.percentiles }),
    remarks: said,
  }
  saveText(fileName(looked.name), `${JSON.stringify(file, null, 2)}\n`)
}
async function example(): Promise<void> {
  const answer = await fetch('/curlew-measured.csv')
  if (answer.ok) await measures.read('curlew-measured.csv', await answer.text())
}
</script>

<template>
  <div>
    <h1 class="sr-only">Measure</h1>
    <p class="max-w-[62rem] font-serif text-[1.25rem] leading-snug" role="status" data-testid="belief">
      <template v-if="isGoing"
        >{{ grouped(measures.rows.length, 0) }} requests, {{ grouped(answeredSoFar, 0) }} answered<template v-if="currentPart"
          >; last of “{{ currentPart }}”</template
        >.</template
      >
      <template v-else-if="told">{{ told.belief }}</template>
      <template v-else-if="measures.looked">What the requests say of step costs is being found …</template>
      <template v-else>Nothing is measured yet: what is said of this plan rests on step costs that were derived or typed in.</template>
    </p>
    <p class="mt-1 flex flex-wrap items-baseline gap-x-4 text-[0.95rem]">
      <button v-if="isGoing" type="button" class="word font-semibold" @click="measures.stop()">stop</button>
      <button v-else type="button" class="word font-semibold" @click="measures.begin()">{{
        measures.looked ? 'measure again' : 'begin to measure'
      }}</button>
      <button v-if="!isGoing && !measures.looked" type="button" class="word" @click="example">look at a made-up one</button>
      <template v-if="measures.looked?.ended">
        <button type="button" class="word" @click="csv">requests as CSV</button>
        <button type="button" class="word" :disabled="!told" @click="json">what is told as JSON</button>
        <button type="button" class="word" @click="measures.throwAway(measures.looked.id)">throw it away</button>
      </template>
      <span v-if="measures.looked && others.length > 0 && !isGoing"
        >looked at is
        <EditableChoice
          :value="nameOf(measures.looked)"
          :options="measures.kept.map(nameOf)"
          label="Which measurement is looked at"
          @commit="(words) => choose(words, measures.look)" />, beside it
        <EditableChoice
          :value="measures.former?.name ?? NONE"
          :options="[NONE, ...others.map(nameOf)]"
          label="Which measurement it is compared with"
          @commit="(words) => (words === NONE ? measures.compareNoMore() : choose(words, measures.compare))"
      /></span>
    </p>
    <InTurn>
      <details class="mt-1 text-[0.95rem]" :open="askOpen">
        <summary class="cursor-pointer text-water" @click.prevent="askOpen = !askOpen"
          >{{ isGoing ? 'what is asked' : 'what is asked next' }}: {{ askedWords }}</summary
        >
        <template v-if="askOpen">
          <AskWords v-model="measures.order" :logs="logs" class="mt-1" />
          <p class="mt-1 text-[0.86rem] text-faded">How it is asked, as a file, which may be dropped anywhere:</p>
          <textarea
            class="h-40 w-full max-w-[52rem] border border-rule bg-leaf p-2 font-mono text-[0.82rem]"
            spellcheck="false"
            aria-label="How to ask, as YAML"
            :value="measures.order.how"
            @change="measures.order = { ...measures.order, how: ($event.target as HTMLTextAreaElement).value }" />
        </template>
      </details>
    </InTurn>
    <template v-if="measures.rows.length > 0 || isGoing">
      <StrokesPicture class="mt-2" :rows="measures.rows" :predicted="told?.predicted ?? []" :height="TALL" :growing="isGoing" />
      <p v-if="ended" class="text-[0.9rem]">{{ ended }}</p>
    </template>
    <template v-if="told">
      <InTurn>
        <div class="mt-3 grid grid-cols-1 gap-x-8 gap-y-3 lg:grid-cols-2">
          <div v-if="told.bend.length > 0">
            <h2 class="mb-1 text-[1.1rem]">Where does it bend?</h2>
            <BendPicture :steps="told.bend" :former="measures.former?.told.bend ?? []" :height="SMALL + 24" />
          </div>
          <div v-if="told.predicted.length > 0">
            <h2 class="mb-1 text-[1.1rem]">Prediction beside measurement</h2>
            <BesidePicture :rows="measures.rows" :predicted="told.predicted" :judging="judging" :height="SMALL" />
          </div>
        </div>
      </InTurn>
      <InTurn v-if="told.fitted">
        <h2 class="mb-1 mt-4 text-[1.15rem]">Step costs behind it</h2>
        <p class="text-[0.92rem]"
          >of
          <EditableFigure
            :value="measures.served.replicas"
            kind="count"
            label="Replicas that were asked"
            :min="1"
            :max="1000"
            @commit="(replicas) => (measures.served = { ...measures.served, replicas })" />
          {{ measures.served.replicas === 1 ? 'replica' : 'replicas' }} with at most
          <EditableFigure
            :value="measures.served.sequences"
            kind="count"
            label="Requests side by side in a replica"
            :min="1"
            :max="4096"
            @commit="(sequences) => (measures.served = { ...measures.served, sequences })" />
          side by side, prompts
          <EditableChoice
            :value="measures.served.prompts"
            :options="['whole', 'interleaved']"
            label="How prompts are read"
            @commit="(prompts) => (measures.served = { ...measures.served, prompts: prompts as 'whole' | 'interleaved' })" />.</p
        >
        <div
          class="grid grid-cols-1 gap-x-8 overflow-x-auto lg:grid-cols-2"
          tabindex="0"
          role="region"
          aria-label="Step costs, and how far they can be believed">
          <FigureTable
            v-bind="stepCostsTable(told.fitted, measures.former?.told.fitted)"
            :words="[0, measures.former?.told.fitted ? 4 : 3]" />
          <FigureTable v-if="told.judged" v-bind="judgedTable(told.judged)" :words="[0]" />
        </div>
        <TakeWords
          class="mt-2 text-[0.95rem]"
          :plan="plans.plan"
          :services="services"
          :chosen-of="chosenOf"
          :fitted="told.fitted"
          :reached-at="reachedAt"
          @take="take" />
      </InTurn>
      <InTurn>
        <ul v-if="told.remarks.length > 0" class="mt-3 max-w-[62rem] list-disc pl-5 text-[0.92rem]">
          <li v-for="r in told.remarks" :key="r">{{ r }}</li>
        </ul>
        <TakeSleep v-if="sleep" class="mt-2 text-[0.95rem]" :services="plans.plan.services" :idle="sleep" @take="letSleep" />
        <div class="mt-3 overflow-x-auto" tabindex="0" role="region" aria-label="Figures of the measurement">
          <FigureTable v-for="t in tables" :key="t.header.join()" class="mb-2" v-bind="t" :words="[0]" />
          <template v-if="measures.former">
            <h3 class="text-[1.05rem]">Before: {{ measures.former.name }}</h3>
            <FigureTable v-for="t in formerTables" :key="t.header.join()" class="mb-2" v-bind="t" :words="[0]" />
          </template>
        </div>
      </InTurn>
    </template>
    <InTurn>
      <WorthPart />
    </InTurn>
  </div>
</template>
