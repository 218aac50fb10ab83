<script setup lang="ts">
import VerdictLine from '../components/frame/VerdictLine.vue'
import { useSettling } from '../composables/useSettling.ts'
import { useAnswerStore } from '../stores/answerStore.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** The verdict on the open plan, which is kept in step with it. */
const [plans, answers] = [usePlanStore(), useAnswerStore()]
const { settle, moveSearch } = useSettling()
</script>

<template>
  <VerdictLine
    :answer="answers.answer"
    :stale="answers.stale"
    :stopped="answers.stopped"
    :failure="answers.failure"
    :so-far="answers.soFar"
    :currency="plans.plan.currency"
    :working="answers.working"
    :threads="answers.threads"
    :on-server="answers.onServer"
    @move="moveSearch"
    @stop="answers.stop"
    @again="settle(true)" />
</template>
