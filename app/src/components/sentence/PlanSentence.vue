<script setup lang="ts">
import { bare, duration, peak, rateCurve, threeDigits, withRate, type Plan } from '@sandclock/core'
import { computed } from 'vue'
import { classColour } from '../../composables/classColour.ts'
import type { Edit } from '../../edits/edits.ts'
import ClassWords from './ClassWords.vue'
import EditableChoice from './EditableChoice.vue'
import EditableFigure from './EditableFigure.vue'
import EditableName from './EditableName.vue'
import MoneyWords from './MoneyWords.vue'
import ServiceWords from './ServiceWords.vue'

/** The question as prose: every figure and name in it is a control. */
const props = defineProps<{ plan: Plan }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten']
const classes = computed(
  () =>
    `${NUMBERS[props.plan.classes.length]?.toLowerCase() ?? props.plan.classes.length} request ${props.plan.classes.length === 1 ? 'class arrives' : 'classes arrive'}`,
)
const together = computed(() => {
  const curves = props.plan.classes.flatMap((c) => {
    const arrivals = withRate(c.arrivals)
    return arrivals ? [rateCurve(arrivals, props.plan.horizon.seconds, 1, props.plan.horizon.start)] : []
  })
  if (curves.length < props.plan.classes.length) return undefined
  const edges = [...new Set(curves.flatMap((c) => [...c.from]))]
  return Math.max(
    ...edges.map((t) => curves.reduce((sum, c) => sum + (c.rates[c.from.findLastIndex((f) => f <= t)] ?? 0), 0)),
    ...curves.map((c) => peak(c).ratePerSecond),
  )
})
const days = computed(() => props.plan.horizon.seconds / 86_400)
const withoutGrowth: Edit = ({ expectedGrowthPerMonth: _, ...plan }) => plan
const BEGIN_WORDS = {
  running: 'the replicas are there',
  nothing: 'nothing is there yet',
  stopped: 'machines are there and stopped',
} as const
const setBegin = (words: string) => {
  const begin = (Object.keys(BEGIN_WORDS) as (keyof typeof BEGIN_WORDS)[]).find((key) => BEGIN_WORDS[key] === words)
  if (begin) setPlan({ horizon: { ...props.plan.horizon, begin } })
}
const setPlan = (patch: Partial<Plan>) => emit('edit', (plan) => ({ ...plan, ...patch }))
</script>

<template>
  <section aria-label="The plan in words" class="font-serif text-[1.02rem] leading-[1.62]">
    <p class="mb-3">
      <EditableName :value="plan.name" :taken="[]" label="Plan" @commit="(name) => setPlan({ name })" />: {{ classes
      }}<template v-if="together !== undefined">, {{ bare(threeDigits(together)) }} a second when most come at once</template>, over
      {{ days >= 2 ? `${bare(threeDigits(days))} days` : bare(duration(plan.horizon.seconds)) }}; when they begin,
      <EditableChoice
        :value="BEGIN_WORDS[plan.horizon.begin ?? 'running']"
        :options="Object.values(BEGIN_WORDS)"
        label="What there is at the start"
        @commit="setBegin" />.
    </p>
    <ClassWords
      v-for="(c, i) in plan.classes"
      :key="c.name"
      :plan="plan"
      :request-class="c"
      :colour="classColour(i)"
      @edit="(e) => emit('edit', e)" />
    <ServiceWords v-for="s in plan.services" :key="s.name" :plan="plan" :service="s" @edit="(e) => emit('edit', e)" />
    <p class="mb-3">
      The load is expected to
      <template v-if="plan.expectedGrowthPerMonth !== undefined"
        >grow by
        <EditableFigure
          :value="plan.expectedGrowthPerMonth"
          kind="percent"
          :min="0.001"
          :max="10"
          label="Expected growth a month"
          @commit="(expectedGrowthPerMonth) => setPlan({ expectedGrowthPerMonth })" />
        a month (<button type="button" class="word font-sans text-[0.78rem]" @click="emit('edit', withoutGrowth)">take out</button
        >).</template
      >
      <template v-else
        >stay as it is (<button type="button" class="word font-sans text-[0.78rem]" @click="setPlan({ expectedGrowthPerMonth: 0.05 })"
          >let it grow</button
        >).</template
      >
    </p>
    <MoneyWords :plan="plan" @edit="(e) => emit('edit', e)" />
    <p>
      Every time that is promised is kept with
      <EditableFigure :value="plan.margin" kind="percent" :min="0" :max="0.9" label="Head-room" @commit="(margin) => setPlan({ margin })" />
      to spare, and believed over
      <EditableFigure
        :value="plan.repetitions"
        kind="count"
        :min="1"
        :max="50"
        label="Independent repetitions"
        @commit="(repetitions) => setPlan({ repetitions })" />
      independent draws of the load from seed
      <EditableFigure :value="plan.seed" kind="count" :min="0" :max="4294967295" label="Seed" @commit="(seed) => setPlan({ seed })" />.
    </p>
  </section>
</template>
