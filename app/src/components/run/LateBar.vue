<script setup lang="ts">
import { percent, type LateSums } from '@sandclock/core'
import { computed } from 'vue'

/** Where the time of late requests went, as one bar to scale. */
const props = defineProps<{ late: LateSums }>()

const parts = computed(() => {
  const { machineSeconds, startUpSeconds, queueSeconds, othersSeconds, ownSeconds } = props.late
  const all = machineSeconds + startUpSeconds + queueSeconds + othersSeconds + ownSeconds
  const named = [
    { name: 'waiting for a machine', seconds: machineSeconds, look: 'part-machine' },
    { name: 'waiting for start-up', seconds: startUpSeconds, look: 'part-start' },
    { name: 'in the queue', seconds: queueSeconds, look: 'part-queue' },
    { name: 'held up by others', seconds: othersSeconds, look: 'part-others' },
    { name: 'own work', seconds: ownSeconds, look: 'part-own' },
  ]
  return named.map((p) => ({ ...p, share: all === 0 ? 0 : p.seconds / all })).filter((p) => p.share > 0)
})
</script>

<template>
  <div>
    <div class="mt-1 flex h-5 w-full overflow-hidden rounded-[3px]" aria-hidden="true">
      <div v-for="p in parts" :key="p.name" :class="p.look" :style="{ width: `${p.share * 100}%` }" />
    </div>
    <ul class="mt-1 flex flex-wrap gap-x-6 text-[0.86rem] text-faded">
      <li v-for="p in parts" :key="p.name" class="flex items-center gap-2">
        <span class="inline-block h-3 w-5 rounded-[2px]" :class="p.look" />{{ p.name }} {{ percent(p.share) }}
      </li>
    </ul>
  </div>
</template>

<style scoped>
/* Texture as well as colour, so that the parts can be told apart without it. */
.part-machine {
  background: repeating-linear-gradient(45deg, var(--color-rust) 0 2px, transparent 2px 5px);
}
.part-start {
  background: repeating-linear-gradient(135deg, var(--color-faded) 0 2px, transparent 2px 6px);
}
.part-queue {
  background: var(--color-sand);
}
.part-others {
  background: repeating-linear-gradient(90deg, var(--color-sand) 0 3px, var(--color-water) 3px 6px);
}
.part-own {
  background: var(--color-water);
}
</style>
