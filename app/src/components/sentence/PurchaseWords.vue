<script setup lang="ts">
import { PURCHASES, waysOf, type PurchaseKind, type Service } from '@sandclock/core'
import { computed } from 'vue'
import { useFigure } from '../../composables/useFigure.ts'
import StruckWord from './StruckWord.vue'

/** Which ways of paying the search tries for a service, as words that are struck out or not. */
const props = defineProps<{ search: NonNullable<Service['search']>; service: string }>()
const emit = defineEmits<{ change: [purchases: NonNullable<Service['search']>['purchases']] }>()

const KINDS = waysOf(PURCHASES)
const tried = computed<readonly PurchaseKind[]>(() => props.search.purchases ?? ['on-demand'])
const words = computed(() =>
  KINDS.map((kind) => ({
    kind,
    on: tried.value.includes(kind),
    words: PURCHASES[kind].safeShare === 'stated' && props.search.safeShares ? 'some safe, the rest on spot' : PURCHASES[kind].picked,
  })),
)

// The last one can not be struck out, but it stands where all of them do.
useFigure(() => emit('change', tried.value.length < KINDS.length ? KINDS : KINDS.slice(1)))

/** One way is always left. */
function toggle(kind: PurchaseKind): void {
  const next = KINDS.filter((k) => (k === kind ? !tried.value.includes(k) : tried.value.includes(k)))
  if (next.length > 0) emit('change', next)
}
</script>

<template>
  <span
    >Its machines may be paid
    <template v-for="(w, i) in words" :key="w.kind"
      ><template v-if="i > 0">{{ i === words.length - 1 ? ' or ' : ', ' }}</template
      ><StruckWord :holds="w.on" :words="w.words" :label="`${service} may be paid ${w.words}`" @toggle="toggle(w.kind)" /></template
    >.</span
  >
</template>
