<script setup lang="ts">
import {
  ASPECTS,
  effective,
  figuresOf,
  fitWords,
  OPENINGS,
  waysOf,
  type Aspect,
  type ClassFit,
  type Figures,
  type FromLog,
  type LogFit,
  type OpeningName,
} from '@sandclock/core'
import { computed, ref } from 'vue'
import EditableChoice from '../sentence/EditableChoice.vue'
import EditableFigure from '../sentence/EditableFigure.vue'
import LogFitPicture from './LogFitPicture.vue'

/** What a log is like, class by class, each thing to be taken or left; and the plan that begins from it. */
const props = defineProps<{
  fit: LogFit
  /** whether there are requests that may be taken as they came */
  hasRequests: boolean
}>()
const emit = defineEmits<{ begin: [figures: Figures, from: Omit<FromLog, 'log'>] }>()

const WAYS = { such: 'a load that is drawn like it', came: 'the log itself, once' } as const
const as = ref<keyof typeof WAYS>('such')
const ways = computed(() => (props.hasRequests ? Object.values(WAYS) : [WAYS.such]))
/** A history is of means over steps: what is within them is assumed. */
const isOfSteps = computed(() => props.fit.classes.some((c) => c.stepSeconds !== undefined))
const variation = ref(1)
const like = ref<OpeningName>('chat')
const taken = ref<Record<string, Aspect[]>>(Object.fromEntries(props.fit.classes.map((c) => [c.name, [...c.clear]])))
const scale = ref(1)
const shiftHours = ref(0)
const growthPerMonth = ref<number>()

const takenOf = (c: ClassFit) => effective(taken.value[c.name])
const isTaken = (c: ClassFit, about: string) => !(about in ASPECTS) || takenOf(c).has(about as Aspect)
function turn(c: ClassFit, about: Aspect): void {
  const now = taken.value[c.name]
  // Hours and days that are wanted take the place of each hour of the week.
  const next = takenOf(c).has(about) ? now.filter((a) => a !== about) : [...now.filter((a) => about !== 'week' || a !== 'hours'), about]
  taken.value = { ...taken.value, [c.name]: [...new Set(next)] }
}
const openingOf = (words: string) => waysOf(OPENINGS).find((name) => OPENINGS[name].words === words) ?? like.value
const change = computed(() => ({
  scale: scale.value,
  shiftHours: shiftHours.value,
  ...(growthPerMonth.value !== undefined && { growthPerMonth: growthPerMonth.value }),
  ...(isOfSteps.value && variation.value !== 1 && { variation: variation.value }),
}))
const begin = () =>
  emit('begin', figuresOf(like.value), {
    fit: props.fit,
    as: as.value,
    // Plain data: it goes to the worker.
    ...(as.value === 'such' && {
      taken: Object.fromEntries(Object.entries(taken.value).map(([name, list]) => [name, [...list]])),
      change: change.value,
    }),
  })
</script>

<template>
  <div class="mt-3 border-t border-rule pt-2">
    <p class="font-serif text-[1.08rem] leading-[1.75]">
      Begin a plan like
      <EditableChoice
        :value="OPENINGS[like].words"
        :options="waysOf(OPENINGS).map((o) => OPENINGS[o].words)"
        label="What it begins like"
        @commit="(words) => (like = openingOf(words))" />
      with
      <EditableChoice
        :value="WAYS[as]"
        :options="ways"
        label="What is taken of the log"
        @commit="(words) => (as = words === WAYS.came ? 'came' : 'such')" /><template v-if="as === 'such'"
        >, at
        <EditableFigure :value="scale" kind="number" :min="0.001" :max="1000" label="Times its rate" @commit="(n) => (scale = n)" />
        times its rate, moved by
        <EditableFigure
          :value="shiftHours"
          kind="number"
          :min="-23"
          :max="23"
          label="Hours later"
          @commit="(n) => (shiftHours = Math.round(n))" />
        h<template v-if="growthPerMonth !== undefined"
          >, growing by
          <EditableFigure
            :value="growthPerMonth"
            kind="percent"
            :min="0.001"
            :max="10"
            label="Growth a month"
            @commit="(n) => (growthPerMonth = n)" />
          a month
          <button type="button" class="word font-sans text-[0.78rem]" @click="growthPerMonth = undefined"
            >as it grows itself</button
          ></template
        ><button v-else type="button" class="word ml-1 font-sans text-[0.78rem]" @click="growthPerMonth = 0.05">let it grow</button
        ><template v-if="isOfSteps"
          >, its gaps within a step, which nobody knows, varying
          <EditableFigure
            :value="variation"
            kind="number"
            :min="0.1"
            :max="20"
            label="Variation of the gaps within a step"
            @commit="(n) => (variation = n)" />
          times as much as by chance</template
        ></template
      >. Promises and models are those of the beginning; change them when it is there.
      <button type="button" class="word ml-2 font-semibold" @click="begin">begin this plan</button>
    </p>
    <template v-if="as === 'such'">
      <p v-if="fit.splitAt !== undefined" class="text-[0.92rem]"
        >It names no classes, and has short and long prompts: from {{ fit.splitAt }} tokens on they are long.</p
      >
      <section v-for="(c, i) in fit.classes" :key="c.name" class="mt-2" :aria-label="`Likeness of ${c.name}`">
        <h3 class="text-[1.02rem]">{{ c.name }}</h3>
        <LogFitPicture :fit="c" :taken="takenOf(c)" :index="i" :height="110" />
        <ul class="mt-1 text-[0.9rem]">
          <li v-for="w in fitWords(c)" :key="w.words" class="flex items-baseline gap-2 py-px">
            <button
              v-if="w.about in ASPECTS"
              type="button"
              class="word w-[4.2rem] shrink-0 text-left text-[0.82rem]"
              :aria-pressed="isTaken(c, w.about)"
              @click="turn(c, w.about as Aspect)"
              >{{ isTaken(c, w.about) ? 'taken' : 'left out' }}</button
            >
            <span v-else class="w-[4.2rem] shrink-0 text-[0.82rem] text-faded">always</span>
            <span :class="isTaken(c, w.about) ? '' : 'text-faded line-through decoration-1'">{{ w.words }}</span>
          </li>
        </ul>
      </section>
    </template>
  </div>
</template>
