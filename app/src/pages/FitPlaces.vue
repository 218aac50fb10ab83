<script setup lang="ts">
import {
  applyRemedy,
  leaveOut,
  takeIn,
  type Comparison,
  type FitDetail,
  type FitRow,
  type Plan,
  type Remedy,
  type Service,
} from '@sandclock/core'
import { computed, ref, shallowRef, watch } from 'vue'
import CreditPicture from '../components/fit/CreditPicture.vue'
import FitDerivation from '../components/fit/FitDerivation.vue'
import FitRows from '../components/fit/FitRows.vue'
import FitWords from '../components/fit/FitWords.vue'
import RoomPicture from '../components/fit/RoomPicture.vue'
import InTurn from '../components/frame/InTurn.vue'
import { rowKey } from '../composables/fitOrder.ts'
import { editService } from '../edits/edits.ts'
import { editMachine, removeMeasurement, removeProfile, takeProfile } from '../edits/marketEdits.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

const plans = usePlanStore()
const views = useViewStore()
const look = useLookStore()
const answers = useAnswerStore()

const service = computed(() => plans.plan.services.find((s) => s.name === look.serviceName) ?? plans.plan.services[0])
const model = computed(() => plans.plan.models.find((m) => m.name === service.value.model))
const rows = computed(() => views.fits[service.value.name] ?? [])
const chosen = computed(() => {
  const c = answers.answer?.services.find((s) => s.service === service.value.name)?.chosen
  return c ? rowKey(c) : ''
})
const selectedKey = ref('')
const pinnedKey = ref('')
watch(
  () => service.value.name,
  () => {
    selectedKey.value = chosen.value
    pinnedKey.value = ''
  },
)
const rowOf = (key: string) => rows.value.find((r) => rowKey(r) === key)
const selected = computed(() => rowOf(selectedKey.value) ?? rowOf(chosen.value) ?? rows.value[0])
const pinned = computed(() => rowOf(pinnedKey.value))

const sequences = computed(() => service.value.search?.sequences ?? [service.value.configuration?.sequences ?? 1])
const mostSequences = computed(() => Math.max(...sequences.value))
const mostContext = computed(() => (model.value && 'contextTokens' in model.value ? (model.value.contextTokens ?? 32_768) : 32_768))
const contextTokens = computed(() => Math.min(mostContext.value, service.value.limits?.contextTokens ?? mostContext.value))
const hasRoom = computed(() => (selected.value?.memory?.cacheBytesPerToken ?? 0) > 0)

const detail = shallowRef<FitDetail | undefined>()
const comparison = shallowRef<Comparison | undefined>()
const detailOpen = ref(false)
watch(
  [selected, pinned, () => views.generation, detailOpen],
  async () => {
    const row = selected.value
    if (!row) return
    const [found, compared] = await Promise.all([
      detailOpen.value ? views.detailOf(service.value.name, place(row)) : undefined,
      pinned.value && pinned.value !== row
        ? views.creditOf(service.value.name, place(pinned.value), place(row), mostSequences.value)
        : undefined,
    ])
    if (selected.value !== row) return // another row was looked at meanwhile
    detail.value = found
    comparison.value = compared
  },
  { immediate: true },
)
const place = ({ machine, variant, devices }: FitRow) => ({ machine, variant, devices })

const setService = (change: (s: Service) => Service) => plans.edit(editService(service.value.name, change))
const setShare = (memoryShare: number) => plans.edit((plan) => ({ ...plan, assumptions: { ...plan.assumptions, memoryShare } }))
const setAssumptions = (patch: Partial<Plan['assumptions']>) =>
  plans.edit((plan) => ({ ...plan, assumptions: { ...plan.assumptions, ...patch } }))
const setReserve = (reserveBytesPerDevice: number) =>
  plans.edit((plan) => ({ ...plan, assumptions: { ...plan.assumptions, reserveBytesPerDevice } }))
const setContext = (tokens: number | undefined) =>
  setService((s) => {
    const { contextTokens: _, ...limits } = s.limits ?? {}
    return { ...s, limits: tokens === undefined || tokens >= mostContext.value ? limits : { ...limits, contextTokens: tokens } }
  })
