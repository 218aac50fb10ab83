<script setup lang="ts">
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import KeySheet from './components/frame/KeySheet.vue'
import PlanMenu from './components/frame/PlanMenu.vue'
import RemarkBar from './components/frame/RemarkBar.vue'
import ThrownSheet from './components/frame/ThrownSheet.vue'
import TopBar from './components/frame/TopBar.vue'
import TroubleNote from './components/frame/TroubleNote.vue'
import VerdictLine from './components/frame/VerdictLine.vue'
import ViewWay from './components/frame/ViewWay.vue'
import PlanSentence from './components/sentence/PlanSentence.vue'
import { useCursorHome } from './composables/useCursorHome.ts'
import { saveText } from './composables/useFiles.ts'
import { useReadiness } from './composables/useReadiness.ts'
import { useSettling } from './composables/useSettling.ts'
import { KEYS, useShortcuts } from './composables/useShortcuts.ts'
import { useStations } from './composables/useStations.ts'
import { useTakeIn } from './composables/useTakeIn.ts'
import { useThrown } from './composables/useThrown.ts'
import { demoPlan } from './data/demo.ts'
import { fileName } from './data/fileName.ts'
import { useAnswerStore } from './stores/answerStore.ts'
import { useIntakeStore } from './stores/intakeStore.ts'
import { useLogStore } from './stores/logStore.ts'
import { useLookStore } from './stores/lookStore.ts'
import { usePlanStore } from './stores/planStore.ts'
import { useRemarkStore } from './stores/remarkStore.ts'
import { useThrownStore } from './stores/thrownStore.ts'

const [plans, answers, look, remarks, thrown, route, router] = [usePlanStore(), useAnswerStore(), useLookStore(), useRemarkStore(), useThrownStore(), useRoute(), useRouter()]
const troubles = [plans, useIntakeStore(), useLogStore()]
const keysOpen = ref(false)
const top = useTemplateRef('top')
const { dragging, takeFiles } = useTakeIn()
const { open: thrownOpen, show: showThrown, haveBack } = useThrown()
const { settle, moveSearch } = useSettling()
const stations = useStations()
const settled = computed(() => (answers.working && answers.working.total > 0 ? answers.working.settled / answers.working.total : 1))
const save = () => saveText(fileName(plans.plan.name), plans.text)
const pick = () => top.value?.pick()

useCursorHome()
useReadiness()
useShortcuts({ goTo: (path) => router.push(path), undo: plans.undo, redo: plans.redo, toggleTheme: look.toggleTheme, open: pick, save, showKeys: () => (keysOpen.value = true) })
onMounted(() => plans.start())
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <a href="#view" class="sr-only focus:not-sr-only">Skip to the view</a>
    <TopBar ref="top" :searching="answers.working !== null" :settled="settled" :can-undo="plans.canUndo" :can-redo="plans.canRedo" :theme="look.theme" @undo="plans.undo" @redo="plans.redo" @theme="look.toggleTheme" @keys="keysOpen = true" @files="takeFiles">
      <PlanMenu :name="plans.plan.name" :plans="plans.kept" :current-id="plans.id" @open="plans.open" @copy="plans.copy" @demo="plans.add(demoPlan)" @remove="plans.remove(plans.id)" @import-file="pick" @export-file="save" @thrown="showThrown" />
    </TopBar>
    <VerdictLine :answer="answers.answer" :stale="answers.stale" :stopped="answers.stopped" :failure="answers.failure" :so-far="answers.soFar" :currency="plans.plan.currency" :working="answers.working" :threads="answers.threads" :on-server="answers.onServer" @move="moveSearch" @stop="answers.stop" @again="settle(true)" />
    <template v-for="(its, i) in troubles" :key="i"><TroubleNote v-if="its.trouble" :title="its.trouble.title" :lines="its.trouble.lines" @close="its.trouble = null" /></template>
    <RemarkBar v-if="remarks.words" @close="remarks.words = ''">{{ remarks.words }}</RemarkBar>
    <RemarkBar v-if="thrown.last" @close="thrown.last = null">“{{ thrown.last.name }}” was thrown away. <button type="button" class="word" @click="haveBack(thrown.last.id)">have it back</button></RemarkBar>
    <ViewWay :stations="stations" :current="`/${route.path.split('/')[1]}`" />
    <div class="grid flex-1 grid-cols-1 lg:grid-cols-[21rem_minmax(0,1fr)]">
      <aside class="relative order-2 border-r border-rule px-6 py-4 lg:order-1 lg:max-h-[calc(100vh-10.5rem)] lg:overflow-auto" tabindex="0" aria-label="Plan"><PlanSentence :plan="plans.plan" @edit="plans.edit" /></aside>
      <main id="view" class="relative order-1 min-w-0 px-6 lg:order-2 py-4 lg:max-h-[calc(100vh-10.5rem)] lg:overflow-auto" tabindex="-1"><RouterView @pick-file="pick" /></main>
    </div>
    <div v-if="dragging" class="pointer-events-none fixed inset-3 z-40 flex items-center justify-center border-4 border-dashed border-sand bg-paper/85 font-serif text-[1.6rem]">Let go: plans, logs, catalogues, models and measurements are told apart</div>
    <ThrownSheet :open="thrownOpen" :things="thrown.things" @back="haveBack" @close="thrownOpen = false" />
    <KeySheet :open="keysOpen" :keys="KEYS" @close="keysOpen = false" />
  </div>
</template>
