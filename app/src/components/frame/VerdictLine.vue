<script setup lang="ts">
import {
  capital,
  costParts,
  duration,
  HOURS_PER_MONTH,
  isOverBudget,
  limitWords,
  measureWords,
  price,
  shortfallWords,
  spareWords,
  stoppedWords,
  sureWords,
  takeWord,
  threeDigits,
  unmeasuredWords,
  unpromisedLosses,
  valueWords,
  verdict,
  type Answer,
  type SoFar,
} from '@sandclock/core'
import { computed } from 'vue'
import RentWords from './RentWords.vue'

/** The answer in one line, always on screen; the old one stays, marked as old, while the next is searched. */
const props = defineProps<{
  answer: Answer | null
  currency: string
  stale: boolean
  stopped: boolean
  failure: string
  /** the best that a search under way, or stopped, has found */
  soFar: SoFar
  /** threads of the server, 0 without one, and whether the search runs there */
  threads?: number
  onServer?: boolean
  working: { settled: number; total: number; simulations: number; doing: string; leftSeconds: number | null } | null
}>()
const emit = defineEmits<{ stop: []; again: []; move: [] }>()

const v = computed(() => (props.answer ? verdict(props.answer) : null))
/** Said where no promise could be read at all. */
const unmeasured = computed(() => (props.answer?.services ?? []).flatMap((s) => unmeasuredWords(s.chosen?.targets ?? [])).join(' '))
/** A fleet that turns callers away is not recommended in silence where nothing is promised about it. */
const losses = computed(() => {
  const { answer } = props
  if (!answer) return ''
  const { plan, currency } = answer
  return answer.services
    .flatMap((s) => [...stoppedWords(s.guard, plan.horizon.start, currency), ...unpromisedLosses(plan, s.classes)])
    .map((w) => `${w}.`)
    .join(' ')
})
const cost = computed(() => props.answer && costParts(props.answer.plan, props.answer.perHour))
/** Where there is more than one service it is said what is for which. */
const several = computed(() => (props.answer?.plan.services.length ?? props.soFar.services.length) > 1)
const sure = computed(() => (props.answer ? sureWords(props.answer) : ''))
const month = (perHour: number) => price(perHour * HOURS_PER_MONTH, props.answer?.currency ?? props.currency)
/** While the plan is another than the answer's, what holds already comes first. */
const early = computed(() => {
  const { perHour, services, leastPerHour, apart, proved } = props.soFar
  if (perHour === null || (props.answer && !props.stale)) return null
  const inStretch = services.some((s) => s.known === 'held-in-stretch')
  const holds = inStretch
    ? 'It holds every target in the busiest stretch of the load, run alone. '
    : 'It holds every target on one draw of the load. '
  return {
    holds,
    items: services.map((s) => ({ ...s, upTo: s.policy !== null, services: [s.service] })),
    perHour,
    leastPerHour,
    apart: apart ? ', each service by itself' : '',
    proved,
    stated: services.every((s) => s.known === 'stated'),
    take: takeWord(services.map((s) => s.purchase)),
  }
})
const how = computed(() => {
  if (props.answer?.meets || overBudget.value) return 'Meets'
  return v.value?.tightest?.certainty === 'misses' ? 'Misses' : 'As far as it goes'
})
/** What the line begins with: what is stated is told as it stands. */
const lead = computed(() => {
  const rent = v.value?.stated ? 'as stated' : takeWord((v.value?.shopping ?? []).map((s) => s.purchase))
  return props.stale ? `Before your change: ${rent}` : capital(rent)
})
/** What is missing where a budget is all that is missing. */
const overBudget = computed(() => {
  const budget = props.answer?.money?.budget
  return props.answer && budget && isOverBudget(props.answer) ? price(-budget.left, props.answer?.currency ?? props.currency) : ''
})
const left = computed(() => (props.working?.leftSeconds ? `, about ${duration(Math.max(1, props.working.leftSeconds))} left` : ''))
</script>

