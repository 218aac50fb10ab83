<script setup lang="ts">
import { clock, duration, fleetWords, type Choice, type Timeline } from '@sandclock/core'
import { useDebounceFn, useRafFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import ServiceChoice from '../components/frame/ServiceChoice.vue'
import RunFiguresTable from '../components/run/RunFigures.vue'
import type { RunFigures, RunView } from '../worker/viewWorker.ts'
import GlassRow from '../components/run/GlassRow.vue'
import RunPicture from '../components/run/RunPicture.vue'
import { timelineRows } from '../composables/timelineRows.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { PIECES, useViewStore } from '../stores/viewStore.ts'

const plans = usePlanStore()
const answers = useAnswerStore()
const views = useViewStore()
const look = useLookStore()

const served = computed(() => (answers.answer?.services ?? []).filter((s) => s.chosen !== null))
const current = computed(() => served.value.find((s) => s.service === look.serviceName) ?? served.value[0])
const options = computed<Choice[]>(() => (current.value?.chosen ? [current.value.chosen, ...current.value.runnersUp] : []))
const optionIndex = ref(0)
const option = computed(() => options.value[Math.min(optionIndex.value, options.value.length - 1)])
const service = computed(() => plans.plan.services.find((s) => s.name === current.value?.service))
const optionWords = (c: Choice) => `${fleetWords(c)}, ${c.variant}${c.devices > 1 ? ` on ${c.devices}` : ''}, ${c.sequences} side by side${c.policy ? `; ${c.policy}` : ''}`

const seen = ref({ from: 0, until: plans.plan.horizon.seconds })
const shown = shallowRef<(RunView & { option: Choice; service: string }) | null>(null)
const ghost = shallowRef<Timeline | null>(null)
const figures = shallowRef<RunFigures | null>(null)
let asked = 0

const refresh = useDebounceFn(async () => {
  const c = option.value
  const name = service.value?.name
  if (!c || name === undefined) return
  const mine = ++asked
  const view = await views.timelineOf(name, c, c.replicas, c.machines, seen.value.from, Math.min(plans.plan.horizon.seconds, seen.value.until), PIECES)
  if (mine !== asked || !view) return
  const { timeline } = view
  const before = shown.value
  const sameTime = before?.timeline.fromSeconds === timeline.fromSeconds && before.timeline.untilSeconds === timeline.untilSeconds
  ghost.value = before && before.service === name && sameTime ? before.timeline : null
  shown.value = { ...view, option: c, service: name }
  const told = await views.figuresOf(name, c, c.replicas, c.machines, timeline.fromSeconds, timeline.untilSeconds)
  if (mine === asked) figures.value = told ?? null
}, 40)

watch([option, service, seen, () => views.generation, () => views.load], () => void refresh(), { immediate: true })
watch(() => plans.plan.horizon.seconds, (until) => (seen.value = { from: 0, until }))
watch(() => current.value?.service, () => (optionIndex.value = 0))

/** Seconds of the run that pass in one second while the cursor runs. */
const SPEEDS = [60, 600, 3600, 21_600]
const speed = ref(3600)
const { isActive: running, pause, resume } = useRafFn(({ delta }) => {
  const end = Math.min(seen.value.until, plans.plan.horizon.seconds)
  look.cursorSeconds = Math.min(end, look.cursorSeconds + (delta / 1000) * speed.value)
  if (look.cursorSeconds >= end) pause()
}, { immediate: false })
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
    <template v-if="shown && service">
      <div class="mb-1 flex flex-wrap items-center gap-x-6">
        <label class="text-[0.92rem]">run of
          <select v-model="optionIndex" class="changeable max-w-full"><option v-for="(c, i) in options" :key="i" :value="i">{{ optionWords(c) }}</option></select>
        </label>
        <span class="ml-auto text-[0.86rem] text-faded">
          {{ clock(plans.plan.horizon.start, shown.timeline.fromSeconds) }} to {{ clock(plans.plan.horizon.start, shown.timeline.untilSeconds) }}
          <button v-if="!wholeWeek" type="button" class="word" @click="seen = { from: 0, until: plans.plan.horizon.seconds }">see all</button>
        </span>
      </div>
      <RunPicture
        v-model:cursor-seconds="look.cursorSeconds" :plan="plans.plan" :timeline="shown.timeline" :ghost="ghost" :replicas="shown.lanes" :max-sequences="shown.option.sequences" :fleet="shown.fleet" :per-machine-hour="shown.perMachineHour"
        :startup-seconds="shown.fleet ? 0 : (service.startupSeconds ?? 0)" :per-hour="shown.option.money.perHour" :height="440" :theme="look.theme" @look="(from, until) => (seen = { from, until })"
      />
      <div class="mt-2 flex items-center gap-4">
        <span class="w-28 text-[0.86rem] text-faded">{{ clock(plans.plan.horizon.start, look.cursorSeconds) }}</span>
        <GlassRow :timeline="shown.timeline" :replicas="shown.lanes" :max-sequences="shown.option.sequences" :fleet="shown.fleet" :ready="look.cursorSeconds >= (service.startupSeconds ?? 0)" :cursor-seconds="look.cursorSeconds" />
        <span class="text-[0.82rem] text-faded">sand above waits, water below is in service</span>
        <span class="ml-auto whitespace-nowrap text-[0.86rem]"><button type="button" class="word" :aria-pressed="running" @click="run">{{ running ? 'halt the cursor' : 'let the cursor run' }}</button> at <select v-model="speed" class="changeable w-auto" aria-label="How fast the cursor runs"><option v-for="s in SPEEDS" :key="s" :value="s">{{ duration(s) }} a second</option></select></span>
      </div>
      <details v-if="shown.told.length > 0" class="mt-2 text-[0.9rem]" open>
        <summary class="cursor-pointer text-water">What happened to the fleet{{ wholeWeek ? '' : ' in the time shown' }}</summary>
        <ol class="max-h-36 overflow-auto" tabindex="0" aria-label="What happened to the fleet"><li v-for="(h, i) in shown.told" :key="i"><button type="button" class="text-left hover:bg-sand-soft" @click="look.cursorSeconds = h.seconds">{{ h.words }}</button></li></ol>
      </details>
      <RunFiguresTable v-if="figures" :start="plans.plan.horizon.start" :run="figures.run" :remarks="figures.remarks" :late="figures.late" :window="wholeWeek ? 'In the whole time' : 'In the time shown'" />
      <details class="mt-2 text-[0.9rem]" @toggle="tableOpen = ($event.target as HTMLDetailsElement).open">
        <summary class="cursor-pointer text-water">Exact figures of this picture</summary>
        <div v-if="tableOpen && table" class="max-h-72 overflow-auto" tabindex="0" role="region" aria-label="Figures of the run">
          <table class="exact">
            <thead><tr><th v-for="h in table.header" :key="h" scope="col">{{ h }}</th></tr></thead>
            <tbody><tr v-for="row in table.rows" :key="row[0]"><td v-for="(cell, i) in row" :key="i">{{ cell }}</td></tr></tbody>
          </table>
        </div>
      </details>
    </template>
  </div>
</template>
