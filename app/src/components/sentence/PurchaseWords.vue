<script setup lang="ts">
import { PURCHASES, type Service } from '@sandclock/core'
import { computed } from 'vue'

/** Which ways of paying the search tries for a service, as words that are struck out or not. */
const props = defineProps<{ search: NonNullable<Service['search']>; service: string }>()
const emit = defineEmits<{ change: [purchases: NonNullable<Service['search']>['purchases']] }>()

type Kind = (typeof PURCHASES)[number]
const WORDS: Record<Kind, string> = { 'on-demand': 'on demand', committed: 'committed', spot: 'on spot', mixed: 'half safe, half on spot', 'per-request': 'by the call' }
const tried = computed<readonly Kind[]>(() => props.search.purchases ?? ['on-demand'])
const words = computed(() => PURCHASES.map((kind) => ({ kind, on: tried.value.includes(kind), words: kind === 'mixed' && props.search.safeShares ? 'some safe, the rest on spot' : WORDS[kind] })))

/** One way is always left. */
function toggle(kind: Kind): void {
  const next = PURCHASES.filter((k) => (k === kind ? !tried.value.includes(k) : tried.value.includes(k)))
  if (next.length > 0) emit('change', next)
}
</script>

<template>
  <span>Its machines may be paid <template v-for="(w, i) in words" :key="w.kind"><template v-if="i > 0">{{ i === words.length - 1 ? ' or ' : ', ' }}</template><button type="button" class="changeable" :class="w.on ? '' : 'text-faded line-through'" :aria-pressed="w.on" :aria-label="`${service} may be paid ${w.words}`" @click="toggle(w.kind)">{{ w.words }}</button></template>.</span>
</template>
