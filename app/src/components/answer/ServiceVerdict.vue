<script setup lang="ts">
import {
  capital,
  AS_STATED,
  breakingSentences,
  callersWords,
  certaintyWords,
  costParts,
  fleetWords,
  growthSentence,
  headRoomWords,
  isByTokens,
  isSearched,
  limitWords,
  measureWords,
  paidWords,
  price,
  qualityWords,
  settingWords,
  sideBySideWords,
  spanWords,
  stoppedWords,
  unpromisedLosses,
  unmeasuredWords,
  valueWords,
  whereWords,
  surchargeWords,
  type Choice,
  type Plan,
  type ServiceAnswer,
} from '@sandclock/core'
import { computed } from 'vue'

/** What to rent for one service, what it holds and for how long, in words and one exact table; a picture may stand between them. */
const props = defineProps<{
  answer: ServiceAnswer
  plan: Plan
  currency: string
  /** why it is another one than before the last change */ moved?: string | undefined
}>()
const growth = computed(() => growthSentence(props.plan, props.answer))
const searched = computed(() => isSearched(props.plan, props.answer.service))
const c = computed<Choice | null>(() => props.answer.chosen)
const byTokens = computed(() => c.value !== null && isByTokens(c.value.purchase))
/** As how many replicas it is run; of what is sold by tokens nobody counts them. */
const copies = computed(() => {
  if (!c.value || byTokens.value) return ''
  const { policy, replicas, devices } = c.value
  const many = replicas === 1 ? 'one replica' : `${replicas} replicas`
  const of = devices > 1 ? ` of ${devices} devices` : ''
  return policy ? ` as at most ${replicas} replicas${of} by the policy “${policy}”` : ` as ${many}${of}`
})
const cost = computed(() => c.value && costParts(props.plan, c.value.money.perHour, props.answer.service))
const surcharge = computed(() => (c.value ? surchargeWords(props.plan, c.value.machine) : ''))
const span = computed(() => (c.value ? spanWords(props.plan, c.value.money.perHour, props.answer.service) : ''))
const losses = computed(() => [
  ...stoppedWords(props.answer.guard, props.plan.horizon.start, props.currency),
  ...unpromisedLosses(props.plan, props.answer.classes),
])
const sentences = (lines: readonly string[]) => lines.map((l) => `${capital(l)}.`).join(' ')
const interval = (t: Choice['targets'][number]) =>
  t.interval && t.interval.runs > 1 ? `${valueWords(t.target, t.interval.low)} – ${valueWords(t.target, t.interval.high)}` : 'one run'
</script>

<template>
  <div>
    <template v-if="c && cost">
      <p v-for="words in losses" :key="words" class="mb-1 font-serif text-[1.12rem] text-rust" role="note">{{ words }}.</p>
      <p class="font-serif text-[1.12rem] leading-relaxed">
        {{ searched ? (byTokens ? 'Buy' : 'Rent') : 'As stated,' }} <strong class="font-semibold">{{ fleetWords(c) }}</strong>{{
          paidWords(c)
        }}<template v-if="c.provider !== AS_STATED">
          ({{ whereWords(c) }}) {{ byTokens ? 'for' : searched ? 'and run' : 'run' }} {{ c.model }} in {{ c.variant }}</template
        >{{ copies }}, {{ sideBySideWords(c) }}{{ c.setting ? `, with ${settingWords(c.setting)}` : '' }}:
        <strong class="font-semibold text-sand">{{ cost.amount }}</strong> {{ cost.of }}{{ span ? ` (${span})` : '' }},
        {{ price(c.money.perThousandRequests, currency) }} per 1&#8239;000 requests<template v-if="c.money.perMillionTokens !== undefined"
          >, {{ price(c.money.perMillionTokens, currency) }} per million tokens</template
        ><template v-if="c.committedMachines > 0 && c.uncommittedPerMonth !== null"
          >; with nothing committed to it would be {{ price(c.uncommittedPerMonth, currency) }} a month</template
        >.
        <template v-if="answer.breaking">{{ sentences(breakingSentences(answer.breaking)) }}</template>
        <template v-if="growth">{{ ' ' }}{{ growth }}. </template>
        <template v-for="words in [...qualityWords(plan, answer.service, c), ...unmeasuredWords(c.targets)]" :key="words"
          >{{ ' ' }}{{ words }}</template
        >
        <template v-if="answer.passedOver"> {{ answer.passedOver }}.</template>
        {{ ' ' }}<span class="text-faded">{{ sentences([...c.reliance, ...(surcharge ? [surcharge] : [])]) }}</span>
      </p>
      <p v-for="words in callersWords(plan, answer.met)" :key="words" class="mt-1 font-serif text-[1.02rem]">{{ words }}.</p>
      <p v-if="moved" class="mt-2 border-l-4 border-sand pl-3 text-[0.95rem]" role="status"> {{ moved }}.</p>
      <slot />
      <div class="overflow-x-auto">
        <table class="exact mt-2">
          <thead>
            <tr>
              <th scope="col">promise</th>
              <th scope="col" class="number">limit</th>
              <th scope="col" class="number">simulated</th>
              <th scope="col" class="number">95 % interval</th>
              <th scope="col" class="number">to spare</th>
              <th scope="col" />
            </tr>
          </thead>
          <tbody>
            <tr v-for="t in c.targets" :key="t.className + measureWords(t.target)">
              <td> {{ t.className }}, {{ measureWords(t.target) }} </td>
              <td class="number">
                {{ limitWords(t.target) }}
              </td>
              <td class="number">
                {{ valueWords(t.target, t.interval?.mean) }}
              </td>
              <td class="number">
                {{ interval(t) }}
              </td>
              <td class="number">
                {{ headRoomWords(t.headRoom) }}
              </td>
              <td :class="certaintyWords(t) === 'meets' ? 'text-moss' : 'text-rust'">
                {{ certaintyWords(t) }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
    <p v-if="!c" class="font-serif text-[1.12rem] text-rust"
      >{{
        searched
          ? `Nothing among ${answer.candidates} options holds what is promised. The reasons are below.`
          : `What is stated can not be had or run: ${answer.rejected.map((r) => r.reason).join('; ')}.`
      }}<template v-if="moved"> {{ moved }}.</template>
    </p>
    <slot v-if="!c && searched" />
  </div>
</template>
