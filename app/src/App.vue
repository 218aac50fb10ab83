<script setup lang="ts">
import { candidateOf, duration, needsLog, startBudget, percent, price, threeDigits, verdict, measureWords, valueWords, type RequestLog } from '@sandclock/core'
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import KeySheet from './components/frame/KeySheet.vue'
import PlanMenu from './components/frame/PlanMenu.vue'
import ThrownSheet from './components/frame/ThrownSheet.vue'
import TroubleNote from './components/frame/TroubleNote.vue'
import VerdictLine from './components/frame/VerdictLine.vue'
import ViewWay from './components/frame/ViewWay.vue'
import Glass from './components/glass/Glass.vue'
import PlanSentence from './components/sentence/PlanSentence.vue'
import { saveText, useFiles } from './composables/useFiles.ts'
import type { StoredLog } from './data/database.ts'
import { demoPlan } from './data/demo.ts'
import { throwAway } from './data/thrown.ts'
import { useAnswerStore } from './stores/answerStore.ts'
import { useIntakeStore } from './stores/intakeStore.ts'
import { useLogStore } from './stores/logStore.ts'
import { useLookStore } from './stores/lookStore.ts'
import { usePinStore } from './stores/pinStore.ts'
import { usePlanStore } from './stores/planStore.ts'
import { useViewStore } from './stores/viewStore.ts'

const plans = usePlanStore()
const answers = useAnswerStore()
const views = useViewStore()
const logs = useLogStore()
const intake = useIntakeStore()
const look = useLookStore()
const pinned = usePinStore()
const route = useRoute()
const router = useRouter()
const keysOpen = ref(false)
const thrownOpen = ref(false)
const DRAWN_LATER_MS = 1200
const picker = useTemplateRef<HTMLInputElement>('picker')

