<script setup lang="ts">
import { shortFleetWords } from '@sandclock/core'

type Item = Parameters<typeof shortFleetWords>[0] & { services: readonly string[] }

/** Machines to rent as one list in prose; where it is told, each with the services that it is for. */
defineProps<{ items: readonly Item[]; told: boolean }>()
const before = (i: number, of: number) => (i === 0 ? '' : i === of - 1 ? ' and ' : ', ')
</script>

<template>
  <template v-for="(item, i) in items" :key="i"
    >{{ before(i, items.length) }}<strong class="font-semibold">{{ shortFleetWords(item) }}</strong
    ><span v-if="told" class="text-base text-faded"> ({{ item.services.join(', ') }})</span></template
  >
</template>
