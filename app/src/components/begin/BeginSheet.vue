<script setup lang="ts">
import {
  assumedWords,
  beginPlan,
  DAYS,
  figuresOf,
  OPENINGS,
  waysOf,
  type DayName,
  type OpeningName,
  type Figures,
  type Machine,
  type OwnModel,
  type ShapeName,
} from '@sandclock/core'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { computed, ref, watch } from 'vue'
import EditableChoice from '../sentence/EditableChoice.vue'
import EditableFigure from '../sentence/EditableFigure.vue'
import EditableQuantity from '../sentence/EditableQuantity.vue'
import BeginModel from './BeginModel.vue'
import DayPicture from './DayPicture.vue'

/** A whole plan from a few figures: an opening to start from, a paragraph to change, and what it takes for granted. */
const props = defineProps<{
  open: boolean
  machines: readonly Machine[]
  currency: string
  trouble: readonly string[]
  /** the model of a shape file, once one was given */
  ofFile: OwnModel | undefined
}>()
const emit = defineEmits<{ close: []; begin: [figures: Figures]; figures: [figures: Figures]; files: [files: FileList | null] }>()

const figures = ref<Figures>(figuresOf('chat'))
const opening = computed(() => OPENINGS[figures.value.opening])
const set = (patch: Partial<Figures>) => (figures.value = { ...figures.value, ...patch })
const assumed = computed(() => assumedWords(figures.value, beginPlan(figures.value, props.machines, props.currency)))

const DAY_NAMES = waysOf(DAYS)
const dayOf = (words: string) => DAY_NAMES.find((d) => DAYS[d].words === words) as DayName // one of those that are offered
const EVERYWHERE = 'every provider'
const providers = computed(() => [...new Set(props.machines.map((m) => m.provider))])
const provider = computed(() => figures.value.providers.find((name) => providers.value.includes(name)) ?? EVERYWHERE)
/** All that the paragraph says; providers that are not among the offers any more are none. */
const whole = computed((): Figures => ({ ...figures.value, providers: provider.value === EVERYWHERE ? [] : [provider.value] }))
watch(whole, (all) => emit('figures', all), { immediate: true })

function byShape(shape: ShapeName): void {
  const { own: _, ...rest } = figures.value
  figures.value = { ...rest, shape }
}
function given(event: Event): void {
  const input = event.target as HTMLInputElement // the one below
  emit('files', input.files)
  input.value = '' // the same file may be given again
}

/** Another opening has a model of its own, and keeps one that was given where it can use it. */
function like(name: OpeningName): void {
  const own = figures.value.own?.from === 'file' && OPENINGS[name].works === 'tokens' ? { own: figures.value.own } : {}
  figures.value = { ...figuresOf(name), ...own }
}
watch(
  () => props.ofFile,
  (own) => own && OPENINGS[figures.value.opening].works === 'tokens' && set({ own }),
)
</script>

