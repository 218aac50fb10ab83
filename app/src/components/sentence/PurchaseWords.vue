<script setup lang="ts">
import { PURCHASES, waysOf, type PurchaseKind, type Service } from '@sandclock/core'
import { computed } from 'vue'

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
      ><button
        type="button"
        class="changeable"
        :class="w.on ? '' : 'text-faded line-through'"
        :aria-pressed="w.on"
        :aria-label="`${service} may be paid ${w.words}`"
        @click="toggle(w.kind)"
        >{{ w.words }}</button
      ></template
    >.</span
  >
</template>
