<script setup lang="ts">
import { capital, estimatedTokens, FINDS, waySeconds, proofWords, type OneAsked, type Service } from '@sandclock/core'
import { computed, ref, watch } from 'vue'
import OneLaid from '../components/one/OneLaid.vue'
import EstimatePart from '../components/one/EstimatePart.vue'
import Stopwatch from '../components/one/Stopwatch.vue'
import OneRow from '../components/one/OneRow.vue'
import EditableFigure from '../components/sentence/EditableFigure.vue'
import { MOST_ROWS, useOneStore } from '../stores/oneStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

/** One request, before any week of load: laid out along the clock and along money, up to four beside each other. */
const [plans, ones, views] = [usePlanStore(), useOneStore(), useViewStore()]

const props = defineProps<{ service: Service; rows: readonly OneAsked[] }>()
watch([() => props.rows, () => views.generation], () => void ones.layOut(props.rows), { immediate: true })

const LETTERS = 'ABCD'
const laid = computed(() =>
  props.rows.flatMap((_, i) => {
    const result = ones.results[i]
    return result && 'one' in result ? [{ letter: LETTERS[i], one: result.one }] : []
  }),
)
const troubles = computed(() =>
  props.rows.flatMap((_, i) => {
    const result = ones.results[i]
    return result && 'message' in result ? [{ letter: LETTERS[i], message: result.message.replaceAll(/\n\s*/g, ' ') }] : []
  }),
)
const set = (list: readonly OneAsked[]) => ones.set(props.service.name, list)
const setAll = (patch: Partial<OneAsked>) => set(props.rows.map((r) => ({ ...r, ...patch })))
const setRow = (index: number, patch: Partial<OneAsked>) => set(props.rows.map((r, i) => (i === index ? { ...r, ...patch } : r)))

const isTokens = computed(() => laid.value[0]?.one.isTokens ?? true)
const currency = computed(() => plans.plan.currency)

const firstPlace = computed(() => {
  const { machine, variant, devices } = props.rows[0]
  return `${machine}, ${variant}, on ${devices} ${devices === 1 ? 'device' : 'devices'}`
})

/** What readings of real tries prove of the first of them. */
const proved = computed(() =>
  ones.proof ? proofWords(ones.proof, currency.value).map(capital) : ones.proofTrouble === '' ? [] : [ones.proofTrouble],
)
watch([() => ones.read, () => props.rows, () => views.generation], () => void ones.prove(props.rows[0]))

watch([() => ones.mine, () => props.rows, () => views.generation], () => void ones.check(props.rows[0]), { immediate: true })

/** A prompt that is typed or pasted, of which the tokens are estimated. */
const text = ref('')
const estimate = computed(() => (text.value.trim() === '' ? undefined : estimatedTokens(text.value)))
</script>

<template>
  <div>
    <p class="font-serif text-[1.12rem] leading-[1.75]">
      One request to {{ service.name }}: {{ isTokens ? 'a prompt of' : 'work of' }}
      <EditableFigure
        :value="rows[0].input"
        kind="count"
        :min="1"
        :max="10000000"
        :label="isTokens ? 'Tokens of this prompt' : 'Work of this request'"
        @commit="(input) => setAll({ input })" />
      <template v-if="isTokens">
        tokens, an answer of
        <EditableFigure
          :value="rows[0].output"
          kind="count"
          :min="1"
          :max="1000000"
          label="Tokens of this answer"
          @commit="(output) => setAll({ output })" />
      </template>
      <template v-else> units</template>; afterwards the machine is kept for
      <EditableFigure
        :value="rows[0].keptSeconds"
        kind="duration"
        :min="0"
        label="How long the machine is kept"
        @commit="(keptSeconds) => setAll({ keptSeconds })" />. Its caller is
      <EditableFigure
        :value="rows[0].way?.there ?? 0"
        kind="duration"
        :min="0"
        label="How far the caller is"
        @commit="(seconds) => setAll({ way: waySeconds({ way: { seconds } }) })" />
      away.
    </p>
    <details v-if="isTokens" class="py-1 text-[0.9rem]">
      <summary class="cursor-pointer py-1 text-water">Type or paste the prompt itself</summary>
      <textarea v-model="text" rows="3" class="mt-1 w-full max-w-[50rem] border border-rule bg-leaf p-2" aria-label="The prompt itself" />
      <p v-if="estimate !== undefined">
        {{ estimate }} tokens, an estimate by its letters: the model’s own vocabulary may make it others.
        <button type="button" class="word" @click="setAll({ input: estimate })">take {{ estimate }}</button>
      </p>
    </details>
    <ol class="mb-2 mt-1 text-[0.95rem]">
      <OneRow
        v-for="(asked, i) in rows"
        :key="i"
        :letter="LETTERS[i]"
        :asked="asked"
        :plan="plans.plan"
        :service="service"
        :can-go="rows.length > 1"
        @change="(patch) => setRow(i, patch)"
        @remove="set(rows.filter((_, k) => k !== i))" />
    </ol>
    <p v-if="rows.length < MOST_ROWS" class="text-[0.9rem]"
      ><button type="button" class="word" @click="set([...rows, rows[rows.length - 1]])">lay another beside</button></p
    >
    <p v-for="t in troubles" :key="t.letter" role="alert" class="text-[0.92rem] text-rust">{{ t.letter }}: {{ t.message }}</p>
    <OneLaid v-if="laid.length > 0" :laid="laid">
      <Stopwatch
        v-if="isTokens"
        :read="ones.read"
        :place="`${firstPlace}, that finds a ready replica`"
        :working="ones.proving"
        :words="proved"
        :left="ones.proof?.capacity?.values ?? []"
        @read="(read) => (ones.read = read)" />
      <EstimatePart
        :place="`the first: ${firstPlace}, that finds ${FINDS[rows[0].finds].words}`"
        :mine="ones.mine"
        :words="ones.mineWords"
        @set="(what, value) => (ones.mine = { ...ones.mine, [what]: value })" />
    </OneLaid>
  </div>
</template>