/** The largest limit of the search is moved; smaller ones stay, as far as they are still smaller. */
const setSequences = (count: number) =>
  setService((s) => {
    if (s.search)
      return {
        ...s,
        search: {
          ...s.search,
          sequences: [...new Set([...s.search.sequences.filter((n) => n < count && n !== mostSequences.value), count])],
        },
      }
    return s.configuration ? { ...s, configuration: { ...s.configuration, sequences: count } } : s
  })
const setSearched = (changed: readonly FitRow[], yes: boolean) => {
  const { name } = service.value
  plans.edit((plan) =>
    changed.filter((r) => r.searched !== yes).reduce((p, r) => (yes ? takeIn(p, name, place(r)) : leaveOut(p, name, place(r))), plan),
  )
}

function mend(remedy: Remedy): void {
  if (plans.edit((plan) => applyRemedy(plan, service.value.name, remedy))) selectedKey.value = rowKey(remedy.at)
}
</script>

<template>
  <div>
    <FitWords
      v-if="service.model"
      :plan="plans.plan"
      :service="service"
      :rows="rows"
      @service="setService"
      @share="setShare"
      @assume="setAssumptions" />
    <InTurn v-if="selected">
      <FitRows
        v-model="selectedKey"
        :rows="rows"
        :currency="plans.plan.currency"
        :chosen="chosen"
        :pinned="pinnedKey"
        :stated="service.search === undefined"
        @search="setSearched"
        @machine="(name, patch) => plans.edit(editMachine(name, (m) => ({ ...m, ...patch })))"
        @remedy="mend"
        @pin="(row) => (pinnedKey = pinnedKey === rowKey(row) ? '' : rowKey(row))" />
      <p class="mt-1 text-[0.82rem] text-faded"
        >Arrows move through the rows, {{ service.search ? 'Space lets the search have one or not' : 'Space has it run on one' }}, /
        filters, P
        <button type="button" class="word" @click="pinnedKey = pinnedKey === rowKey(selected) ? '' : rowKey(selected)"
          >{{ pinnedKey === rowKey(selected) ? 'unpins' : 'pins' }} the row</button
        >
        so that the next one is compared with it.</p
      >
    </InTurn>
    <InTurn v-if="selected">
      <CreditPicture
        class="mt-3"
        v-if="comparison && pinned && pinned !== selected"
        :comparison="comparison"
        :from="pinned"
        :to="selected"
        :currency="plans.plan.currency"
        @unpin="pinnedKey = ''" />
      <div v-if="hasRoom" class="mt-3">
        <p class="mb-1 text-[0.9rem]">
          <strong>{{ selected.machine }}</strong>, {{ selected.variant
          }}{{ selected.devices > 1 ? ` on ${selected.devices} devices` : '' }}: its memory, and the room that is left</p
        >
        <RoomPicture
          :row="selected"
          :share="plans.plan.assumptions.memoryShare"
          :reserve-bytes-per-device="plans.plan.assumptions.reserveBytesPerDevice"
          :context-tokens="contextTokens"
          :most-context="mostContext"
          :sequences="mostSequences"
          :height="212"
          @share="setShare"
          @reserve="setReserve"
          @context="setContext"
          @sequences="setSequences" />
      </div>
      <details class="mt-2" @toggle="detailOpen = ($event.target as HTMLDetailsElement).open">
        <summary class="cursor-pointer font-serif text-[1.05rem] text-water"
          >Where the figures of {{ selected.machine }}, {{ selected.variant }} come from</summary
        >
        <FitDerivation
          v-if="detail"
          class="mt-2"
          :detail="detail"
          @given="
            (spec) => service.model && plans.edit(takeProfile(service.model, selected.variant, selected.machine, selected.devices, spec))
          "
          @ungiven="service.model && plans.edit(removeProfile(service.model, selected.variant, selected.machine, selected.devices))"
          @forget="
            service.model && plans.edit(removeMeasurement(service.model, detail.at.variant, detail.at.machine, detail.at.devices))
          " />
      </details>
    </InTurn>
    <p v-else class="font-serif text-[1.05rem]"> {{ service.name }} states its own step costs: there is nothing to place.</p>
  </div>
</template>
