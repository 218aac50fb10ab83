<script setup lang="ts">
import { HOURS_PER_MONTH, price, type Commitment } from '@sandclock/core'
import { computed } from 'vue'

/** What committing to some of the machines would save, in words. */
const props = defineProps<{ commitment: Commitment; groupMachines: number; machine: string; currency: string }>()
const month = (perHour: number) => price(perHour * HOURS_PER_MONTH, props.currency)
const saved = computed(() => props.commitment.onDemandPerHour - props.commitment.perHour)
</script>

<template>
  <p class="mt-1 text-[0.92rem]">
    <template v-if="commitment.committed > 0">
      Committed to <strong>{{ commitment.committed * groupMachines }} × {{ machine }}</strong>, paid always, with the rest on demand, it would be {{ month(commitment.perHour) }} a month: {{ month(saved) }} less<template v-if="commitment.unusedPerHour > 1e-9">, {{ month(commitment.unusedPerHour) }} of it for machines that are not used</template>.
      <span class="text-faded">The best number for this week; billing steps are not counted.</span>
    </template>
    <template v-else>Committing to none of these machines is cheapest: none is there often enough.</template>
  </p>
</template>
