<script setup lang="ts">
import { clock, limitWords, MEASURE_NAMES, MEASURES, measureWords, profileKind, type Measure } from '@sandclock/core'
import { computed } from 'vue'
import WordChoice from '../components/frame/WordChoice.vue'
import TimesPicture from '../components/times/TimesPicture.vue'
import TimesTable from '../components/times/TimesTable.vue'
import { classColour, classDash } from '../composables/classColour.ts'
import type { RunChoice } from '../composables/useRunChoices.ts'
import { useTimes } from '../composables/useTimes.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** The spread of a measure of one class, of one run or of several of a service over each other: a picture, and its figures as a table. */
const props = defineProps<{ runs: readonly RunChoice[]; from: number; until: number }>()
const plans = usePlanStore()

const WORDS: Record<Measure, string> = {
  wait: 'the wait',
  ttft: 'to the first token',
  tpot: 'from token to token',
  latency: 'the whole answer',
}
const WORK: readonly Measure[] = ['wait', 'latency']
const { measure, className, classes, found } = useTimes(
  computed(() => props.runs),
  () => ({ fromSeconds: props.from, untilSeconds: props.until }),
)
const service = computed(() => plans.plan.services.find((s) => s.name === props.runs[0]?.name.service))
const measures = computed(() => (service.value && profileKind(plans.plan, service.value) === 'token' ? MEASURES : WORK))
const shown = computed(() =>
  found.value.map(({ run, of }, i) => ({ key: run.key, name: run.words, colour: classColour(i), dash: classDash(i), of })),
)
/** Of what is drawn, not of what was chosen a moment ago. */
const promises = computed(() =>
  plans.plan.classes
    .filter((c) => c.name === found.value[0]?.of.className && c.service === service.value?.name)
    .flatMap((c) => c.targets)
    .flatMap((t) =>
      t.measure === found.value[0]?.of.measure ? [{ seconds: t.seconds, words: `promised ${measureWords(t)}: ${limitWords(t)}` }] : [],
    ),
)
const stretch = computed(() => {
  const { start, seconds, warmupSeconds } = plans.plan.horizon
  const from = Math.max(props.from, warmupSeconds)
  if (props.until <= from) return 'only warm-up, of which nothing counts'
  return props.from <= 0 && props.until >= seconds ? 'all that counts' : `${clock(start, from)} to ${clock(start, props.until)}`
})
</script>

<template>
  <section v-if="shown.length > 0" class="mt-5" aria-labelledby="times-of">
    <h2 id="times-of" class="text-[1.15rem]">How long, of each request</h2>
    <div class="flex flex-wrap gap-x-8 text-[0.9rem]">
      <WordChoice
        v-if="classes.length > 1"
        v-model="className"
        :options="classes.map((c) => ({ value: c, words: c }))"
        label="Which class" />
      <WordChoice
        v-model="measure"
        :options="measures.map((m) => ({ value: m, words: WORDS[m], title: MEASURE_NAMES[m] }))"
        label="Which measure" />
      <span class="ml-auto text-faded">{{ stretch }}</span>
    </div>
    <TimesPicture class="mt-1" :runs="shown" :promises="promises" :height="190" />
    <TimesTable :runs="shown" />
  </section>
</template>
