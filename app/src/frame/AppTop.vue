<script setup lang="ts">
import { computed, useTemplateRef } from 'vue'
import PlanMenu from '../components/frame/PlanMenu.vue'
import TopBar from '../components/frame/TopBar.vue'
import { saveText } from '../composables/useFiles.ts'
import { demoPlan } from '../data/demo.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** The bar at the top: plans and files, undo, theme, and how far a search is. */
defineEmits<{ keys: []; files: [files: FileList | null]; thrown: []; begin: [] }>()

const [plans, answers, look] = [usePlanStore(), useAnswerStore(), useLookStore()]
const bar = useTemplateRef('bar')
const settled = computed(() => (answers.working && answers.working.total > 0 ? answers.working.settled / answers.working.total : 1))
async function save(): Promise<void> {
  const { name, text } = await plans.file()
  saveText(name, text)
}
const pick = () => bar.value?.pick()
defineExpose({ save, pick })
</script>

<template>
  <TopBar
    ref="bar"
    :searching="answers.working !== null"
    :settled="settled"
    :can-undo="plans.canUndo"
    :can-redo="plans.canRedo"
    :theme="look.theme"
    :as-text="look.asText"
    @undo="plans.undo"
    @redo="plans.redo"
    @text="look.toggleText"
    @theme="look.toggleTheme"
    @keys="$emit('keys')"
    @files="(files) => $emit('files', files)">
    <PlanMenu
      :name="plans.plan.name"
      :plans="plans.kept"
      :current-id="plans.id"
      @open="plans.open"
      @copy="plans.copy"
      @demo="plans.add(demoPlan)"
      @remove="plans.remove(plans.id)"
      @import-file="pick"
      @export-file="save"
      @thrown="$emit('thrown')"
      @begin="$emit('begin')" />
    <!-- Who has only the example is told how to go on to a case of their own. -->
    <button v-if="plans.plan.name === demoPlan.name" type="button" class="word text-[0.9rem]" @click="$emit('begin')"
      >an example; begin a plan of your own</button
    >
  </TopBar>
</template>
