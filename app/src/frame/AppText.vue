<script setup lang="ts">
import { BadInput, readPlan, writePlan, type Plan, type Problem } from '@sandclock/core'
import { onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import CodeText from '../components/text/CodeText.vue'
import { firstFrom } from '../composables/firstFrom.ts'
import { usePlanStore } from '../stores/planStore.ts'
import type { Syntax } from '../text/completion.ts'
import { firstDifference, type TextPath } from '../text/path.ts'

/** The open plan as text, in step with the sentence: what is changed in one appears in the other, with the cursor on it. */
const emit = defineEmits<{ at: [path: TextPath]; close: [] }>()
const plans = usePlanStore()
const editor = useTemplateRef('editor')
const text = ref('')
const syntax = ref<Syntax>()
const problems = shallowRef<readonly Problem[]>([])
/** the plan that the text is, as far as it is one */
let inText: Plan | undefined

async function take(): Promise<void> {
  const { plan } = plans
  const file = await plans.file()
  if (plan !== plans.plan) return // a later change takes it
  syntax.value = file.name.endsWith('.json') ? 'json' : 'yaml'
  text.value = file.text
  problems.value = []
  inText = plans.plan
}
onMounted(take)

watch(
  () => plans.plan,
  async (plan, before) => {
    // What is typed and is no plan yet is not taken away by a change elsewhere.
    if (plan === inText || problems.value.length > 0) return
    await take()
    const changed = firstDifference(before, plan)
    if (changed && plan === plans.plan) requestAnimationFrame(() => editor.value?.show(changed))
  },
)

async function typed(next: string): Promise<void> {
  let plan: Plan
  try {
    plan = syntax.value === 'json' ? readPlan(next) : (await import('../data/fileReaders.ts')).readPlanYaml(next)
  } catch (error) {
    if (!(error instanceof BadInput)) throw error
    problems.value = error.problems
    return
  }
  problems.value = []
  if (syntax.value === 'yaml') await plans.keepYaml(next)
  if (writePlan(plan) === writePlan(plans.plan)) return
  // The edit makes a plan of its own of it, which is then the one that the text is.
  plans.edit(() => plan)
  inText = plans.plan
}
defineExpose({ show: (path: TextPath) => editor.value?.show(path) })
</script>

<template>
  <section class="flex min-h-0 flex-col border-t-2 border-rule" aria-label="The plan as text">
    <p class="flex items-baseline gap-3 px-6 py-1 text-[0.82rem]">
      <span v-if="problems.length === 0" class="text-faded"
        >the plan as {{ syntax === 'yaml' ? 'YAML' : 'JSON' }}, in step with the sentence</span
      >
      <span v-else role="status" class="text-rust"
        >not a plan yet: {{ problems.length === 1 ? 'one thing' : `${problems.length} things` }} to mend; the sentence is as it was.
        <button type="button" class="word" @click="take">give up what was typed</button></span
      >
      <button type="button" class="word ml-auto" aria-label="Close the plan as text" @click="emit('close')">close</button>
    </p>
    <CodeText
      v-if="syntax"
      :key="`${plans.id} ${syntax}`"
      ref="editor"
      class="min-h-0 flex-1"
      :text="text"
      :syntax="syntax"
      :problems="problems"
      :from="firstFrom(plans.plan)"
      @change="typed"
      @at="(path) => emit('at', path)" />
  </section>
</template>
