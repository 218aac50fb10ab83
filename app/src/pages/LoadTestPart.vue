<script setup lang="ts">
import { capital, bendWords, loadTestTable, type LoadTest, type Pressing, type TestedLoad } from '@sandclock/core'
import { computed, ref, shallowRef, watch } from 'vue'
import LineSwatch from '../charts/LineSwatch.vue'
import FigureTable from '../components/frame/FigureTable.vue'
import WordChoice from '../components/frame/WordChoice.vue'
import LoadChoice from '../components/loadtest/LoadChoice.vue'
import LoadTestPicture from '../components/loadtest/LoadTestPicture.vue'
import { classColour, classDash } from '../composables/classColour.ts'
import { useLoadTests } from '../composables/useLoadTests.ts'
import type { RunChoice } from '../composables/useRunChoices.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** A load test on paper of the runs that are shown, with one load or two beside each other. */
const props = defineProps<{ runs: readonly RunChoice[]; letters?: boolean }>()
const plans = usePlanStore()

const PRESSINGS: { value: Pressing; words: string }[] = [
  { value: 'at once', words: 'so many at once' },
  { value: 'a second', words: 'so many a second' },
]
const TOLD: { value: 'latency' | 'ttft'; words: string }[] = [
  { value: 'latency', words: 'the whole answer' },
  { value: 'ttft', words: 'to the first token' },
]
const open = ref(false)
const pressing = ref<Pressing>('at once')
const of = ref<'latency' | 'ttft'>('latency')
const classes = computed(() => plans.plan.classes.filter((c) => c.service === props.runs[0]?.name.service).map((c) => c.name))
const loads = shallowRef<readonly TestedLoad[]>([])
watch(
  classes,
  (names) => {
    if (loads.value.length === 0 || loads.value.some((l) => !names.includes(l.className)))
      loads.value = names.slice(0, 1).map((className) => ({ className, sent: 'as drawn' }))
  },
  { immediate: true },
)
/** Beside the first, what differs from it most: another class, or long requests. */
function beside(): void {
  const [first] = loads.value
  if (!first) return
  loads.value = [
    { ...first, sent: 'short' },
    { ...first, sent: 'long' },
  ]
}
const loadWords = ({ className, sent }: TestedLoad) =>
  [classes.value.length > 1 ? className : '', sent === 'as drawn' ? '' : sent].filter(Boolean).join(', ')
const wanted = computed(() =>
  open.value
    ? props.runs.flatMap((run, r) =>
        loads.value.map((load) => ({
          key: JSON.stringify([run.key, load, pressing.value]),
          run: run.name,
          load,
          name: [props.runs.length > 1 ? (props.letters ? String.fromCharCode(65 + r) : r === 0 ? 'above' : 'beside') : '', loadWords(load)]
            .filter(Boolean)
            .join(': '),
        })),
      )
    : [],
)
const { tests, working } = useLoadTests(
  () => wanted.value,
  () => pressing.value,
)
const shown = computed(() =>
  wanted.value.flatMap(({ key, name }, i) => {
    const test: LoadTest | null | undefined = tests.value[key]
    return test && test.steps.length > 0 ? [{ key, name, colour: classColour(i), dash: classDash(i), test }] : []
  }),
)
const without = computed(() => wanted.value.filter(({ key }) => tests.value[key] === null && !working.value))
const hasTokens = computed(() => shown.value[0]?.test.steps[0]?.ttft !== undefined)
const sentence = (words: string) => `${capital(words)}.`
const standing = ({ replicas, places, withoutPolicy }: LoadTest) =>
  `${replicas === 1 ? '1 copy' : `${replicas} copies`}${withoutPolicy === null ? '' : ` without “${withoutPolicy}”`}, ${places} places`
</script>

<template>
  <details class="mt-5" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary class="cursor-pointer font-serif text-[1.15rem]">A load test on paper</summary>
    <div v-if="open" :aria-busy="working">
      <p class="flex flex-wrap items-baseline gap-x-6 text-[0.9rem]">
        <span
          >it sends
          <template v-for="(load, i) in loads" :key="i"
            ><template v-if="i > 0"> and beside it </template
            ><LoadChoice
              :model-value="load"
              @update:model-value="(next) => (loads = loads.map((l, k) => (k === i ? next : l)))"
              :classes="classes"
              :name="i === 0 ? 'What it sends' : 'What it sends beside'" /></template
        ></span>
        <button v-if="loads.length === 1" type="button" class="word" @click="beside">short beside long</button>
        <button v-else type="button" class="word" @click="loads = loads.slice(0, 1)">only the first</button>
        <WordChoice v-model="pressing" :options="PRESSINGS" label="How it presses" />
        <WordChoice v-if="hasTokens" v-model="of" :options="TOLD" label="What the lower picture tells of" />
      </p>
      <LoadTestPicture v-if="shown.length > 0" class="mt-1" :tests="shown" :of="hasTokens ? of : 'latency'" />
      <p v-if="shown.length === 0 && working" class="text-faded">the first is being tested …</p>
      <p v-for="{ key, name } in without" :key="key" class="text-rust"
        >{{ name || 'This load' }}: none of its requests came, so that there are no sizes to be sent.</p
      >
      <template v-for="{ key, name, colour, dash, test } in shown" :key="key">
        <p class="mt-2 font-serif text-[1.02rem]">
          <template v-if="shown.length > 1"
            ><LineSwatch :colour="colour" :dash="dash" /> <strong class="font-semibold">{{ name }}</strong>, </template
          >{{ standing(test) }}.
          {{ test.steps.length < test.of ? `${test.steps.length} of ${test.of} are tested …` : sentence(bendWords(test)) }}
        </p>
        <div class="overflow-x-auto" tabindex="0" role="region" :aria-label="`Figures of the load test ${name}`">
          <FigureTable class="w-full text-[0.86rem]" v-bind="loadTestTable(test)" />
        </div>
      </template>
    </div>
  </details>
</template>
