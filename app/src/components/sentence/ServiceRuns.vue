<script setup lang="ts">
import {
  bare,
  DEFAULT_STEP_TOKENS,
  profileKind,
  PROMPTS,
  RESERVATIONS,
  ROUTINGS,
  threeDigits,
  waysOf,
  type Plan,
  type Service,
} from '@sandclock/core'
import { computed } from 'vue'
import { editService, type Edit } from '../../edits/edits.ts'
import EditableChoice from './EditableChoice.vue'
import EditableFigure from './EditableFigure.vue'
import StatedWords from './StatedWords.vue'

/** What a service runs and how each of its replicas works, following its name. */
const props = defineProps<{ plan: Plan; service: Service }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()
const change = (patch: Partial<Service>) =>
  emit(
    'edit',
    editService(props.service.name, (s) => ({ ...s, ...patch })),
  )

type Limits = NonNullable<Service['limits']>

const sameKind = computed(() => {
  const model = props.plan.models.find((m) => m.name === props.service.model)
  return props.plan.models.filter((m) => m.kind === model?.kind).map((m) => m.name)
})
const hasTokens = computed(() => profileKind(props.plan, props.service) === 'token')
const pickedOf = (table: Record<string, { picked: string }>) => Object.values(table).map((way) => way.picked)
const wayOf = <T extends string>(table: Record<T, { picked: string }>, words: string) =>
  waysOf(table).find((way) => table[way].picked === words)
const setLimits = (patch: Limits) => change({ limits: { ...props.service.limits, ...patch } })

function setModel(model: string): void {
  emit(
    'edit',
    editService(props.service.name, (s) => {
      if (!s.search) return { ...s, model }
      const { variants: _, ...search } = s.search // variants of the former model mean nothing for the next
      return { ...s, model, search }
    }),
  )
}

function setSequences(index: number, value: number): void {
  const { search } = props.service
  if (search) change({ search: { ...search, sequences: search.sequences.map((s, i) => (i === index ? value : s)) } })
}
</script>

<template>
  <span>
    <template v-if="service.model"
      >runs <EditableChoice :value="service.model" :options="sameKind" :label="`Model of ${service.name}`" @commit="setModel" />{{
        ' '
      }}</template
    >
    behind
    <EditableChoice
      :value="service.routing"
      :options="waysOf(ROUTINGS)"
      :label="`Routing of ${service.name}`"
      @commit="(r) => change({ routing: r as Service['routing'] })" />
    routing<template v-if="service.search"
      >, with {{ ' '
      }}<template v-for="(s, i) in service.search.sequences" :key="i"
        ><template v-if="i > 0">{{ i === service.search.sequences.length - 1 ? ' or ' : ', ' }}</template
        ><EditableFigure
          :value="s"
          kind="count"
          :min="1"
          :max="4096"
          :label="`Sequence limit ${i + 1} of ${service.name}`"
          @commit="(v) => setSequences(i, v)"
      /></template>
      side by side</template
    ><StatedWords v-else-if="service.configuration" :service="service" :configuration="service.configuration" @change="change" />.
    <template v-if="hasTokens">
      Prompts go
      <EditableChoice
        :value="PROMPTS[service.limits?.prompts ?? 'whole'].picked"
        :options="pickedOf(PROMPTS)"
        :label="`Prompts of ${service.name}`"
        @commit="(w) => setLimits({ prompts: wayOf(PROMPTS, w) })" /><template v-if="service.limits?.prompts === 'interleaved'"
        >, at most
        <EditableFigure
          :value="service.limits.stepTokens ?? DEFAULT_STEP_TOKENS"
          kind="count"
          :min="1"
          :max="1000000"
          :label="`Token budget of a step of ${service.name}`"
          @commit="(stepTokens) => setLimits({ stepTokens })" />
        tokens a step</template
      >; room in the cache is
      <EditableChoice
        :value="RESERVATIONS[service.limits?.reservation ?? 'whole'].picked"
        :options="pickedOf(RESERVATIONS)"
        :label="`Cache of ${service.name}`"
        @commit="(w) => setLimits({ reservation: wayOf(RESERVATIONS, w) })" /><template v-if="service.limits?.outputCap"
        >; answers are cut off at
        <EditableFigure
          :value="service.limits.outputCap"
          kind="count"
          :min="1"
          :max="10000000"
          :label="`Output cap of ${service.name}`"
          @commit="(outputCap) => setLimits({ outputCap })" />
        tokens</template
      ><template v-if="service.limits?.draft"
        >; {{ service.limits.draft.tokens }} tokens are drafted a step, which gains
        {{ bare(threeDigits(service.limits.draft.acceptedPerStep)) }}</template
      >.
    </template>
  </span>
</template>