<template>
  <section aria-label="Verdict" class="border-b border-rule bg-leaf px-6 py-2.5" :aria-busy="working !== null">
    <div class="flex min-h-[3.6rem] flex-wrap items-center gap-x-6">
      <div class="min-w-72 flex-1 transition-opacity" :class="stale && !early ? 'opacity-60' : ''" data-testid="verdict">
        <template v-if="early">
          <p class="font-serif text-[1.42rem] leading-snug">
            <span class="text-base text-faded">{{
              stopped
                ? 'Stopped; the best so far:'
                : early.stated
                  ? 'As stated'
                  : early.proved
                    ? capital(early.take)
                    : `So far: ${early.take}`
            }}</span>{{ ' ' }}<RentWords :items="early.items" :told="several" /> for {{ early.proved ? '' : 'about '
            }}<strong class="font-semibold text-sand">{{ month(early.perHour) }}</strong> a month
          </p>
          <p class="text-[0.9rem] text-faded">
            <template v-if="early.stated">It was run as stated; what it keeps and bears is being told.</template>
            <template v-else-if="early.proved">Nothing cheaper holds{{ early.apart }}; the next best are being found.</template>
            <template v-else
              >{{ early.holds
              }}<template v-if="early.leastPerHour !== null"
                >Nothing below <span class="text-ink">{{ month(early.leastPerHour) }}</span> a month can{{ early.apart }}.</template
              ></template
            >
            <template v-if="answer && stale">{{ ' ' }}Before your change it was {{ price(answer.perMonth, answer.currency) }}.</template>
          </p>
        </template>
        <template v-else-if="answer && v">
          <p class="font-serif text-[1.42rem] leading-snug">
            <template v-if="v.meets || overBudget">
              <span class="text-base text-faded">{{ lead }}</span>{{ ' ' }}<RentWords :items="v.shopping" :told="several" /> for
              <strong class="font-semibold text-sand">{{ cost?.amount }}</strong> {{ cost?.of
              }}<strong v-if="overBudget" class="font-semibold text-rust">, {{ overBudget }} over the budget</strong>
            </template>
            <template v-else-if="v.unserved.length === 0 && !answer.conflict">
              <span class="text-base text-faded">{{ lead }}</span>{{ ' ' }}<RentWords :items="v.shopping" :told="several" /> for
              {{ cost?.amount }} {{ cost?.of }}:
              <strong class="font-semibold text-rust">{{ shortfallWords(v) }}</strong>
            </template>
            <template v-else>
              <span v-if="stale" class="mr-1.5 text-base text-faded">Before your change:</span>
              <strong class="font-semibold text-rust">{{
                v.stated && !answer.conflict ? 'What is stated can not be had or run' : 'Nothing holds every target'
              }}</strong>
              <span v-if="v.unserved.length > 0"> for {{ v.unserved.join(' and ') }}</span>
              <span v-if="answer.conflict">: {{ answer.conflict }}</span>
            </template>
          </p>
          <p class="text-[0.9rem] text-faded">
            <span v-if="losses" class="text-rust">{{ losses }}{{ ' ' }}</span>
            <template v-if="v.tightest">
              Tightest: {{ v.tightest.className }}, {{ measureWords(v.tightest.target) }}
              <span class="text-ink">{{ valueWords(v.tightest.target, v.tightest.interval?.mean) }}</span> of
              {{ limitWords(v.tightest.target) }} ({{ spareWords(v.tightest.headRoom) }}).
            </template>
            <template v-else-if="v.meets || overBudget">{{ unmeasured }}</template>
            <template v-if="v.breaksAt"
              >{{ ' ' }}With <span class="text-ink">{{ threeDigits(v.breaksAt) }} ×</span> the load {{ v.breaksClass }} is the first whose
              promise breaks.</template
            >
            <template v-if="v.tightest">{{ ' ' }}{{ how }}, {{ sure }}.</template>
          </p>
        </template>
        <p v-else class="font-serif text-[1.3rem] text-faded">The answer is being found …</p>
      </div>
      <div v-if="working" class="w-80 shrink-0 text-[0.85rem]" role="status">
        <div class="mb-1 h-1.5 w-full bg-sand-soft" aria-hidden="true">
          <div class="h-full bg-water" :style="{ width: `${working.total > 0 ? (100 * working.settled) / working.total : 0}%` }" />
        </div>
        <p> {{ working.settled }} of {{ working.total }} options settled, {{ working.simulations }} simulations{{ left }} </p>
        <p class="flex justify-between gap-2 text-faded">
          <span class="truncate">{{ onServer ? 'on the server: ' : '' }}{{ working.doing }}</span
          ><span class="flex gap-2 whitespace-nowrap"
            ><button
              v-if="threads || onServer"
              type="button"
              class="word"
              :aria-label="onServer ? 'search in this browser' : `search on the server, with ${threads} threads`"
              @click="emit('move')"
              >{{ onServer ? 'here instead' : 'on the server' }}</button
            ><button type="button" class="word" @click="emit('stop')">stop</button></span
          >
        </p>
      </div>
      <p v-else-if="stopped || failure" class="w-80 shrink-0 text-[0.85rem] text-rust" role="alert">
        {{ failure || (early ? 'Stopped before it was proved.' : 'Stopped. The verdict is that of the plan before your change.') }}
        <button type="button" class="word" @click="emit('again')">search again</button>
      </p>
    </div>
  </section>
</template>
