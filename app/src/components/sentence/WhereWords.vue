<script setup lang="ts">
import { offersOf, type Plan, type Service } from '@sandclock/core'
import { computed, ref } from 'vue'
import EditableFigure from './EditableFigure.vue'
import StruckWord from './StruckWord.vue'

/** Where machines may stand and whose they may be, as words that are struck out or not: what is left out, and all when it is asked for. */
const props = defineProps<{ plan: Plan; search: NonNullable<Service['search']>; service: string }>()
const emit = defineEmits<{ change: [search: NonNullable<Service['search']>] }>()

type List = 'regions' | 'zones' | 'providers'
const FIELDS = { regions: 'region', zones: 'zone', providers: 'provider' } as const
const open = ref(false)
const named = (list: List) => [...new Set(offersOf(props.plan).flatMap((m) => m[FIELDS[list]] ?? []))]
const lists = computed(() =>
  (['regions', 'zones', 'providers'] as const)
    .map((list) => ({ list, names: named(list) }))
    .filter(({ list, names }) => names.length > 1 && (open.value || props.search[list])),
)
const isTold = computed(
  () => offersOf(props.plan).some((m) => m.trust !== undefined) && (open.value || props.search.leastTrust !== undefined),
)
const may = (list: List, name: string) => props.search[list]?.includes(name) ?? true

/** One is always left; what leaves out nothing is not stated. */
function toggle(list: List, name: string): void {
  const all = named(list)
  const next = all.filter((n) => (n === name ? !may(list, n) : may(list, n)))
  const { [list]: _, ...rest } = props.search
  if (next.length > 0) emit('change', next.length < all.length ? { ...rest, [list]: next } : rest)
}
function setTrust(least: number): void {
  const { leastTrust: _, ...rest } = props.search
  emit('change', least > 0 ? { ...rest, leastTrust: least } : rest)
}
const LEADS = { regions: 'They may stand in', zones: 'in zone', providers: 'and be rented out by' } as const
</script>

<template>
  <span>
    <template v-for="({ list, names }, l) in lists" :key="list"
      >{{ l > 0 ? ' ' : ''
      }}{{ l === 0 && list !== 'regions' ? `They may ${list === 'zones' ? 'stand in zone' : 'be rented out by'}` : LEADS[list] }}
      <template v-for="(name, i) in names" :key="name"
        ><template v-if="i > 0">{{ i === names.length - 1 ? ' or ' : ', ' }}</template
        ><StruckWord
          :holds="may(list, name)"
          :words="name"
          :label="`${service}: machines ${list === 'providers' ? 'of' : 'in'} ${name}`"
          @toggle="toggle(list, name)" /></template></template
    ><template v-if="isTold"
      >{{ lists.length > 0 ? ', with' : 'Their hosts have' }} a trust of at least
      <EditableFigure
        :value="search.leastTrust ?? 0"
        kind="count"
        :min="0"
        :max="99"
        :label="`Least trust of ${service}`"
        @commit="setTrust" /></template
    ><template v-if="lists.length > 0 || isTold">.{{ ' ' }}</template>
    <button
      type="button"
      class="word font-sans text-[0.78rem]"
      :aria-expanded="open"
      :aria-label="`Where machines of ${service} may stand`"
      @click="open = !open"
      >{{ open ? 'only what is left out' : 'say where they may stand' }}</button
    >
  </span>
</template>
