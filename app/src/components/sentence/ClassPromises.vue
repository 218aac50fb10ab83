<script setup lang="ts">
import { bytes, type RequestClass } from '@sandclock/core'
import { computed } from 'vue'
import { editClass, setWay, type Edit } from '../../edits/edits.ts'
import EditableFigure from './EditableFigure.vue'
import TargetWords from './TargetWords.vue'

/** What a class is promised, as sentences of their own, or following its name. */
const props = defineProps<{ requestClass: RequestClass; subject: 'It' | '' }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

/** What is sent over the way, where it takes time. */
const bytesWords = computed(() => {
  const { bytesPerSecond, requestBytes = 0, answerBytes = 0 } = props.requestClass.way ?? {}
  return bytesPerSecond === undefined
    ? ''
    : `, send ${bytes(requestBytes)} and get ${bytes(answerBytes)} back at ${bytes(bytesPerSecond)}/s`
})
function setPatience(patienceSeconds: number): void {
  emit(
    'edit',
    editClass(props.requestClass.name, (c) => ({ ...c, patienceSeconds })),
  )
}
</script>

<template>
  <span>
    <template v-if="requestClass.targets.length > 0">
      {{ subject }} is promised{{ ' '
      }}<template v-for="(target, i) in requestClass.targets" :key="i"
        >{{ i === 0 ? '' : i === requestClass.targets.length - 1 ? ' and ' : ', '
        }}<TargetWords :class-name="requestClass.name" :index="i" :target="target" @edit="(e) => emit('edit', e)" /></template
      >.
    </template>
    <template v-else>{{ subject }} is promised nothing.</template>
    <template v-if="requestClass.patienceSeconds !== undefined">
      {{ ' ' }}Callers leave after
      <EditableFigure
        :value="requestClass.patienceSeconds"
        kind="duration"
        :min="0.1"
        :label="`Patience of ${requestClass.name}`"
        @commit="setPatience" />.
    </template>
    <template v-if="requestClass.way">
      {{ ' ' }}Callers are
      <EditableFigure
        :value="requestClass.way.seconds"
        kind="duration"
        :min="0"
        :label="`How far callers of ${requestClass.name} are`"
        @commit="(seconds) => emit('edit', setWay(requestClass.name, { ...requestClass.way, seconds }))" />
      away{{ bytesWords }}
      <span class="font-sans text-[0.82rem]"
        >(<button
          type="button"
          class="word"
          :aria-label="`Say no more how far callers of ${requestClass.name} are`"
          @click="emit('edit', setWay(requestClass.name, undefined))"
          >say no more how far</button
        >)</span
      >.
    </template>
  </span>
</template>
