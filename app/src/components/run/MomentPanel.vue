<script setup lang="ts">
import {
  clock,
  duration,
  grouped,
  HOURS_PER_MONTH,
  measureWords,
  price,
  type Alteration,
  type BadMoment,
  type LateSums,
  type Plan,
  type Prevention,
  type PreventionProgress,
} from '@sandclock/core'
import { computed, ref } from 'vue'
import { makeWords } from '../../edits/makeWords.ts'
import LateBar from './LateBar.vue'

/** Why a moment was bad, and the cheapest single change that would have prevented it: every one of them is simulated. */
const props = defineProps<{
  plan: Plan
  service: string
  moment: BadMoment
  late: LateSums | null
  progress: (PreventionProgress & { done: boolean }) | null
  perHour: number
}>()
const emit = defineEmits<{ make: [alteration: Alteration]; beside: [prevention: Prevention]; close: [] }>()

const helps = computed(() => (props.progress?.found ?? []).filter((f) => f.prevents))
const failing = computed(() => (props.progress?.found ?? []).filter((f) => !f.prevents))
const MOST_SHOWN = 5
const all = ref(false)

function moneyWords({ perHour }: Prevention): string {
  const more = (perHour - props.perHour) * HOURS_PER_MONTH
  if (Math.abs(more) < 0.5) return 'costs the same'
  return `${price(Math.abs(more), props.plan.currency)} a month ${more > 0 ? 'more' : 'less'}`
}
</script>

<template>
  <section class="mt-3 border-l-2 border-rust pl-4" aria-label="A bad moment">
    <p class="font-serif text-[1.02rem]">
      {{ clock(plan.horizon.start, moment.fromSeconds) }} to {{ clock(plan.horizon.start, moment.untilSeconds).slice(4) }}:
      {{ grouped(moment.late, 0) }} of {{ grouped(moment.arrivals, 0) }} requests were late, most of them {{ moment.className }} against
      {{ measureWords({ ...moment.target, over: 'all' }) }} {{ duration(moment.target.seconds) }}.
      <button type="button" class="word font-sans text-[0.82rem]" @click="emit('close')">close</button>
    </p>
    <LateBar v-if="late && late.late > 0" :late="late" />
    <p v-if="progress && !progress.done" class="mt-2 text-[0.9rem] text-faded" role="status"
      >Trying what would have prevented it: {{ progress.settled }} of {{ progress.of }} kinds of change settled,
      {{ progress.simulations }} simulations.</p
    >
    <template v-if="helps.length > 0">
      <p class="mt-2 text-[0.92rem]">What would have prevented it, each change alone, on the same requests:</p>
      <ol class="text-[0.92rem]">
        <li v-for="(f, i) in all ? helps : helps.slice(0, MOST_SHOWN)" :key="f.words" class="flex flex-wrap items-baseline gap-x-3">
          <span :class="i === 0 ? 'font-semibold' : ''">{{ f.words }}</span>
          <span class="text-sand">{{ moneyWords(f) }}</span>
          <span v-if="!f.holds" class="text-rust">other promises still break</span>
          <button type="button" class="word text-[0.82rem]" @click="emit('beside', f)">show beside</button>
          <button type="button" class="word text-[0.82rem]" @click="emit('make', f.alteration)">{{
            makeWords(plan, service, f.alteration)
          }}</button>
        </li>
      </ol>
      <button v-if="helps.length > MOST_SHOWN" type="button" class="word text-[0.82rem]" @click="all = !all">{{
        all ? 'fewer' : `${helps.length - MOST_SHOWN} more`
      }}</button>
    </template>
    <p v-else-if="progress?.done" class="mt-2 text-[0.92rem]"
      >No single change would have prevented it: {{ progress.simulations }} were simulated.</p
    >
    <details v-if="failing.length > 0" class="mt-1 text-[0.86rem] text-faded">
      <summary class="cursor-pointer"
        >{{ failing.length }} {{ failing.length === 1 ? 'kind of change' : 'kinds of change' }} would not have done</summary
      >
      <ul>
        <li v-for="f in failing" :key="f.words"> {{ f.words }}: still {{ grouped(f.late, 0) }} late</li>
      </ul>
    </details>
  </section>
</template>
