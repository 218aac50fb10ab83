<script setup lang="ts">
import { HOURS_PER_MONTH, percent, price, type Ledger } from '@sandclock/core'
import { computed } from 'vue'

/** Where a month's money goes, as one bar to scale. */
const props = defineProps<{ ledger: Ledger; horizonSeconds: number; currency: string }>()

const month = (amount: number) => (amount / (props.horizonSeconds / 3600)) * HOURS_PER_MONTH
const parts = computed(() => {
  const { serving, idle, starting, leaving, rounding, unused, storage, transfer, total } = props.ledger
  const named = [
    { name: 'serving', amount: serving, look: 'part-serving' }, { name: 'ready and idle', amount: idle, look: 'part-idle' }, { name: 'starting up', amount: starting, look: 'part-starting' },
    { name: 'empty until given back', amount: leaving, look: 'part-leaving' }, { name: 'billing steps', amount: rounding, look: 'part-rounding' },
    { name: 'committed, not used', amount: unused, look: 'part-unused' }, { name: 'disks', amount: storage, look: 'part-storage' }, { name: 'transfer of starts', amount: transfer, look: 'part-transfer' },
  ]
  return named.filter((p) => p.amount > total * 5e-4).map((p) => ({ ...p, share: p.amount / total }))
})
</script>

<template>
  <div>
    <div class="mt-1 flex h-6 w-full overflow-hidden rounded-[3px]" aria-hidden="true"><div v-for="p in parts" :key="p.name" :class="p.look" :style="{ width: `${p.share * 100}%` }" /></div>
    <ul class="mt-1 flex flex-wrap gap-x-6 text-[0.88rem]">
      <li v-for="p in parts" :key="p.name" class="flex items-center gap-2"><span class="inline-block h-3 w-5 rounded-[2px]" :class="p.look" />{{ p.name }} {{ price(month(p.amount), currency) }} <span class="text-faded">{{ percent(p.share) }}</span></li>
    </ul>
  </div>
</template>

<style scoped>
/* Texture as well as colour, so that the parts can be told apart without it. */
.part-serving { background: var(--color-water); }
.part-idle { background: var(--color-sand-soft); }
.part-starting { background: repeating-linear-gradient(135deg, var(--color-faded) 0 2px, transparent 2px 6px); }
.part-leaving { background: repeating-linear-gradient(90deg, var(--color-moss) 0 2px, transparent 2px 5px); }
.part-rounding { background: repeating-linear-gradient(45deg, var(--color-rust) 0 2px, transparent 2px 5px); }
.part-unused { background: repeating-linear-gradient(0deg, var(--color-rust) 0 2px, transparent 2px 5px); }
.part-storage { background: repeating-linear-gradient(90deg, var(--color-faded) 0 1px, transparent 1px 4px); }
.part-transfer { background: repeating-linear-gradient(135deg, var(--color-water) 0 2px, transparent 2px 5px); }
</style>