<template>
  <Dialog :open="open" class="relative z-30" @close="emit('close')">
    <div class="fixed inset-0 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center pt-16">
      <DialogPanel class="drawer max-h-[84vh] w-[52rem] max-w-[96vw] overflow-auto p-6">
        <DialogTitle class="mb-2 text-[1.3rem]">Begin a plan</DialogTitle>
        <p class="text-[0.9rem] text-faded"
          >Start from what is nearest to your case, then change its figures. Everything can be changed later.</p
        >
        <ul class="my-3" aria-label="Openings">
          <li v-for="name in waysOf(OPENINGS)" :key="name">
            <button
              type="button"
              class="opening"
              :aria-pressed="figures.opening === name"
              :class="figures.opening === name ? 'chosen' : ''"
              @click="like(name)">
              <span>{{ OPENINGS[name].words }}</span>
              <DayPicture :arrivals="DAYS[OPENINGS[name].figures.day].arrivals(OPENINGS[name].figures.ratePerSecond)" />
            </button>
          </li>
          <li class="hours" aria-hidden="true"
            ><span v-for="hour in [0, 6, 12, 18, 24]" :key="hour">{{ hour }} h</span></li
          >
        </ul>
        <p class="font-serif text-[1.12rem] leading-[1.75]" data-testid="begin-words">
          At the busiest
          <EditableFigure
            :value="figures.ratePerSecond"
            kind="rate"
            :min="0.0001"
            :max="100000"
            label="Requests a second at the busiest"
            @commit="(ratePerSecond) => set({ ratePerSecond })" />
          requests a second arrive, over
          <EditableChoice
            :value="DAYS[figures.day].words"
            :options="DAY_NAMES.map((d) => DAYS[d].words)"
            label="Kind of day"
            @commit="(words) => set({ day: dayOf(words) })" />.
          <template v-if="opening.works === 'tokens'">
            A usual prompt has
            <EditableFigure
              :value="figures.input"
              kind="count"
              :min="1"
              :max="1000000"
              label="Tokens of a prompt"
              @commit="(input) => set({ input })" />
            tokens, an answer
            <EditableFigure
              :value="figures.output"
              kind="count"
              :min="1"
              :max="1000000"
              label="Tokens of an answer"
              @commit="(output) => set({ output })" />.
          </template>
          <template v-else>
            Each takes
            <EditableFigure
              :value="figures.input"
              kind="count"
              :min="1"
              :max="1000000"
              label="Work of a request"
              @commit="(input) => set({ input })" />
            {{ opening.works === 'steps' ? 'denoising steps' : 'work units' }}.
          </template>
          {{ opening.promises === 'ttft' ? 'The first token' : 'The whole answer' }} is promised within
          <EditableFigure
            :value="figures.promisedSeconds"
            kind="duration"
            :min="0.001"
            label="What is promised"
            @commit="(promisedSeconds) => set({ promisedSeconds })" />.
          <BeginModel
            :works="opening.works"
            :shape="figures.shape"
            :own="figures.own"
            :of-file="ofFile"
            :machines="machines"
            @shape="byShape"
            @own="(own) => set({ own })" />, answers<template v-if="figures.own?.from !== 'speed'">
            on machines of
            <EditableChoice
              :value="provider"
              :options="[EVERYWHERE, ...providers]"
              label="Providers"
              @commit="(name) => set({ providers: name === EVERYWHERE ? [] : [name] })" /></template
          >, for at most
          <EditableQuantity
            :value="figures.budgetPerMonth ?? undefined"
            kind="money"
            :min="0.01"
            optional
            label="Budget a month"
            @commit="(amount) => set({ budgetPerMonth: amount ?? null })" />
          {{ currency }} a month.
        </p>
        <p v-if="opening.works === 'tokens'" class="text-[0.9rem] text-faded">
          The model is your own?
          <label class="word cursor-pointer"
            >give its published shape file<input
              type="file"
              class="sr-only"
              accept=".json"
              aria-label="Shape file of the model"
              @change="given" /></label
          >, or let it fall here.
        </p>
        <slot v-if="opening.works === 'tokens'" name="shape" />
        <div class="-mx-6 my-2"><slot /></div>
        <p v-for="line in trouble" :key="line" role="alert" class="mt-2 text-[0.9rem] text-rust">{{ line }}</p>
        <p class="mt-2 flex justify-end gap-4">
          <button type="button" class="word" @click="emit('close')">close</button>
          <button type="button" class="word font-semibold" @click="emit('begin', whole)">begin this plan</button>
        </p>
        <details class="mt-3">
          <summary class="cursor-pointer text-[0.92rem] text-water">Assumed: {{ assumed.length }} things that were not asked for</summary>
          <ul class="mt-1 list-disc pl-5 text-[0.88rem]">
            <li v-for="a in assumed" :key="a.field"
              >{{ a.words }} <code class="text-[0.78rem] text-faded">{{ a.field }}</code></li
            >
          </ul>
        </details>
      </DialogPanel>
    </div>
  </Dialog>
</template>

<style scoped>
/* A model and its kind are several words: they wrap where the page is narrow. */
p :deep(.changeable) {
  white-space: normal;
  text-align: left;
}
.opening {
  display: grid;
  grid-template-columns: minmax(0, 20rem) 1fr;
  align-items: center;
  width: 100%;
  padding: 1px 8px;
  border-left: 3px solid transparent;
  text-align: left;
}
.opening:hover {
  background: var(--sand-soft);
}
.hours {
  display: flex;
  justify-content: space-between;
  width: 324px;
  margin-left: calc(20rem - 1px);
  color: var(--faded);
  font-size: 11px;
}
@media (width < 42rem) {
  .opening {
    display: block;
  }
  .opening > :last-child,
  .hours {
    display: none;
  }
}
.chosen {
  border-left-color: var(--sand);
  font-weight: 600;
}
</style>
