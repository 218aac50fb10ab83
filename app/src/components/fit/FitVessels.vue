<script setup lang="ts">
import { bytes, duration, threeDigits, type FitRow } from '@sandclock/core'
import { computed, ref } from 'vue'
import EditableFigure from '../sentence/EditableFigure.vue'
import { useGradually } from '../../composables/useGradually.ts'

/**
 * One row for each machine, variant and device count: its memory as a vessel lying on its side, filled with weights, activations, reserve and room for the cache; beside it how fast one replica is and at what price.
 */
const props = defineProps<{ rows: readonly FitRow[]; currency: string; allowed: readonly string[]; chosen: string }>()
const emit = defineEmits<{ allow: [machine: string, allowed: boolean]; machine: [name: string, patch: { pricePerHour?: number; stock?: number }] }>()

type Order = 'as listed' | 'price' | 'speed for the money' | 'time of a token'
const ORDERS: readonly Order[] = ['as listed', 'price', 'speed for the money', 'time of a token']
const order = ref<Order>('as listed')
const onlyFitting = ref(false)

/** Every vessel is as long, so that fullness can be compared down the column; the rest is for what runs over. */
const VESSEL_PERCENT = 78
const keyOf = (r: FitRow) => `${r.machine} ${r.variant} ${r.devices}`

const rate = (r: FitRow) => (r.speed === null ? 0 : r.speed.kind === 'token' ? r.speed.tokensPerSecond : r.speed.requestsPerSecond)
const perReplicaHour = (r: FitRow) => r.pricePerHour / r.perMachine
/** tokens, or requests, for one unit of money */
const forMoney = (r: FitRow) => (rate(r) * 3600) / perReplicaHour(r)
const alone = (r: FitRow) => (r.speed === null ? Infinity : r.speed.kind === 'token' ? r.speed.aloneSecondsPerToken : r.speed.aloneSeconds)

const sorted = computed(() => {
  const list = props.rows.filter((r) => !onlyFitting.value || r.reason === null)
  if (order.value === 'price') return list.sort((a, b) => perReplicaHour(a) - perReplicaHour(b))
  if (order.value === 'speed for the money') return list.sort((a, b) => forMoney(b) - forMoney(a))
  if (order.value === 'time of a token') return list.sort((a, b) => alone(a) - alone(b))
  return list
})

const ROWS_A_FRAME = 8
const shown = useGradually(sorted, ROWS_A_FRAME)

interface Part {
  name: string
  bytes: number
  fill: string
}

function parts(r: FitRow): Part[] {
  const m = r.memory
  if (!m) return []
  const used = r.speed?.kind === 'token' ? Math.min(m.cacheBytes, r.speed.sequences * r.speed.meanTokens * m.cacheBytesPerToken) : 0
  return [
    { name: 'weights', bytes: m.weightBytes, fill: 'weights' },
    { name: 'activations and reserve', bytes: m.activationBytes + m.reserveBytes, fill: 'reserve' },
    { name: 'cache in use at full', bytes: Math.max(0, used), fill: 'cache' },
    { name: 'cache to spare', bytes: Math.max(0, m.cacheBytes - used), fill: 'spare' },
    { name: 'withheld from the server', bytes: m.withheldBytes, fill: 'withheld' },
  ].filter((p) => p.bytes > 0)
}

/** How long the vessel would have to be for weights that are too large; 0 when they are not. */
function overflow(r: FitRow): number {
  const m = r.memory
  return m && m.weightBytes > m.totalBytes ? Math.min(100, (VESSEL_PERCENT * m.weightBytes) / m.totalBytes) : 0
}

/** Weights that do not fit run over the vessel's end; the picture cuts them there. */
const share = (r: FitRow, part: Part) => Math.min(100, (100 * part.bytes) / (r.memory?.totalBytes ?? 1))
</script>

