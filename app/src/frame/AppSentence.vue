<script setup lang="ts">
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import PlanSentence from '../components/sentence/PlanSentence.vue'
import { passageAt, pathOfPassage } from '../components/sentence/passages.ts'
import { provideFigures } from '../composables/provideFigures.ts'
import { useLater } from '../composables/useLater.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { HOME, VIEWS } from '../views.ts'

/**
 * The plan's sentence beside every view, open where the view is; each view finds it again where it was left. Below it, for who wants it,
 * the plan as text: where the cursor is in one of the two the other shows the same thing.
 */
const AppText = defineAsyncComponent(() => import('./AppText.vue'))
const [plans, look, route] = [usePlanStore(), useLookStore(), useRoute()]
const path = computed(() => `/${route.path.split('/')[1]}`)
/** The sentence follows a frame after the view: to fold and open its passages would hold that up. */
const later = useLater(path)
const view = computed(() => VIEWS.find((v) => v.path === (later.value ?? path.value)) ?? VIEWS.find((v) => v.path === HOME) ?? VIEWS[0])
const pane = useTemplateRef('pane')
const sentence = useTemplateRef('sentence')
const text = useTemplateRef<{ show: (path: readonly (string | number)[]) => void }>('text')
/** the passage that the cursor of the text is in */
const at = ref('')

const figures = provideFigures(() => plans.plan, plans.edit)

/** How far down it was left, by view. It is noted when it moves: to ask for it when the view goes would lay the page out twice. */
const left = new Map<string, number>()
const note = () => pane.value && left.set(view.value.path, pane.value.scrollTop)
watch(view, async ({ path: now }) => {
  await nextTick()
  if (pane.value) pane.value.scrollTop = left.get(now) ?? firstOpen(pane.value)
})

/** How far down the first open passage begins, where it can not be seen from the top. */
function firstOpen(of: HTMLElement): number {
  const open = of.querySelector<HTMLElement>('.passage:not(.is-line)')
  return open && open.offsetTop > of.clientHeight / 2 ? open.offsetTop - 12 : 0
}

async function followText(way: readonly (string | number)[]): Promise<void> {
  at.value = passageAt(way)
  await nextTick()
  const passage = pane.value?.querySelector('.is-at')
  for (const marked of pane.value?.querySelectorAll('.is-here') ?? []) marked.classList.remove('is-here')
  const figure = passage && figures.figureOf(way, passage)
  figure?.classList.add('is-here')
  ;(figure ?? passage)?.scrollIntoView({ block: 'nearest' })
}
function followSentence(event: FocusEvent): void {
  if (!text.value) return
  const element = event.target as HTMLElement
  const way = figures.placeAt(element) ?? pathOfPassage(element)
  if (!way) return
  at.value = ''
  text.value.show(way)
}
defineExpose({ seek: () => sentence.value?.seek() })
</script>

<template>
  <div class="beside" :class="look.asText ? 'has-text' : ''">
    <aside ref="pane" class="pane !pl-[1.7rem]" tabindex="0" aria-label="Plan" @focusin="followSentence" @scroll.passive="note">
      <PlanSentence
        ref="sentence"
        :plan="plans.plan"
        :plan-id="plans.id"
        :view="view.path"
        :opens="view.opens"
        :at="at"
        @edit="figures.edit" />
    </aside>
    <AppText v-if="look.asText && plans.opened" ref="text" @at="followText" @close="look.asText = false" />
  </div>
</template>
