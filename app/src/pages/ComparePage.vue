<script setup lang="ts">
import { measureWords, type WayBetween } from '@sandclock/core'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import LineSwatch from '../charts/LineSwatch.vue'
import ComparePicture from '../components/compare/ComparePicture.vue'
import CompareTable from '../components/compare/CompareTable.vue'
import { compareRows } from '../components/compare/series.ts'
import WayPicture from '../components/compare/WayPicture.vue'
import InTurn from '../components/frame/InTurn.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import { classColour, classDash } from '../composables/classColour.ts'
import { useRunChoices, type RunChoice } from '../composables/useRunChoices.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { MOST_PINS, usePinStore } from '../stores/pinStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'
import type { PinnedRun } from '../worker/runViews.ts'
import RunParts from './RunParts.vue'

const plans = usePlanStore()
const answers = useAnswerStore()
const views = useViewStore()
const look = useLookStore()
const pinned = usePinStore()

/** Pieces of the horizon: half an hour in a week. */
const PIECES = 336

const served = computed(() => (answers.answer?.services ?? []).filter((s) => s.chosen !== null))
const current = computed(() => served.value.find((s) => s.service === look.serviceName) ?? served.value[0])
const { choices } = useRunChoices(current)
/** What was pinned, and where nothing was the chosen one beside the next best. */
const pins = computed<RunChoice[]>(() => {
  const kept = current.value ? pinned.pinsOf(plans.id, current.value.service) : []
  return kept.length > 0 ? kept : choices.value.slice(0, 2)
})
/** by key; null for a run that the plan does not have any more */
const runs = shallowRef<Record<string, PinnedRun | null>>({})
const compared = computed(() => pins.value.filter((p) => runs.value[p.key]))
const gone = computed(() => pins.value.filter((p) => runs.value[p.key] === null))
const found = computed(() => compared.value.flatMap((p) => runs.value[p.key] ?? []))
const reference = ref(0)
const other = ref(1)
const reading = ref(0)
const way = shallowRef<(WayBetween & { done: boolean }) | null>(null)
let asked = 0

const refresh = useDebounceFn(async () => {
  const mine = ++asked
  const next: typeof runs.value = {}
  for (const pin of pins.value) {
    const run = await views.pinnedOf(pin.name, PIECES)
    if (mine !== asked) return
    next[pin.key] = run ?? null
    runs.value = { ...runs.value, ...next }
  }
  runs.value = next
  if (reference.value >= compared.value.length) reference.value = 0
  if (other.value >= compared.value.length || other.value === reference.value) other.value = reference.value === 0 ? 1 : 0
  await goBetween(mine)
}, 40)

/** The way between the two whose difference is filled, where they differ in more than one thing. */
async function goBetween(mine: number): Promise<void> {
  way.value = null
  const [a, b] = [compared.value[reference.value], compared.value[other.value]]
  if (a && b && a !== b)
    await views.between(
      a.name,
      b.name,
      (w) => (way.value = w),
      () => mine !== asked,
    )
}
watch([pins, () => views.generation, () => views.load], () => void refresh(), { immediate: true })
watch([reference, other], () => void goBetween(++asked))

function setReference(i: number): void {
  if (other.value === i) other.value = reference.value
  reference.value = i
}
const toggle = (choice: RunChoice) => {
  if (!current.value) return
  // What stands there of itself is pinned with the first change.
  pinned.set(plans.id, current.value.service, pins.value)
  pinned.toggle(plans.id, current.value.service, choice)
}
const promises = computed(() =>
  (found.value[0]?.timeline.readings ?? []).map((r) => ({
    className: plans.plan.classes[r.classIndex]?.name ?? '',
    words: measureWords({ measure: r.measure, percentile: r.percentile, seconds: r.limitSeconds }),
  })),
)
const shownReading = computed(() => Math.min(reading.value, Math.max(0, promises.value.length - 1)))
const rows = computed(() => compareRows(found.value, shownReading.value, plans.plan.currency, plans.plan.horizon.seconds))
const letter = (i: number) => String.fromCharCode(65 + i)
const unpinned = computed(() => choices.value.filter((c) => !pins.value.some((p) => p.key === c.key)))
</script>