<template>
  <div>
    <p class="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[0.86rem]">
      <span v-for="[fill, name] in [['weights', 'weights'], ['reserve', 'activations and reserve'], ['cache', 'cache in use at full'], ['spare', 'cache to spare'], ['withheld', 'withheld']]" :key="fill" class="inline-flex items-center gap-1.5">
        <span aria-hidden="true" class="inline-block h-3 w-5" :class="`part-${fill}`" />{{ name }}
      </span>
      <label class="ml-auto">in order of
        <select v-model="order" class="changeable w-auto"><option v-for="o in ORDERS" :key="o">{{ o }}</option></select>
      </label>
      <label><input v-model="onlyFitting" type="checkbox" class="accent-(--water)" /> only what fits</label>
    </p>
    <div class="max-h-[30rem] overflow-auto" tabindex="0" role="region" aria-label="What fits where">
      <table class="exact">
        <thead class="sticky top-0 z-10 bg-paper">
          <tr>
            <th scope="col">machine</th><th scope="col">variant</th><th scope="col" class="w-[36%]">memory of one replica</th>
            <th scope="col" class="number">side by side</th><th scope="col" class="number">token alone</th><th scope="col" class="number">when full</th><th scope="col" class="number">a second</th><th scope="col" class="number">machine-hour</th><th scope="col" class="number">stock</th><th scope="col">search</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in shown" :key="keyOf(r)" :class="[r.reason ? 'text-faded' : '', keyOf(r) === chosen ? 'bg-sand-soft/40' : '']" :aria-current="keyOf(r) === chosen ? 'true' : undefined">
            <td class="whitespace-nowrap">{{ r.machine }}</td>
            <td class="whitespace-nowrap">{{ r.variant }}<span v-if="r.devices > 1"> on {{ r.devices }}</span></td>
            <td>
              <div v-if="r.memory" class="relative">
                <span v-if="overflow(r) > 0" aria-hidden="true" class="over" :style="{ width: `${overflow(r)}%` }" />
                <div class="vessel" :style="{ width: `${VESSEL_PERCENT}%` }" :title="parts(r).map((p) => `${p.name} ${bytes(p.bytes)}`).join(', ')">
                <span v-for="p in parts(r)" :key="p.name" :class="`part-${p.fill}`" :style="{ width: `${share(r, p)}%` }" />
                </div>
              </div>
              <span v-if="r.reason" class="text-[0.8rem] text-rust">{{ r.reason }}</span>
              <span v-else-if="r.memory" class="text-[0.78rem] text-faded"><strong v-if="keyOf(r) === chosen" class="text-sand">chosen: </strong>{{ bytes(r.memory.totalBytes) }}, weights {{ bytes(r.memory.weightBytes) }}, cache {{ bytes(r.memory.cacheBytes) }}</span>
              <span v-else class="text-[0.78rem] text-faded"><strong v-if="keyOf(r) === chosen" class="text-sand">chosen: </strong>given coefficients, no memory split</span>
            </td>
            <template v-if="r.speed?.kind === 'token'">
              <td class="number">{{ r.speed.sequencesThatFit }}</td>
              <td class="number">{{ duration(r.speed.aloneSecondsPerToken) }}</td>
              <td class="number">{{ duration(r.speed.fullSecondsPerToken) }}</td>
              <td class="number">{{ threeDigits(r.speed.tokensPerSecond) }} tokens</td>
            </template>
            <template v-else-if="r.speed">
              <td class="number">{{ r.speed.batch }}</td>
              <td class="number">{{ duration(r.speed.aloneSeconds) }}</td>
              <td class="number">{{ duration(r.speed.fullBatchSeconds) }}</td>
              <td class="number">{{ threeDigits(r.speed.requestsPerSecond) }} requests</td>
            </template>
            <template v-else><td v-for="n in 4" :key="n" class="number">–</td></template>
            <td class="number"><EditableFigure :value="r.pricePerHour" kind="number" :min="0" :label="`Price of ${r.machine} an hour, ${currency}`" @commit="(pricePerHour) => emit('machine', r.machine, { pricePerHour })" /> {{ currency }}</td>
            <td class="number"><EditableFigure :value="r.stock" kind="count" :min="0" :label="`Stock of ${r.machine}`" @commit="(stock) => emit('machine', r.machine, { stock })" /></td>
            <td><input type="checkbox" class="accent-(--water)" :checked="allowed.includes(r.machine)" :aria-label="`Let the search use ${r.machine}`" @change="emit('allow', r.machine, ($event.target as HTMLInputElement).checked)" /></td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.over {
  position: absolute;
  inset: 0 auto 0 0;
  border: 1.2px dashed var(--rust);
  border-left: 0;
}
.vessel {
  position: relative;
  display: flex;
  height: 17px;
  overflow: hidden;
  border: 1.2px solid var(--ink);
  border-radius: 0 8px 8px 0;
  background: var(--leaf);
}
.vessel > span {
  flex: none;
}
.part-weights {
  background: var(--water);
}
.part-reserve {
  background: repeating-linear-gradient(90deg, var(--faded) 0 1px, var(--leaf) 1px 4px);
}
.part-cache {
  background: var(--sand);
}
.part-spare {
  background: radial-gradient(var(--sand) 22%, transparent 24%) 0 0 / 5px 5px var(--leaf);
}
.part-withheld {
  background: repeating-linear-gradient(45deg, var(--rule) 0 2px, var(--leaf) 2px 6px);
}
</style>
