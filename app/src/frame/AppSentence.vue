<script setup lang="ts">
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import PlanSentence from '../components/sentence/PlanSentence.vue'
import { usePlanStore } from '../stores/planStore.ts'
import { HOME, VIEWS } from '../views.ts'

/** The plan's sentence beside every view, open where the view is; each view finds it again where it was left. */
const [plans, route] = [usePlanStore(), useRoute()]
const path = computed(() => `/${route.path.split('/')[1]}`)
const view = computed(() => VIEWS.find((v) => v.path === path.value) ?? VIEWS.find((v) => v.path === HOME) ?? VIEWS[0])
const pane = useTemplateRef('pane')
const sentence = useTemplateRef('sentence')

const left = new Map<string, number>()
watch(path, async (now, before) => {
  if (pane.value) left.set(before, pane.value.scrollTop)
  await nextTick()
  if (pane.value) pane.value.scrollTop = left.get(now) ?? firstOpen(pane.value)
})

/** How far down the first open passage begins, where it can not be seen from the top. */
function firstOpen(of: HTMLElement): number {
  const open = of.querySelector<HTMLElement>('.passage:not(.is-line)')
  return open && open.offsetTop > of.clientHeight / 2 ? open.offsetTop - 12 : 0
}
defineExpose({ seek: () => sentence.value?.seek() })
</script>

<template>
  <aside ref="pane" class="pane !pl-[1.7rem]" tabindex="0" aria-label="Plan">
    <PlanSentence ref="sentence" :plan="plans.plan" :plan-id="plans.id" :view="view.path" :opens="view.opens" @edit="plans.edit" />
  </aside>
</template>
