<script setup lang="ts">
import { duration, limitWords, measureWords, percent, price, threeDigits, valueWords, verdict, type Answer } from '@sandclock/core'
import { computed } from 'vue'

/** The answer in one line, always on screen; the old one stays, marked as old, while the next is searched. */
const props = defineProps<{
  answer: Answer | null
  stale: boolean
  stopped: boolean
  failure: string
  working: { settled: number; total: number; simulations: number; doing: string; leftSeconds: number | null } | null
}>()
const emit = defineEmits<{ stop: []; again: [] }>()

const v = computed(() => (props.answer ? verdict(props.answer) : null))
const shopping = computed(() => {
  const words = v.value?.shopping.map((s) => `${s.upTo ? 'up to ' : ''}${s.machines} × ${s.machine}`) ?? []
  return words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}` : (words[0] ?? '')
})
const sure = computed(() => {
  const runs = v.value?.runs ?? 0
  if (runs === 1) return 'on this one load, replayed once'
  return Number.isFinite(runs) ? `sure at 95 % over ${runs} independent draws` : ''
})
const left = computed(() => (props.working?.leftSeconds ? `, about ${duration(Math.max(1, props.working.leftSeconds))} left` : ''))
</script>

<template>
  <section aria-label="Verdict" class="border-b border-rule bg-leaf px-6 py-2.5" :aria-busy="working !== null">
    <div class="flex min-h-[3.6rem] flex-wrap items-center gap-x-6">
      <div class="min-w-72 flex-1 transition-opacity" :class="stale ? 'opacity-60' : ''" data-testid="verdict">
        <template v-if="answer && v">
          <p class="font-serif text-[1.42rem] leading-snug">
            <template v-if="v.meets">
              <span class="mr-1.5 text-base text-faded">{{ stale ? 'Before your change: rent' : 'Rent' }}</span>
              <strong class="font-semibold">{{ shopping }}</strong> for
              <strong class="font-semibold text-sand">{{ price(answer.perMonth, answer.currency) }}</strong> a month
            </template>
            <template v-else>
              <span v-if="stale" class="mr-1.5 text-base text-faded">Before your change:</span>
              <strong class="font-semibold text-rust">Nothing holds every target</strong>
              <span v-if="v.unserved.length > 0"> for {{ v.unserved.join(' and ') }}</span>
              <span v-if="answer.conflict">: {{ answer.conflict }}</span>
            </template>
          </p>
          <p class="text-[0.9rem] text-faded">
            <template v-if="v.tightest">
              Tightest: {{ v.tightest.className }}, {{ measureWords(v.tightest.target) }} <span class="text-ink">{{ valueWords(v.tightest.target, v.tightest.interval?.mean) }}</span> of
              {{ limitWords(v.tightest.target) }} ({{ percent(v.tightest.headRoom) }} to spare).
            </template>
            <template v-if="v.breaksAt">{{ ' ' }}Breaks at <span class="text-ink">{{ threeDigits(v.breaksAt) }} ×</span> the load, {{ v.breaksClass }} first.</template>
            <template v-if="v.tightest">{{ ' ' }}{{ v.meets ? 'Meets' : 'As far as it goes' }}, {{ sure }}.</template>
          </p>
        </template>
        <p v-else class="font-serif text-[1.3rem] text-faded">The answer is being found …</p>
      </div>
      <div v-if="working" class="w-80 shrink-0 text-[0.85rem]" role="status">
        <div class="mb-1 h-1.5 w-full bg-sand-soft" aria-hidden="true">
          <div class="h-full bg-water" :style="{ width: `${working.total > 0 ? (100 * working.settled) / working.total : 0}%` }" />
        </div>
        <p>{{ working.settled }} of {{ working.total }} options settled, {{ working.simulations }} simulations{{ left }}</p>
        <p class="flex justify-between gap-2 text-faded"><span class="truncate">{{ working.doing }}</span><button type="button" class="word" @click="emit('stop')">stop</button></p>
      </div>
      <p v-else-if="stopped || failure" class="w-80 shrink-0 text-[0.85rem] text-rust" role="alert">
        {{ failure || 'Stopped. The verdict is that of the plan before your change.' }} <button type="button" class="word" @click="emit('again')">search again</button>
      </p>
    </div>
  </section>
</template>
