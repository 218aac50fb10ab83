<script setup lang="ts">
import type { Configuration, Service } from '@sandclock/core'
import EditableFigure from './EditableFigure.vue'

/** What a service that searches nothing is run as; its figures are changed in place. */
const props = defineProps<{ service: Service; configuration: Configuration }>()
const emit = defineEmits<{ change: [patch: Partial<Service>] }>()
const state = (patch: Partial<Configuration>) => emit('change', { configuration: { ...props.configuration, ...patch } })
</script>

<template>
  <span
    >, as stated: <template v-if="configuration.policy">as many replicas as “{{ configuration.policy }}” asks for</template
    ><template v-else
      ><EditableFigure
        :value="configuration.replicas"
        kind="count"
        :min="1"
        :max="2000"
        :label="`Replicas of ${service.name}`"
        @commit="(replicas) => state({ replicas })" />
      {{ configuration.replicas === 1 ? 'replica' : 'replicas' }}</template
    ><template v-if="configuration.machine"> on {{ configuration.machine }}, {{ configuration.variant }}</template
    ><template v-else-if="configuration.profile"> with given step costs</template>, each with
    <EditableFigure
      :value="configuration.sequences"
      kind="count"
      :min="1"
      :max="4096"
      :label="`Side by side in a replica of ${service.name}`"
      @commit="(sequences) => state({ sequences })" />
    side by side</span
  >
</template>
