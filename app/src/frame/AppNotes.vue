<script setup lang="ts">
import RemarkBar from '../components/frame/RemarkBar.vue'
import TroubleNote from '../components/frame/TroubleNote.vue'
import { useHistoryStore } from '../stores/historyStore.ts'
import { useIntakeStore } from '../stores/intakeStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { useMeasureStore } from '../stores/measureStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useRemarkStore } from '../stores/remarkStore.ts'
import { useThrownStore } from '../stores/thrownStore.ts'

/** What went wrong, what is to be said once, and what was just thrown away. */
defineEmits<{ back: [id: string] }>()

const [remarks, thrown] = [useRemarkStore(), useThrownStore()]
const troubles = [usePlanStore(), useIntakeStore(), useLogStore(), useHistoryStore(), useMeasureStore()]
</script>

<template>
  <template v-for="(its, i) in troubles" :key="i">
    <TroubleNote v-if="its.trouble" :title="its.trouble.title" :lines="its.trouble.lines" @close="its.trouble = null" />
  </template>
  <RemarkBar v-if="remarks.words" @close="remarks.words = ''">{{ remarks.words }}</RemarkBar>
  <RemarkBar v-if="thrown.last" @close="thrown.last = null">
    “{{ thrown.last.name }}” was thrown away.
    <button type="button" class="word" @click="$emit('back', thrown.last.id)">have it back</button>
  </RemarkBar>
</template>