<template>
  <div>
    <h1 class="sr-only">Compare</h1>
    <ServiceChoice v-model="look.serviceName" :names="served.map((s) => s.service)" />
    <p v-if="served.length === 0" class="font-serif text-[1.1rem] text-faded">There is nothing to compare until an answer is found.</p>
    <template v-else>
      <ol class="mb-2 text-[0.93rem]">
        <li v-for="(pin, i) in compared" :key="pin.key" class="flex flex-wrap items-center gap-x-3 py-0.5">
          <LineSwatch :colour="classColour(i)" :dash="classDash(i)" />
          <strong class="font-semibold" :style="{ color: classColour(i) }">{{ letter(i) }}</strong>
          <span class="min-w-0">{{ pin.words }}</span>
          <span class="ml-auto flex flex-wrap gap-x-3 text-[0.86rem]">
            <span v-if="i === reference" class="text-faded">the reference</span>
            <template v-else>
              <button type="button" class="word" :aria-pressed="i === other" @click="other = i">{{
                i === other ? 'difference is filled' : 'fill its difference'
              }}</button>
              <button type="button" class="word" @click="setReference(i)">make it the reference</button>
            </template>
            <button type="button" class="word" :aria-label="`Unpin ${letter(i)}`" @click="toggle(pin)">unpin</button>
          </span>
        </li>
        <li v-for="pin in gone" :key="pin.key" class="flex gap-x-3 py-0.5">
          <span class="text-faded line-through">{{ pin.words }}</span><span class="text-rust">not in the plan any more</span
          ><button type="button" class="word ml-auto text-[0.86rem]" @click="toggle(pin)">unpin</button>
        </li>
        <li v-if="pins.length < MOST_PINS && unpinned.length > 0" class="py-0.5">
          <label
            >pin
            <select
              class="changeable max-w-[min(34rem,100%)]"
              value=""
              @change="
                (e) => {
                  const c = unpinned.find((x) => x.key === (e.target as HTMLSelectElement).value)
                  if (c) toggle(c)
                }
              "
              ><option value="">another …</option
              ><option v-for="c in unpinned" :key="c.key" :value="c.key">{{ c.words }}</option></select
            ></label
          >
        </li>
      </ol>
      <template v-if="found.length > 0">
        <p
          v-if="promises.length > 1"
          class="mb-1 flex flex-wrap gap-x-4 text-[0.88rem]"
          role="radiogroup"
          aria-label="Which promise the first row shows">
          <button
            v-for="(p, i) in promises"
            :key="i"
            type="button"
            role="radio"
            class="word"
            :class="i === shownReading ? 'font-semibold' : ''"
            :aria-checked="i === shownReading"
            @click="reading = i"
            >{{ p.className }}, {{ p.words }}</button
          >
        </p>
        <InTurn>
          <ComparePicture
            v-model:cursor-seconds="look.cursorSeconds"
            :rows="rows"
            :promise="promises[shownReading] ? `${promises[shownReading].className}, ${promises[shownReading].words}` : ''"
            :reference="reference"
            :other="other"
            :horizon-seconds="plans.plan.horizon.seconds"
            :start-iso="plans.plan.horizon.start"
            :height="360" />
        </InTurn>
        <p class="mb-3 text-[0.86rem] text-faded"
          >The same requests for all.
          <template v-if="found.length > 1"
            ><span class="text-moss">Filled</span> where {{ letter(other) }} has less than {{ letter(reference) }},
            <span class="text-rust">hatched</span> where it has more.</template
          >
        </p>
        <InTurn>
          <CompareTable
            :runs="found"
            :reference="Math.min(reference, found.length - 1)"
            :currency="plans.plan.currency"
            :horizon-seconds="plans.plan.horizon.seconds" />
        </InTurn>
        <InTurn>
          <RunParts :runs="compared" :from="0" :until="plans.plan.horizon.seconds" letters />
          <template v-if="way && way.of > 0">
            <h2 class="mb-1 mt-4 text-[1.15rem]">One change at a time</h2>
            <WayPicture :way="way" :from="letter(reference)" :to="letter(other)" :currency="plans.plan.currency" />
          </template>
        </InTurn>
      </template>
    </template>
  </div>
</template>
