<script setup lang="ts">
import { defineAsyncComponent, onMounted, ref, useTemplateRef } from 'vue'
import { useRoute } from 'vue-router'
import InTurn from './components/frame/InTurn.vue'
import KeySheet from './components/frame/KeySheet.vue'
import ThrownSheet from './components/frame/ThrownSheet.vue'
import ViewWay from './components/frame/ViewWay.vue'
import { provideTouched } from './composables/provideTouched.ts'
import { useCursorHome } from './composables/useCursorHome.ts'
import { useGoTo } from './composables/useGoTo.ts'
import { useReadiness } from './composables/useReadiness.ts'
import { KEYS, useShortcuts } from './composables/useShortcuts.ts'
import { useStations } from './composables/useStations.ts'
import { useTakeIn } from './composables/useTakeIn.ts'
import { useThrown } from './composables/useThrown.ts'
import AppNotes from './frame/AppNotes.vue'
import AppSentence from './frame/AppSentence.vue'
import AppTop from './frame/AppTop.vue'
import AppVerdict from './frame/AppVerdict.vue'
import { useLookStore } from './stores/lookStore.ts'
import { usePlanStore } from './stores/planStore.ts'
import { useThrownStore } from './stores/thrownStore.ts'

const [plans, look, thrown, route, goTo] = [usePlanStore(), useLookStore(), useThrownStore(), useRoute(), useGoTo()]
const AppBegin = defineAsyncComponent(() => import('./frame/AppBegin.vue').catch(notBegun))
/** A beginning is undefined until the first that comes. */
const [keysOpen, beginning] = [ref(false), ref<boolean>()]
const notBegun = (error: unknown) => ((beginning.value = undefined), Promise.reject(error as Error))
const top = useTemplateRef('top')
const { dragging, takeFiles } = useTakeIn((kind) => {
  // The sheet takes a model in; what is something else is looked at where it belongs, which the sheet would hide.
  beginning.value &&= kind === 'model'
  return beginning.value === true
})
const { open: thrownOpen, show: showThrown, haveBack } = useThrown()
const stations = useStations()
const sentence = useTemplateRef('sentence')
const [pick, save] = [() => top.value?.pick(), () => top.value?.save()]
const [showKeys, begin] = [() => (keysOpen.value = true), () => (beginning.value = true)]

provideTouched()
useCursorHome()
useReadiness()
useShortcuts({
  goTo,
  undo: plans.undo,
  redo: plans.redo,
  toggleTheme: look.toggleTheme,
  open: pick,
  save,
  begin,
  text: look.toggleText,
  seek: () => sentence.value?.seek(),
  showKeys,
})
onMounted(() => plans.start())
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <a href="#view" class="sr-only focus:not-sr-only">Skip to the view</a>
    <AppTop ref="top" @keys="showKeys" @files="takeFiles" @thrown="showThrown" @begin="begin" />
    <InTurn><AppVerdict /><AppNotes @back="haveBack" /></InTurn>
    <InTurn><ViewWay :stations="stations" :current="`/${route.path.split('/')[1]}`" /></InTurn>
    <div class="grid flex-1 grid-cols-1" :class="look.asText ? 'lg:grid-cols-[29rem_minmax(0,1fr)]' : 'lg:grid-cols-[21rem_minmax(0,1fr)]'">
      <div class="order-2 border-r border-rule lg:order-1">
        <InTurn><AppSentence ref="sentence" /></InTurn>
      </div>
      <main id="view" class="pane order-1 min-w-0 lg:order-2" tabindex="-1"><RouterView @pick-file="pick" /></main>
    </div>
    <div v-if="dragging" class="let-go">Let go: plans, logs, catalogues, models and measurements are told apart</div>
    <AppBegin v-if="beginning !== undefined" :open="beginning" @close="beginning = false" @files="takeFiles" />
    <InTurn>
      <ThrownSheet :open="thrownOpen" :things="thrown.things" @back="haveBack" @close="thrownOpen = false" />
      <KeySheet :open="keysOpen" :keys="KEYS" @close="keysOpen = false" />
    </InTurn>
  </div>
</template>
