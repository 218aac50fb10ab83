<script setup lang="ts">
import { bare, bytes, duration, WEIGHTS_FROM, type Plan, type Service } from '@sandclock/core'
import { computed } from 'vue'
import { copyService, editService, removeService, renameService, type Edit } from '../../edits/edits.ts'
import EditableFigure from './EditableFigure.vue'
import EditableName from './EditableName.vue'
import { SERVICE_PARTS, type ServicePart } from './passages.ts'
import ServiceRuns from './ServiceRuns.vue'
import ServiceScales from './ServiceScales.vue'

/** How one service is run, as prose. */
const { parts = SERVICE_PARTS, ...props } = defineProps<{ plan: Plan; service: Service; parts?: readonly ServicePart[] }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()
const change = (patch: Partial<Service>) =>
  emit(
    'edit',
    editService(props.service.name, (s) => ({ ...s, ...patch })),
  )
/** The stages in figures; each is pulled and typed in its picture. */
const stages = computed(() => {
  const { start } = props.service
  if (!start) return ''
  return [
    `a machine in ${bare(duration(start.machineSeconds ?? 0))}`,
    `an image of ${bytes(start.imageBytes)}`,
    WEIGHTS_FROM[start.weights.from].words,
    `${bare(duration(start.warmupSeconds))} of warm-up${start.keptWarmupSeconds ? `, and ${bare(duration(start.keptWarmupSeconds))} once on each machine` : ''}`,
  ].join(', ')
})
const isScalesAlone = computed(() => parts.length === 1 && parts[0] === 'scales')
</script>

<template>
  <p>
    <EditableName
      :value="service.name"
      :taken="plan.services.map((s) => s.name)"
      label="Service"
      @commit="(to) => emit('edit', renameService(service.name, to))" />{{ isScalesAlone ? ': ' : ' ' }}
    <ServiceRuns v-if="parts.includes('runs')" :plan="plan" :service="service" @edit="(e) => emit('edit', e)" />{{ ' ' }}
    <template v-if="parts.includes('starts')"
      >{{ parts.includes('runs') ? 'It ' : '' }}<template v-if="service.start">starts up by stages: {{ stages }}</template
      ><template v-else
        >is ready
        <EditableFigure
          :value="service.startupSeconds ?? 0"
          kind="duration"
          :min="0"
          :label="`Start-up of ${service.name}`"
          @commit="(startupSeconds) => change({ startupSeconds })" />
        after the start</template
      >.{{ ' ' }}</template
    ><ServiceScales v-if="parts.includes('scales')" :plan="plan" :service="service" :alone="isScalesAlone" @edit="(e) => emit('edit', e)" />
    <span v-if="parts.length === SERVICE_PARTS.length" class="font-sans text-[0.82rem]">
      {{ ' '
      }}<button
        type="button"
        class="word"
        :aria-label="`Add a service like ${service.name}`"
        @click="emit('edit', copyService(service.name))"
        >a service like it</button
      ><template v-if="plan.services.length > 1"
        >, or
        <button
          type="button"
          class="word"
          :aria-label="`Take ${service.name} out, with its classes`"
          @click="emit('edit', removeService(service.name))"
          >take it out with its classes</button
        ></template
      >
    </span>
  </p>
</template>