const { dragging, takeFiles } = useFiles(async (name, bytes, text) => {
  if (text !== undefined && intake.read(name, text)) await router.push(intake.intake?.kind === 'catalogue' ? '/fit/machines' : '/fit/models')
  else if (text !== undefined && /^\s*[{[]/.test(text)) await plans.importText(text)
  else {
    await router.push('/load')
    await logs.read(name, bytes)
  }
})

let drawnLog: RequestLog | undefined
const draw = () => void views.setPlan(plans.plan, drawnLog)
const { start: drawLater, stop: drawNoMore, isPending: drawsLater } = useTimeoutFn(draw, DRAWN_LATER_MS, { immediate: false })
watch(() => route.path, () => {
  if (!drawsLater.value) return
  drawNoMore()
  draw()
})

async function settle(again = false): Promise<void> {
  const log = await logs.logFor(plans.plan)
  if (needsLog(plans.plan) && !log) return
  // Where only the answer is looked at, the search has the processors to itself until it has something to say.
  drawnLog = log
  drawNoMore()
  if (answers.answer && ['/answer', '/compare'].includes(route.path)) drawLater()
  else draw()
  await (again ? answers.again(plans.id, plans.plan, log) : answers.answerTo(plans.id, plans.plan, log))
}

/** The search that runs begins anew at the other place, and the next ones begin there. */
function moveSearch(): void {
  answers.place = answers.onServer ? 'here' : 'server'
  void settle(true)
}

onMounted(() => plans.start())
watch([() => plans.plan, () => plans.opened], () => {
  if (plans.opened) void settle()
})

/** The cursor starts where most arrives, and comes back into a horizon that became shorter. */
watch(() => views.load, (classes) => {
  const inside = look.cursorSeconds <= plans.plan.horizon.seconds
  if (inside || classes.length === 0) return
  const total = Array.from(classes[0].rates, (_, i) => classes.reduce((sum, c) => sum + c.rates[i], 0))
  look.cursorSeconds = ((total.indexOf(Math.max(...total)) + 0.5) * plans.plan.horizon.seconds) / total.length
})

/** The longest of the chosen configurations' start-ups from nothing. */
const firstReady = computed(() => {
  const seconds = plans.plan.services.flatMap((s) => {
    const chosen = answers.answer?.services.find((a) => a.service === s.name)?.chosen
    const candidate = chosen && s.start ? candidateOf(plans.plan, s, chosen) : undefined
    return candidate ? [startBudget(s, candidate, 1).find((l) => l.weightsFrom === s.start?.weights.from && l.from === 'nothing')?.readySeconds ?? 0] : s.start ? [] : [s.startupSeconds ?? 0]
  })
  return seconds.length > 0 ? `${duration(Math.max(...seconds))} at most` : ''
})

/** What the next best of any service would cost more. */
const nextBest = computed(() => {
  const more = (answers.answer?.services ?? []).flatMap((s) => (s.chosen && s.runnersUp[0] ? [s.runnersUp[0].money.perMonth - s.chosen.money.perMonth] : []))
  return more.length > 0 ? `next for +${price(Math.min(...more), answers.answer?.currency ?? '')}` : ''
})

const stations = computed(() => {
  const v = answers.answer ? verdict(answers.answer) : null
  const rows = Object.values(views.fits).flat()
  const top = views.load.length > 0 ? Math.max(...views.load[0].rates.map((_, i) => views.load.reduce((sum, c) => sum + c.rates[i], 0))) : undefined
  return [
    { path: '/load', name: 'Load', question: 'What arrives?', figure: top === undefined ? '' : `${threeDigits(top)} /s at the most` },
    { path: '/fit', name: 'Fit', question: 'What fits where?', figure: rows.length > 0 ? `${rows.filter((r) => r.reason === null).length} of ${rows.length} fit` : '' },
    { path: '/start', name: 'Start-up', question: 'What does the first caller endure?', figure: firstReady.value },
    { path: '/run', name: 'Run', question: 'How does it go?', figure: v?.tightest ? `${measureWords(v.tightest.target)} ${valueWords(v.tightest.target, v.tightest.interval?.mean)}` : '' },
    { path: '/answer', name: 'Answer', question: 'What to rent?', figure: answers.answer?.meets ? `${price(answers.answer.perMonth, answers.answer.currency)} a month` : v ? ((answers.answer?.money.budget?.left ?? 0) < 0 && v.unserved.length === 0 ? 'over the budget' : 'not every target holds') : '' },
    { path: '/compare', name: 'Compare', question: 'What differs?', figure: nextBest.value },
  ]
})

const KEYS = [
  { key: '1 to 6', does: 'go to Load, Fit, Start-up, Run, Answer, Compare' },
  { key: 'Ctrl+Z, Ctrl+Y', does: 'undo, redo an edit' },
  { key: 'Enter', does: 'on a figure: type another; Esc leaves it as it was' },
  { key: '↑ ↓', does: 'on a figure or a ring: a little more, a little less' },
  { key: '← →', does: 'move the cursor through time, or walk the frontier; with Ctrl farther, with Shift the time seen' },
  { key: '+ − 0', does: 'in the run: see less time, more time, all' },
  { key: 't', does: 'day or dusk' },
  { key: 'o, s', does: 'open a file, save the plan as a file' },
  { key: '?', does: 'this sheet' },
]

async function showThrown(): Promise<void> {
  await plans.refreshThrown()
  thrownOpen.value = true
}

/** Puts back what the plan store does not keep; what can not be read goes out as a file and stays. */
function haveBack(thrownId: string): void {
  void plans.haveBack(thrownId, async (found) => {
    if (found.kind === 'log') await logs.restore(found.data as StoredLog) // written by the log store
    else if (found.kind === 'pin') pinned.restore(found.data as Parameters<typeof pinned.restore>[0]) // written by the pin store
    else {
      saveText(`${found.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.json`, JSON.stringify(found.data, null, 2))
      await throwAway(found.kind, found.name, found.data)
    }
  })
  thrownOpen.value = false
}

const save = () => saveText(`${plans.plan.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.json`, plans.text)
const pick = () => picker.value?.click()

useEventListener('keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement
  if (target.matches('input, select, textarea, [contenteditable]')) return
  if (event.ctrlKey || event.metaKey) {
    if (event.key.toLowerCase() === 'z' && !event.shiftKey) plans.undo()
    else if (event.key.toLowerCase() === 'y' || event.key.toLowerCase() === 'z') plans.redo()
    else return
    event.preventDefault()
    return
  }
  if (event.altKey) return
  const actions: Record<string, () => unknown> = {
    '1': () => router.push('/load'), '2': () => router.push('/fit'), '3': () => router.push('/start'), '4': () => router.push('/run'), '5': () => router.push('/answer'), '6': () => router.push('/compare'),
    '?': () => (keysOpen.value = true), t: () => look.toggleTheme(), o: pick, s: save,
  }
  actions[event.key]?.()
})
useEventListener('paste', (event: ClipboardEvent) => {
  const text = event.clipboardData?.getData('text') ?? ''
  if (!(event.target as HTMLElement).matches('input, textarea') && text.trimStart().startsWith('{')) void plans.importText(text)
})

const percentSettled = computed(() => (answers.working && answers.working.total > 0 ? answers.working.settled / answers.working.total : 1))
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <a href="#view" class="sr-only focus:not-sr-only">Skip to the view</a>
    <header class="flex flex-wrap items-center gap-x-3 px-6 py-2">
      <Glass class="h-8" :waiting="1 - percentSettled" :in-service="percentSettled" :ready="true" :label="answers.working ? `Searching, ${percent(percentSettled)} settled` : 'Sand Clock'" />
      <span class="whitespace-nowrap font-serif text-[1.12rem] font-semibold">Sand Clock</span>
      <span aria-hidden="true" class="text-rule">/</span>
      <PlanMenu
        :name="plans.plan.name" :plans="plans.kept" :current-id="plans.id" @open="plans.open" @copy="plans.add({ ...plans.plan, name: `${plans.plan.name.slice(0, 70)} (copy)` })"
        @demo="plans.add(demoPlan)" @remove="plans.remove(plans.id)" @import-file="pick" @export-file="save" @thrown="showThrown"
      />
      <span class="ml-auto flex gap-3 text-[0.9rem]">
        <button type="button" class="word" :disabled="!plans.canUndo" @click="plans.undo">undo</button>
        <button type="button" class="word" :disabled="!plans.canRedo" @click="plans.redo">redo</button>
        <button type="button" class="word" @click="look.toggleTheme()">{{ look.theme === 'dusk' ? 'day' : 'dusk' }}</button>
        <button type="button" class="word" @click="keysOpen = true">keys</button>
      </span>
      <input ref="picker" type="file" accept=".json,.csv,.gz,.yaml,.yml" class="hidden" aria-label="Open a plan, a log, a catalogue, a model or measurements" @change="takeFiles(($event.target as HTMLInputElement).files)" />
    </header>
    <VerdictLine :answer="answers.answer" :stale="answers.stale" :stopped="answers.stopped" :failure="answers.failure" :so-far="answers.soFar" :currency="plans.plan.currency" :working="answers.working" :threads="answers.threads" :on-server="answers.onServer" @move="moveSearch" @stop="answers.stop" @again="settle(true)" />
    <TroubleNote v-if="plans.trouble" :title="plans.trouble.title" :lines="plans.trouble.lines" @close="plans.trouble = null" />
    <TroubleNote v-if="intake.trouble" :title="intake.trouble.title" :lines="intake.trouble.lines" @close="intake.trouble = null" />
    <TroubleNote v-if="logs.trouble" :title="logs.trouble.title" :lines="logs.trouble.lines" @close="logs.trouble = null" />
    <p v-if="plans.remark" role="status" class="border-b border-rule px-6 py-1.5 text-[0.92rem]">{{ plans.remark }} <button type="button" class="word" @click="plans.remark = ''">put away</button></p>
    <p v-if="plans.lastThrown" role="status" class="border-b border-rule px-6 py-1.5 text-[0.92rem]">“{{ plans.lastThrown.name }}” was thrown away. <button type="button" class="word" @click="haveBack(plans.lastThrown.id)">have it back</button> <button type="button" class="word" @click="plans.lastThrown = null">put away</button></p>
    <ViewWay :stations="stations" :current="`/${route.path.split('/')[1]}`" />
    <div class="grid flex-1 grid-cols-1 lg:grid-cols-[21rem_minmax(0,1fr)]">
      <aside class="relative order-2 border-r border-rule px-6 py-4 lg:order-1 lg:max-h-[calc(100vh-10.5rem)] lg:overflow-auto" tabindex="0" aria-label="Plan"><PlanSentence :plan="plans.plan" @edit="plans.edit" /></aside>
      <main id="view" class="relative order-1 min-w-0 px-6 lg:order-2 py-4 lg:max-h-[calc(100vh-10.5rem)] lg:overflow-auto" tabindex="-1"><RouterView @pick-file="pick" /></main>
    </div>
    <div v-if="dragging" class="pointer-events-none fixed inset-3 z-40 flex items-center justify-center border-4 border-dashed border-sand bg-paper/85 font-serif text-[1.6rem]">Let go: plans, logs, catalogues, models and measurements are told apart</div>
    <ThrownSheet :open="thrownOpen" :things="plans.thrown" @back="haveBack" @close="thrownOpen = false" />
    <KeySheet :open="keysOpen" :keys="KEYS" @close="keysOpen = false" />
  </div>
</template>
