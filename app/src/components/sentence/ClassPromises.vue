<script setup lang="ts">
import type { RequestClass } from '@sandclock/core'
import { editClass, type Edit } from '../../edits/edits.ts'
import EditableFigure from './EditableFigure.vue'
import TargetWords from './TargetWords.vue'

/** What a class is promised, as sentences of their own, or following its name. */
const props = defineProps<{ requestClass: RequestClass; subject: 'It' | '' }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

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
  </span>
</template>
