<script setup lang="ts">
import {
  candidateOf,
  duration,
  firstValue,
  isByTokens,
  onMachines,
  optionOf,
  preparationOf,
  serviceFields,
  startBudget,
  startingCandidates,
  startRulesOf,
  withMeasuredStarts,
  withStage,
  type Candidate,
  type MeasuredStage,
  type Service,
  type StageName,
  type Start,
  type WaitLeft,
} from '@sandclock/core'
import { computed, ref, shallowRef, watch } from 'vue'
import InTurn from '../components/frame/InTurn.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import EditableQuantity from '../components/sentence/EditableQuantity.vue'
import PreparedPart from '../components/start/PreparedPart.vue'
import WaitLeftPart from '../components/start/WaitLeftPart.vue'
import TimedStarts from '../components/start/TimedStarts.vue'
import StartWaterfall from '../components/start/StartWaterfall.vue'
import { firstFrom } from '../composables/firstFrom.ts'
import { editService } from '../edits/edits.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useIntakeStore } from '../stores/intakeStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

/** What the first caller after a quiet night endures: start-ups, stage by stage, and what would make them shorter. */
const plans = usePlanStore()
const answers = useAnswerStore()
const look = useLookStore()
const intake = useIntakeStore()
const views = useViewStore()

const service = computed(() => plans.plan.services.find((s) => s.name === look.serviceName) ?? plans.plan.services[0])
const answered = computed(() => answers.answer?.services.find((s) => s.service === service.value.name))
const chosen = computed(() => answered.value && onMachines(answered.value))
const bought = computed(() => {
  const c = answered.value?.chosen
  return c && isByTokens(c.purchase) ? c.machine : ''
})
/** Before there is an answer, the first that there is. */
const candidate = computed((): Candidate | undefined => {
  const best = chosen.value && candidateOf(plans.plan, service.value, chosen.value)
  if (best) return best
  const [first] = startingCandidates(plans.plan, service.value)
  return first
})
const COPIES = [1, 4, 16]
const copies = ref(1)
const lines = computed(() => (candidate.value && service.value.start ? startBudget(service.value, candidate.value, copies.value) : []))
const used = computed(() => service.value.start?.weights.from ?? 'store')
const worst = computed(() => lines.value.find((l) => l.weightsFrom === used.value && l.from === 'nothing'))
const NAMES = { machine: 'the machine', image: 'the image', weights: 'the weights', load: 'loading', warmup: 'warming up' }

const setService = (change: (s: Service) => Service) => plans.edit(editService(service.value.name, change))
const setStart = (patch: Partial<Start>) => setService((s) => (s.start ? { ...s, start: { ...s.start, ...patch } } : s))
const setWeights = (patch: Partial<Start['weights']>) =>
  setService((s) => (s.start ? { ...s, start: { ...s.start, weights: { ...s.start.weights, ...patch } } } : s))
const setImageTotal = (imageTotalBytesPerSecond: number | undefined) =>
  setService((s) => {
    if (!s.start) return s
    const { imageTotalBytesPerSecond: _, ...rest } = s.start
    return { ...s, start: imageTotalBytesPerSecond === undefined ? rest : { ...rest, imageTotalBytesPerSecond } }
  })
const weightBytes = computed(() => {
  const c = candidate.value
  return c ? startRulesOf(service.value, c.model, c.variant, c.machine).weightBytes : 0
})
/** A stage pulled to a length. */
const setStage = (stage: StageName, seconds: number) =>
  setService((s) => (s.start ? { ...s, start: withStage(s.start, stage, Math.max(1, seconds), weightBytes.value, copies.value) } : s))
function takeTimed(stages: readonly MeasuredStage[]): void {
  if (setService((s) => (s.start ? { ...s, start: withMeasuredStarts(s.start, stages, weightBytes.value) } : s))) intake.putAway()
}
const prepared = computed(() => candidate.value && preparationOf(plans.plan, candidate.value))
const left = shallowRef<WaitLeft | null>(null)
let asked = 0
/** Of what is chosen, once the search has the machine no more for itself. */
watch(
  [chosen, () => views.generation, () => answers.working === null, () => answers.stale],
  async () => {
    const mine = ++asked
    const [name, option] = [service.value.name, chosen.value]
    if (!option || answers.stale || answers.working) return void (left.value = null)
    const told = await views.waitLeftOf({ service: name, option: optionOf(option), machines: option.machines })
    if (mine === asked) left.value = told ?? null
  },
  { immediate: true },
)
/** Some offers state their own time, which comes before the service's. */
const offerSeconds = computed(() => candidate.value?.machine.provisioningSeconds)
const setLimit = (timeoutSeconds: number | undefined) =>
  setService((s) => {
    if (!s.start) return s
    const { timeoutSeconds: _, ...rest } = s.start
    return { ...s, start: timeoutSeconds === undefined ? rest : { ...rest, timeoutSeconds } }
  })
/** Stages to begin with, as any field begins; every one of them is then changed in the sentence. */
function takeApart(): void {
  const field = serviceFields().find((f) => f.key === 'start')
  if (!field) return
  const start = firstValue(field, firstFrom(plans.plan)) as Start // of its schema
  setService((s) => ({ ...s, start: { machineSeconds: 90, ...start } }))
}
</script>

