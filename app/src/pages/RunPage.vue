<script setup lang="ts">
import { clock, clockText, duration, grouped, readyAt, type BadMoment, type ScalingPolicy } from '@sandclock/core'
import { useDebounceFn, useRafFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import FigureTable from '../components/frame/FigureTable.vue'
import InTurn from '../components/frame/InTurn.vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import GlassRow from '../components/run/GlassRow.vue'
import { ghostOf } from '../components/run/ghost.ts'
import MomentPanel from '../components/run/MomentPanel.vue'
import { weekday, weekOffset } from '../components/run/policyPlaces.ts'
import RunFiguresTable from '../components/run/RunFigures.vue'
import RunPicture from '../components/run/RunPicture.vue'
import { policyReading } from '../composables/policyReading.ts'
import { useMoment } from '../composables/useMoment.ts'
import { timelineRows } from '../composables/timelineRows.ts'
import { useRunChoices, type RunChoice } from '../composables/useRunChoices.ts'
import { setPolicy, type Edit } from '../edits/edits.ts'
import { makeSo } from '../edits/makeSo.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePinStore } from '../stores/pinStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { PIECES, useViewStore } from '../stores/viewStore.ts'
import type { RunFigures, RunView } from '../worker/runViews.ts'
import RunParts from './RunParts.vue'

const plans = usePlanStore()
const answers = useAnswerStore()
const views = useViewStore()
const look = useLookStore()

const served = computed(() => (answers.answer?.services ?? []).filter((s) => s.chosen !== null))
const current = computed(() => served.value.find((s) => s.service === look.serviceName) ?? served.value[0])
const service = computed(() => plans.plan.services.find((s) => s.name === current.value?.service))
const { choices, above, below, shown: choice, beside, tryBeside } = useRunChoices(current)
const pinned = usePinStore()
const isPinned = computed(
  () => current.value !== undefined && pinned.pinsOf(plans.id, current.value.service).some((p) => p.key === choice.value?.key),
)
const policy = computed(() => service.value?.policies?.find((p) => p.name === choice.value?.name.option.policy) ?? null)
const reads = computed(() => policyReading(policy.value))

/** The run that is shown, and the one beside it. */
const compared = computed(() => [choice.value, beside.value].flatMap((c) => (c ? [c] : [])))
const seen = ref({ from: 0, until: plans.plan.horizon.seconds })
type ShownRun = RunView & { of: RunChoice; generation: number }
const shown = shallowRef<ShownRun | null>(null)
const other = shallowRef<RunView | null>(null)
const ghost = shallowRef<ShownRun | null>(null)
const figures = shallowRef<RunFigures | null>(null)
const moment = shallowRef<BadMoment | null>(null)
const { late, progress } = useMoment(moment, () => shown.value?.of.name)
let asked = 0

const refresh = useDebounceFn(async () => {
  const c = choice.value
  if (!c) return
  const mine = ++asked
  const { generation } = views
  const until = Math.min(plans.plan.horizon.seconds, seen.value.until)
  const view = await views.timelineOf(c.name, seen.value.from, until, PIECES)
  if (mine !== asked || !view) return
  const second = beside.value ? await views.timelineOf(beside.value.name, seen.value.from, until, PIECES) : undefined
  if (mine !== asked) return
  const now = { ...view, of: c, generation }
  ghost.value = ghostOf(shown.value, now, ghost.value)
  shown.value = now
  other.value = second ?? null
  const told = await views.figuresOf(c.name, view.timeline.fromSeconds, view.timeline.untilSeconds)
  if (mine === asked) figures.value = told ?? null
}, 40)

watch([choice, beside, service, seen, () => views.generation, () => views.load], () => void refresh(), { immediate: true })
watch(
  () => plans.plan.horizon.seconds,
  (until) => (seen.value = { from: 0, until }),
)
watch([() => choice.value?.key, () => views.generation], () => (moment.value = null))
// Of another plan, or where there is no answer any more, nothing of the former run is shown.
watch(
  () => choice.value === undefined,
  (none) => {
    if (none) shown.value = other.value = ghost.value = figures.value = null
  },
  { flush: 'sync' },
)

/** The bad moment under a time, or near it as far as a pointer can tell. */
function pick(seconds: number): void {
  const near = (seen.value.until - seen.value.from) / 150
  look.cursorSeconds = seconds
  moment.value = shown.value?.moments.find((m) => seconds >= m.fromSeconds - near && seconds < m.untilSeconds + near) ?? null
}

function openMoment(m: BadMoment): void {
  moment.value = moment.value === m ? null : m
  look.cursorSeconds = (m.fromSeconds + m.untilSeconds) / 2
}

const edit = (change: Edit) => plans.edit(change)
const changePolicy = (next: ScalingPolicy) =>
  policy.value && current.value && edit(setPolicy(current.value.service, policy.value.name, next))

/** A window of a schedule around the cursor, with one copy more than the minimum. */
const WINDOW_SECONDS = 7200
function addWindow(): void {
  const p = policy.value
  if (!p) return
  const at = Math.floor(look.cursorSeconds / 3600) * 3600
  const clockOf = (seconds: number) => clockText(seconds + weekOffset(plans.plan.horizon.start))
  changePolicy({
    ...p,
    schedule: [
      ...(p.schedule ?? []),
      {
        days: [weekday(plans.plan.horizon.start, at)],
        from: clockOf(at),
        until: clockOf(at + WINDOW_SECONDS),
        min: Math.min(p.max, p.min + 1),
      },
    ],
  })
}

/** Seconds of the run that pass in one second while the cursor runs. */
const SPEEDS = [60, 600, 3600, 21_600]
const speed = ref(3600)
const {
  isActive: running,
  pause,
  resume,
} = useRafFn(
  ({ delta }) => {
    const end = Math.min(seen.value.until, plans.plan.horizon.seconds)
    look.cursorSeconds = Math.min(end, look.cursorSeconds + (delta / 1000) * speed.value)
    if (look.cursorSeconds >= end) pause()
  },
  { immediate: false },
)
function run(): void {
  if (running.value) return pause()
  if (look.cursorSeconds >= seen.value.until - 1 || look.cursorSeconds < seen.value.from) look.cursorSeconds = seen.value.from
  resume()
}

const wholeWeek = computed(() => seen.value.until - seen.value.from >= plans.plan.horizon.seconds - 1)
const table = computed(() => (shown.value ? timelineRows(plans.plan.horizon.start, shown.value.timeline, shown.value.lanes, 4) : null))
const tableOpen = ref(false)
</script>

<template>
  <div>
    <h1 class="sr-only">Run</h1>
    <ServiceChoice v-model="look.serviceName" :names="served.map((s) => s.service)" />
    <p v-if="served.length === 0" class="font-serif text-[1.1rem] text-faded">There is no run to show until an answer is found.</p>
    <template v-if="shown && service && Number.isFinite(look.cursorSeconds)">
      <div class="mb-1 flex flex-wrap items-center gap-x-6">
        <label class="text-[0.92rem]"
          >run of
          <select class="changeable max-w-[24rem] pr-5" :value="choice?.key" @change="above = ($event.target as HTMLSelectElement).value"
            ><option v-for="c in choices" :key="c.key" :value="c.key">{{ c.words }}</option></select
          >
        </label>
        <label class="text-[0.92rem]"
          >beside
          <select v-model="below" class="changeable max-w-32 pr-5"
            ><option value="">nothing</option
            ><option v-for="c in choices.filter((x) => x.key !== choice?.key)" :key="c.key" :value="c.key">{{ c.words }}</option></select
          >
        </label>
        <button
          v-if="choice && current"
          type="button"
          class="word text-[0.86rem]"
          :aria-pressed="isPinned"
          @click="pinned.toggle(plans.id, current.service, choice)"
          >{{ isPinned ? 'pinned to compare' : 'pin to compare' }}</button
        >
        <span class="ml-auto text-[0.86rem] text-faded">
          {{ clock(plans.plan.horizon.start, shown.timeline.fromSeconds) }} to
          {{ clock(plans.plan.horizon.start, shown.timeline.untilSeconds) }}
          <button v-if="!wholeWeek" type="button" class="word" @click="seen = { from: 0, until: plans.plan.horizon.seconds }"
            >see all</button
          >
        </span>
      </div>
      <p v-if="choice?.reason" class="text-[0.9rem] text-rust">The search rejected it: {{ choice.reason }}.</p>
      <InTurn>
        <RunPicture
          v-model:cursor-seconds="look.cursorSeconds"
          :plan="plans.plan"
          :run="shown"
          :ghost="ghost"
          :other="other"
          :reads="shown.reads ? reads : null"
          :policy="policy"
          :startup-seconds="shown.fleet ? 0 : readyAt(plans.plan, service)"
          :height="470"
          @look="(from, until) => (seen = { from, until })"
          @pick="pick"
          @policy="changePolicy" />
      </InTurn>
      <p v-if="other && beside" class="text-[0.86rem] text-faded"
        >Below: {{ beside.words }}. <span class="text-moss">Filled</span> where the run above has less,
        <span class="text-rust">hatched</span> where it has more; the broken line is the run below.
        <button type="button" class="word" @click="below = ''">only the run above</button>
      </p>
      <InTurn>
        <p v-if="shown.moments.length > 0 || policy" class="mt-1 flex flex-wrap items-baseline gap-x-3 text-[0.86rem]">
          <span class="text-faded">{{ shown.moments.length > 0 ? 'bad moments:' : 'no bad moment' }}</span>
          <button
            v-for="m in shown.moments.slice(0, 6)"
            :key="m.fromSeconds"
            type="button"
            class="word"
            :aria-pressed="moment === m"
            @click="openMoment(m)"
            >{{ clock(plans.plan.horizon.start, m.fromSeconds) }} ({{ grouped(m.late, 0) }} late{{
              m.untilSeconds <= plans.plan.horizon.warmupSeconds ? ', not counted' : ''
            }})</button
          >
          <button v-if="policy" type="button" class="word ml-auto" @click="addWindow"
            >raise the minimum from {{ clock(plans.plan.horizon.start, Math.floor(look.cursorSeconds / 3600) * 3600) }}</button
          >
        </p>
        <MomentPanel
          v-if="moment"
          :plan="plans.plan"
          :service="service.name"
          :moment="moment"
          :late="late"
          :progress="progress"
          :per-hour="shown.perHour"
          @close="moment = null"
          @beside="(p) => shown && tryBeside(shown.of, p)"
          @make="(a) => shown && edit(makeSo(shown.of.name, a))" />
        <div class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
          <span class="w-28 text-[0.86rem] text-faded">{{ clock(plans.plan.horizon.start, look.cursorSeconds) }}</span>
          <GlassRow
            :timeline="shown.timeline"
            :replicas="shown.lanes"
            :max-sequences="shown.maxSequences"
            :fleet="shown.fleet"
            :ready="look.cursorSeconds >= readyAt(plans.plan, service)"
            :cursor-seconds="look.cursorSeconds" />
          <span class="text-[0.82rem] text-faded">sand above waits, water below is in service</span>
          <span class="ml-auto whitespace-nowrap text-[0.86rem]"
            ><button type="button" class="word" :aria-pressed="running" @click="run">{{
              running ? 'halt the cursor' : 'let the cursor run'
            }}</button>
            at
            <select v-model="speed" class="changeable w-auto" aria-label="How fast the cursor runs"
              ><option v-for="s in SPEEDS" :key="s" :value="s">{{ duration(s) }} a second</option></select
            ></span
          >
        </div>
      </InTurn>
      <InTurn>
        <details v-if="shown.told.length > 0" class="mt-2 text-[0.9rem]" open>
          <summary class="cursor-pointer text-water">What happened to the fleet{{ wholeWeek ? '' : ' in the time shown' }}</summary>
          <ol class="max-h-36 overflow-auto" tabindex="0" aria-label="What happened to the fleet">
            <li v-for="(h, i) in shown.told" :key="i">
              <button type="button" class="text-left hover:bg-sand-soft" @click="look.cursorSeconds = h.seconds">{{ h.words }}</button>
            </li>
          </ol>
        </details>
        <RunFiguresTable
          v-if="figures"
          :plan="plans.plan"
          :cursor-seconds="look.cursorSeconds"
          :run="figures.run"
          :remarks="figures.remarks"
          :late="figures.late"
          :window="wholeWeek ? 'In the whole time' : 'In the time shown'" />
      </InTurn>
      <InTurn>
        <RunParts :runs="compared" :from="seen.from" :until="seen.until" />
        <details class="mt-2 text-[0.9rem]" @toggle="tableOpen = ($event.target as HTMLDetailsElement).open">
          <summary class="cursor-pointer text-water">Exact figures of this picture</summary>
          <div v-if="tableOpen && table" class="max-h-72 overflow-auto" tabindex="0" role="region" aria-label="Figures of the run">
            <FigureTable :header="table.header" :rows="table.rows" :words="[0]" />
          </div>
        </details>
      </InTurn>
    </template>
  </div>
</template>
