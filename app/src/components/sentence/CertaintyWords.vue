<script setup lang="ts">
import { doubtOf, type Plan } from '@sandclock/core'
import { computed } from 'vue'
import type { Edit } from '../../edits/edits.ts'
import EditableFigure from './EditableFigure.vue'

/** In how many worlds an answer has to hold, and by how much what is stated is off in them. */
const props = defineProps<{ plan: Plan }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const USUAL = 0.9
const DOUBTS = [
  { key: 'derived', words: 'of derived step costs' },
  { key: 'typed', words: 'of typed ones and load tests' },
  { key: 'startUp', words: 'of a start-up' },
  { key: 'load', words: 'of the load' },
] as const
const doubt = computed(() => doubtOf(props.plan))
const ask = (certainty: number) => emit('edit', (plan) => ({ ...plan, certainty }))
const askNoMore = () => emit('edit', ({ certainty: _, ...plan }) => plan)
const setDoubt = (key: keyof typeof doubt.value, share: number) =>
  emit('edit', (plan) => ({ ...plan, doubt: { ...plan.doubt, [key]: share } }))
</script>

<template>
  <p>
    An answer has to hold in the plan as it stands<template v-if="plan.certainty !== undefined">
      and in
      <EditableFigure :value="plan.certainty" kind="percent" :min="0.5" :max="0.99" label="Certainty" @commit="ask" />
      of the worlds around it (<button type="button" class="word font-sans text-[0.78rem]" @click="askNoMore">take out</button>)</template
    ><template v-else>
      (<button type="button" class="word font-sans text-[0.78rem]" @click="ask(USUAL)">and in most of the worlds around it</button
      >)</template
    >. In 95 of 100 worlds what is stated is off by at most
    <template v-for="(d, i) in DOUBTS" :key="d.key"
      ><template v-if="i > 0">{{ i === DOUBTS.length - 1 ? ' and ' : ', ' }}</template
      ><EditableFigure
        :value="doubt[d.key]"
        kind="percent"
        :min="0"
        :max="1"
        :label="`Doubt ${d.words}`"
        @commit="(share) => setDoubt(d.key, share)" />
      {{ d.words }}</template
    >.
  </p>
</template>
