<script setup lang="ts">
import { bare, busiestTogether, classFields, duration, planFields, serviceFields, threeDigits, type Plan } from '@sandclock/core'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { firstFrom } from '../../composables/firstFrom.ts'
import { useFolds } from '../../composables/useFolds.ts'
import { useGradually } from '../../composables/useGradually.ts'
import { useSought } from '../../composables/useSought.ts'
import { putClass, putPlan, putService, type Edit } from '../../edits/edits.ts'
import EveryField from '../fields/EveryField.vue'
import ClassWords from './ClassWords.vue'
import CertaintyWords from './CertaintyWords.vue'
import EditableChoice from './EditableChoice.vue'
import EditableFigure from './EditableFigure.vue'
import EditableName from './EditableName.vue'
import MoneyWords from './MoneyWords.vue'
import Passage from './Passage.vue'
import { CLASS_PARTS, passagesOf, SERVICE_PARTS, type Opened, type Passage as PassageOf } from './passages.ts'
import ServiceWords from './ServiceWords.vue'

/** The question as prose: every figure and name in it is a control. What a view is about is open, the rest a line each. */
const props = defineProps<{ plan: Plan; planId: string; view: string; opens: Opened; at?: string }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten']
const classes = computed(
  () =>
    `${NUMBERS[props.plan.classes.length]?.toLowerCase() ?? props.plan.classes.length} request ${props.plan.classes.length === 1 ? 'class arrives' : 'classes arrive'}`,
)
const together = computed(() => busiestTogether(props.plan))
const days = computed(() => props.plan.horizon.seconds / 86_400)
const withoutGrowth: Edit = ({ expectedGrowthPerMonth: _, ...plan }) => plan
const BEGIN_WORDS = {
  running: 'the replicas are there',
  nothing: 'nothing is there yet',
  stopped: 'machines are there and stopped',
  unloaded: 'copies are there without their model',
} as const
const setBegin = (words: string) => {
  const begin = (Object.keys(BEGIN_WORDS) as (keyof typeof BEGIN_WORDS)[]).find((key) => BEGIN_WORDS[key] === words)
  if (begin) setPlan({ horizon: { ...props.plan.horizon, begin } })
}
const setPlan = (patch: Partial<Plan>) => emit('edit', (plan) => ({ ...plan, ...patch }))

const passages = computed(() => passagesOf(props.plan))
const { foldOf, setFold } = useFolds(
  passages,
  () => props.planId,
  () => props.view,
  () => props.opens,
)

/** What is sought; while it is, every passage is whole, and only those are seen that have it. */
const sought = ref('')
const seeking = computed(() => sought.value.trim() !== '')
/** One a frame at first, open or not, behind what is said of the whole plan: who types is answered between. */
const made = useGradually(passages, 1, { first: 0 })
/** Several a frame: all at once would be one long task where there are many. */
const ready = useGradually(passages, 3, { anew: () => seeking.value })
const isWhole = (p: PassageOf) => seeking.value && ready.value.includes(p)
/** Where the cursor of the text is everything is open. */
const fold = (p: PassageOf) => (isWhole(p) || p.id === props.at || (foldOf.value(p) === 'part' && !isInPart(p)) ? 'whole' : foldOf.value(p))
/** Whether a view opens less than all of it. */
const isInPart = ({ kind }: PassageOf) =>
  (kind === 'classes' && (props.opens.classes?.length ?? 0) < CLASS_PARTS.length) ||
  (kind === 'services' && (props.opens.services?.length ?? 0) < SERVICE_PARTS.length)
const partsOf = <T extends string>(p: PassageOf, all: readonly T[], open: readonly T[] | undefined) =>
  fold(p) === 'whole' ? all : (open ?? all)

const elements = new Map<string, HTMLElement>()
const hold = (id: string) => (element: unknown) =>
  element instanceof HTMLElement ? void elements.set(id, element) : void elements.delete(id)
const found = useSought(
  sought,
  () => elements,
  () => [made.value.length, ready.value.length, props.plan],
)
const isHidden = (p: PassageOf) => seeking.value && isWhole(p) && found.value !== null && !found.value.has(p.id)