<template>
  <div>
    <h1 class="sr-only">Start-up</h1>
    <ServiceChoice v-model="look.serviceName" :names="plans.plan.services.map((s) => s.name)" />
    <p v-if="bought" class="mb-2 font-serif text-[1.08rem]" role="note">
      Nothing starts up at {{ bought }}, which is bought by tokens; what follows is of the best that runs on machines.
    </p>
    <TimedStarts
      v-if="intake.intake?.kind === 'starts' && candidate"
      :key="intake.intake.fileName"
      :reading="intake.intake.reading"
      :file-name="intake.intake.fileName"
      :service="service"
      :candidate="candidate"
      @take="takeTimed"
      @put-away="intake.putAway" />
    <template v-if="service.start">
      <InTurn>
        <p class="mb-2 font-serif text-[1.08rem] leading-relaxed">
          A machine comes in
          <EditableQuantity
            :value="service.start.machineSeconds ?? 0"
            kind="duration"
            :min="0"
            label="Until a machine is there"
            @commit="(v) => setStart({ machineSeconds: v ?? 0 })" /><template v-if="offerSeconds !== undefined">
            (this offer says {{ duration(offerSeconds) }} itself)</template
          >, one that was stopped in
          <EditableQuantity
            :value="service.start.resumeSeconds ?? service.start.machineSeconds ?? 0"
            kind="duration"
            :min="0"
            label="Until a stopped machine is there again"
            @commit="(v) => setStart({ resumeSeconds: v ?? 0 })" />; the image of
          <EditableQuantity
            :value="service.start.imageBytes"
            kind="bytes"
            :min="0"
            label="Size of the image"
            @commit="(v) => v !== undefined && setStart({ imageBytes: v })" />
          at
          <EditableQuantity
            :value="service.start.imageBytesPerSecond"
            kind="byteRate"
            :min="1"
            label="Rate at which an image is pulled"
            @commit="(v) => v !== undefined && setStart({ imageBytesPerSecond: v })" />
          each and
          <EditableQuantity
            :value="service.start.imageTotalBytesPerSecond"
            kind="byteRate"
            :min="1"
            optional
            label="Rate of the source of images for all machines"
            @commit="setImageTotal" />
          for all who pull at once, weights at
          <EditableQuantity
            :value="service.start.weights.bytesPerSecond"
            kind="byteRate"
            :min="1"
            label="Rate at which one reader gets weights"
            @commit="(v) => v !== undefined && setWeights({ bytesPerSecond: v })" />
          each and
          <EditableQuantity
            :value="service.start.weights.totalBytesPerSecond"
            kind="byteRate"
            :min="1"
            optional
            label="Rate of the source of weights for all readers"
            @commit="(v) => setWeights({ totalBytesPerSecond: v })" />
          for all who read at once, to the device at
          <EditableQuantity
            :value="service.start.loadBytesPerSecond"
            kind="byteRate"
            :min="1"
            label="Rate at which weights are loaded"
            @commit="(v) => v !== undefined && setStart({ loadBytesPerSecond: v })" />; warming up takes
          <EditableQuantity
            :value="service.start.warmupSeconds"
            kind="duration"
            :min="0"
            label="Warm-up"
            @commit="(v) => v !== undefined && setStart({ warmupSeconds: v })" />, the first on a machine
          <EditableQuantity
            :value="service.start.keptWarmupSeconds ?? 0"
            kind="duration"
            :min="0"
            label="Warm-up of the first start alone"
            @commit="(v) => v !== undefined && setStart({ keptWarmupSeconds: v })" />
          more, which stays there, and a start is given up after
          <EditableQuantity
            :value="service.start.timeoutSeconds"
            kind="duration"
            :min="1"
            optional
            label="Time-out of a start-up"
            @commit="setLimit" />.
        </p>
      </InTurn>
      <p v-if="worst && candidate" class="mb-2">
        <strong>{{ candidate.machine.name }}, {{ candidate.variant.name }}</strong
        >: the first caller after a quiet night waits
        <strong :class="worst.timedOutAt === null ? '' : 'text-rust'">{{
          worst.timedOutAt === null ? duration(worst.readySeconds) : 'for ever: the start is given up each time before it is ready'
        }}</strong>, most of it {{ NAMES[worst.dominant] }}.
        <span class="ml-4 whitespace-nowrap" role="radiogroup" aria-label="Starts at once"
          >starts at once:
          <button
            v-for="n in COPIES"
            :key="n"
            type="button"
            role="radio"
            :aria-checked="n === copies"
            class="word"
            :class="n === copies ? 'font-semibold !text-ink !no-underline' : ''"
            @click="copies = n"
            >{{ n }}</button
          ></span
        >
      </p>
      <InTurn>
        <StartWaterfall
          v-if="lines.length > 0"
          :lines="lines"
          :used="used"
          :currency="plans.plan.currency"
          :timeout-seconds="service.start.timeoutSeconds"
          @use="(from) => setWeights({ from })"
          @stage="setStage"
          @timeout="setLimit" />
      </InTurn>
      <InTurn>
        <PreparedPart v-if="prepared" :found="prepared" :service="service.name" :currency="plans.plan.currency" />
        <WaitLeftPart v-if="left" :left="left" />
      </InTurn>
      <p v-if="lines.length === 0" class="text-faded">No machine fits {{ service.name }}: there is nothing to start.</p>
    </template>
    <p v-else class="font-serif text-[1.08rem]">
      {{ service.name }} is ready {{ duration(service.startupSeconds ?? 0) }} after the start, all in one.
      <button type="button" class="word" @click="takeApart">Take it apart into stages</button>
    </p>
  </div>
</template>
