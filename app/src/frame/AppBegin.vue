<script setup lang="ts">
import { beginPlan, begunYaml, type Figures, type ModelShape, type OwnModel } from '@sandclock/core'
import { computed, shallowRef, watch } from 'vue'
import { useDraftAnswer } from '../composables/useDraftAnswer.ts'
import { useGoTo } from '../composables/useGoTo.ts'
import BeginShape from '../components/begin/BeginShape.vue'
import BeginSheet from '../components/begin/BeginSheet.vue'
import VerdictLine from '../components/frame/VerdictLine.vue'
import { demoPlan } from '../data/demo.ts'
import { useIntakeStore } from '../stores/intakeStore.ts'
import { troubleOf, usePlanStore } from '../stores/planStore.ts'

/** The beginning of a plan, on the machines of the open one, or of the demo where that has none. Its figures stay when it is closed. */
const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: []; files: [files: FileList | null] }>()

const [plans, intake, goTo] = [usePlanStore(), useIntakeStore(), useGoTo()]
const offers = computed(() => (plans.plan.machines.length > 0 ? plans.plan : demoPlan))
const trouble = shallowRef<readonly string[]>([])

/** A shape file that is given while the sheet is open is of the model that is begun with. */
const given = shallowRef<{ fileName: string; shape: ModelShape }>()
const ofFile = shallowRef<OwnModel>()
watch(
  () => intake.intake,
  (found) => {
    if (!props.open || found?.kind !== 'model') return
    given.value = { fileName: found.fileName, shape: found.shape }
    intake.putAway()
  },
)

/** What is being written, while it is: its answer stands beside it. */
const figures = shallowRef<Figures>()
const draft = computed(() =>
  props.open && figures.value ? beginPlan(figures.value, offers.value.machines, offers.value.currency) : undefined,
)
const { answer, soFar, working, end } = useDraftAnswer(draft)

async function begin(figures: Figures): Promise<void> {
  const { machines, currency } = offers.value
  try {
    const { plan, text } = begunYaml(figures, machines, currency)
    await plans.add(plan, text)
    trouble.value = []
    emit('close')
    await goTo('/load')
  } catch (error) {
    const { title, lines } = troubleOf(error)
    trouble.value = [title, ...lines]
  }
}
</script>

<template>
  <BeginSheet
    :open="open"
    :machines="offers.machines"
    :currency="offers.currency"
    :trouble="trouble"
    :of-file="ofFile"
    @files="(files) => emit('files', files)"
    @figures="(f) => (figures = f)"
    @close="emit('close')"
    @begin="begin">
    <template v-if="given" #shape><BeginShape v-bind="given" @own="(own) => (ofFile = own)" /></template>
    <VerdictLine
      :answer="answer"
      :stale="false"
      :stopped="false"
      failure=""
      :so-far="soFar"
      :currency="offers.currency"
      :working="working"
      @stop="end" />
  </BeginSheet>
</template>