const field = useTemplateRef<HTMLInputElement>('field')
/** To the first figure of the first passage that has what is sought. */
function goToFirst(): void {
  const first = passages.value.find((p) => found.value?.has(p.id))
  const words = sought.value.trim().toLowerCase()
  const figures = first ? [...(elements.get(first.id)?.querySelectorAll<HTMLElement>('.changeable') ?? [])] : []
  const named = (e: HTMLElement) => `${e.textContent} ${e.getAttribute('aria-label') ?? ''}`.toLowerCase().includes(words)
  ;(figures.find(named) ?? figures[0])?.focus()
}
async function leave(): Promise<void> {
  sought.value = ''
  await nextTick()
  field.value?.blur()
}
defineExpose({ seek: () => field.value?.focus() })
</script>

<template>
  <section aria-label="The plan in words" class="font-serif text-[1.02rem] leading-[1.62]">
    <input
      ref="field"
      v-model="sought"
      type="search"
      class="seek"
      placeholder="find in the plan (/)"
      aria-label="Find in the plan"
      @keydown.enter.prevent="goToFirst"
      @keydown.esc.stop.prevent="leave" />
    <p v-if="seeking && found?.size === 0" class="mb-3 text-faded" role="status">Nothing in the plan is called that.</p>
    <p v-show="!seeking" class="mb-3">
      <EditableName :value="plan.name" :taken="[]" label="Plan" @commit="(name) => setPlan({ name })" />: {{ classes
      }}<template v-if="together !== undefined">, {{ bare(threeDigits(together)) }} a second when most come at once</template>, over
      {{ days >= 2 ? `${bare(threeDigits(days))} days` : bare(duration(plan.horizon.seconds)) }}; when they begin,
      <EditableChoice
        :value="BEGIN_WORDS[plan.horizon.begin ?? 'running']"
        :options="Object.values(BEGIN_WORDS)"
        label="What there is at the start"
        @commit="setBegin" />.
    </p>
    <div v-for="p in made" v-show="!isHidden(p)" :key="p.id" :ref="hold(p.id)" :data-passage="p.id" :class="p.id === at ? 'is-at' : ''">
      <Passage :name="p.name" :line="p.line" :fold="fold(p)" :colour="p.colour" @fold="(next) => setFold(p, next)">
        <ClassWords
          v-if="p.kind === 'classes'"
          :plan="plan"
          :request-class="plan.classes[p.index]"
          :colour="p.colour ?? ''"
          :parts="partsOf(p, CLASS_PARTS, opens.classes)"
          @edit="(e) => emit('edit', e)" />
        <EveryField
          v-if="p.kind === 'classes' && fold(p) === 'whole'"
          :fields="classFields"
          :skip="['name']"
          :value="plan.classes[p.index]"
          :label="p.name"
          path=".classes[]"
          :from="firstFrom(plan)"
          @change="(next) => emit('edit', putClass(p.name, next))" />
        <ServiceWords
          v-if="p.kind === 'services'"
          :plan="plan"
          :service="plan.services[p.index]"
          :parts="partsOf(p, SERVICE_PARTS, opens.services)"
          @edit="(e) => emit('edit', e)" />
        <EveryField
          v-if="p.kind === 'services' && fold(p) === 'whole'"
          :fields="serviceFields"
          :skip="['name']"
          :value="plan.services[p.index]"
          :label="p.name"
          path=".services[]"
          :from="firstFrom(plan, plan.services[p.index])"
          @change="(next) => emit('edit', putService(p.name, next))" />
        <template v-if="p.kind === 'money'">
          <p class="mb-2">
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
        </template>
        <p v-if="p.kind === 'trust'">
          Every time that is promised is kept with
          <EditableFigure
            :value="plan.margin"
            kind="percent"
            :min="0"
            :max="0.9"
            label="Head-room"
            @commit="(margin) => setPlan({ margin })" />
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
        <CertaintyWords v-if="p.kind === 'trust'" :plan="plan" @edit="(e) => emit('edit', e)" />
        <EveryField
          v-if="p.kind === 'trust'"
          :fields="planFields"
          :skip="['name', 'format', 'version']"
          :value="plan"
          label="the plan"
          path=""
          :from="firstFrom(plan)"
          @change="(next) => emit('edit', putPlan(next))" />
      </Passage>
    </div>
  </section>
</template>
