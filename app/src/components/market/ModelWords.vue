<script setup lang="ts">
import { bare, bytes, compareQuality, percent, threeDigits, wilson, type Model, type Variant } from '@sandclock/core'
import { computed } from 'vue'
import { copyVariant, editModel, editVariant, removeVariant, renameModel } from '../../edits/marketEdits.ts'
import type { Edit } from '../../edits/edits.ts'
import EditableName from '../sentence/EditableName.vue'
import EditableQuantity from '../sentence/EditableQuantity.vue'
import QualityMark from './QualityMark.vue'

/** One model in prose, and its variants line by line: bits, file, score with its interval, licence. */
const props = defineProps<{ model: Model; usedBy: readonly string[]; taken: readonly string[] }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const KINDS: Record<Model['kind'], string> = {
  dense: 'dense',
  experts: 'a mixture of experts',
  work: 'fixed work',
  iterative: 'in steps',
  cpu: 'on plain cores',
  given: 'with coefficients of its own',
}
const tokens = computed(() => (props.model.kind === 'dense' || props.model.kind === 'experts' ? props.model : null))
const operations = computed(() => (props.model.kind === 'work' || props.model.kind === 'iterative' ? props.model : null))
const cores = computed(() => (props.model.kind === 'cpu' ? props.model : null))
const derived = computed(() => props.model.kind !== 'cpu' && props.model.kind !== 'given')

/** Sets a field, or leaves it out. */
function withField<T extends object>(object: T, key: string, value: unknown): T {
  const next = { ...object, [key]: value }
  if (value === undefined) delete next[key as keyof T]
  return next
}
const set = (key: string, value: number | undefined) =>
  emit(
    'edit',
    editModel(props.model.name, (m) => withField(m, key, value)),
  )
const setVariant = (v: Variant, change: (v: Variant) => Variant) => emit('edit', editVariant(props.model.name, v.name, change))
const put = (v: Variant, key: keyof Variant, value: unknown) => setVariant(v, (x) => withField(x, key, value))
const putQuality = (v: Variant, patch: { score?: number; samples?: number }) =>
  setVariant(v, (x) => ({ ...x, quality: { score: 0.5, samples: 100, ...x.quality, ...patch } }))

/** The first variant is what others are judged against. */
const reference = computed(() => props.model.variants[0])
function qualityWords(v: Variant): string {
  if (!v.quality) return 'not judged'
  const { low, high } = wilson(v.quality.score, v.quality.samples)
  const span = `${bare(percent(low))} to ${bare(percent(high))}`
  if (v === reference.value) return span
  const { verdict } = compareQuality(v, reference.value)
  const against = {
    better: `better than ${reference.value.name}`,
    worse: `worse than ${reference.value.name}`,
    undecided: `undecided against ${reference.value.name}`,
    unknown: '',
  }[verdict]
  return against === '' ? span : `${span}; ${against}`
}
const scores = computed(() => props.model.variants.flatMap((v) => (v.quality ? [v.quality] : [])))
const measured = (v: Variant) =>
  (v.measurements ?? []).map((m) => `${m.machine}${(m.devices ?? 1) > 1 ? ` on ${m.devices}` : ''}, ${m.rows.length} rows`).join('; ')
</script>

<template>
  <section class="mb-5" :aria-label="model.name">
    <p class="font-serif text-[1.08rem] leading-relaxed">
      <EditableName :value="model.name" :taken="taken" label="Model" @commit="(to) => emit('edit', renameModel(model.name, to))" />,
      {{ KINDS[model.kind] }}<template v-if="usedBy.length > 0">, serves {{ usedBy.join(', ') }}</template
      >.
      <template v-if="tokens">
        <EditableQuantity
          :value="tokens.parameters"
          kind="big"
          :min="1"
          :label="`Parameters of ${model.name}`"
          @commit="(v) => set('parameters', v)" />
        parameters<template v-if="tokens.kind === 'experts'"
          >, of which a token passes
          <EditableQuantity
            :value="tokens.activeParameters"
            kind="big"
            :min="1"
            :label="`Active parameters of ${model.name}`"
            @commit="(v) => set('activeParameters', v)" />
          (<EditableQuantity
            :value="tokens.expertsPerToken"
            kind="count"
            :min="1"
            :label="`Experts for a token of ${model.name}`"
            @commit="(v) => set('expertsPerToken', v)" />
          of
          <EditableQuantity
            :value="tokens.experts"
            kind="count"
            :min="1"
            :label="`Experts of ${model.name}`"
            @commit="(v) => set('experts', v)" />
          experts a layer)</template
        >,
        <EditableQuantity
          :value="tokens.layers"
          kind="count"
          :min="1"
          :label="`Layers of ${model.name}`"
          @commit="(v) => set('layers', v)" />
        layers
        <EditableQuantity :value="tokens.width" kind="count" :min="1" :label="`Width of ${model.name}`" @commit="(v) => set('width', v)" />
        wide,
        <EditableQuantity
          :value="tokens.keyValueHeads"
          kind="count"
          :min="1"
          :label="`Key-value heads of ${model.name}`"
          @commit="(v) => set('keyValueHeads', v)" />
        key-value heads of
        <EditableQuantity
          :value="tokens.headSize"
          kind="count"
          :min="1"
          :label="`Head size of ${model.name}`"
          @commit="(v) => set('headSize', v)" />; it takes
        <EditableQuantity
          :value="tokens.contextTokens"
          kind="count"
          :min="2"
          :label="`Context of ${model.name}`"
          @commit="(v) => set('contextTokens', v)" />
        tokens and writes
        <EditableQuantity
          :value="tokens.outputCap"
          kind="count"
          :min="1"
          optional
          :label="`Output cap of ${model.name}`"
          @commit="(v) => set('outputCap', v)" />
        at most; working memory
        <EditableQuantity
          :value="tokens.activationBytes"
          kind="bytes"
          :min="0"
          optional
          :label="`Working memory of ${model.name}`"
          @commit="(v) => set('activationBytes', v)" />.
      </template>
      <template v-else-if="operations">
        <EditableQuantity
          :value="operations.parameters"
          kind="big"
          :min="1"
          :label="`Parameters of ${model.name}`"
          @commit="(v) => set('parameters', v)" />
        parameters; an item takes
        <EditableQuantity
          :value="operations.fixedOperations"
          kind="big"
          :min="0"
          :label="`Fixed operations of ${model.name}`"
          @commit="(v) => set('fixedOperations', v)" />
        operations, and
        <EditableQuantity
          v-if="operations.kind === 'iterative'"
          :value="operations.operationsPerStep"
          kind="big"
          :min="1"
          :label="`Operations of a step of ${model.name}`"
          @commit="(v) => set('operationsPerStep', v)" /><EditableQuantity
          v-else
          :value="operations.operationsPerUnit"
          kind="big"
          :min="0"
          :label="`Operations of a unit of ${model.name}`"
          @commit="(v) => set('operationsPerUnit', v)" />
        for each {{ operations.kind === 'iterative' ? 'step' : 'unit of work' }}; each item in service holds
        <EditableQuantity
          :value="operations.activationBytesPerItem"
          kind="bytes"
          :min="0"
          optional
          :label="`Memory of an item of ${model.name}`"
          @commit="(v) => set('activationBytesPerItem', v)" />.
      </template>
      <template v-else-if="cores">
        A request takes
        <EditableQuantity
          :value="cores.baseSeconds"
          kind="duration"
          :min="0"
          :label="`Seconds of a request of ${model.name}`"
          @commit="(v) => set('baseSeconds', v)" />
        and
        <EditableQuantity
          :value="cores.secondsPerUnit"
          kind="duration"
          :min="0"
          :label="`Seconds of a unit of ${model.name}`"
          @commit="(v) => set('secondsPerUnit', v)" />
        a unit on cores of speed 1, keeps
        <EditableQuantity
          :value="cores.coresPerRequest"
          kind="number"
          :min="0.01"
          :label="`Cores of a request of ${model.name}`"
          @commit="(v) => set('coresPerRequest', v)" />
        of them busy, and holds
        <EditableQuantity
          :value="cores.memoryBytesPerRequest"
          kind="bytes"
          :min="0"
          :label="`Memory of a request of ${model.name}`"
          @commit="(v) => set('memoryBytesPerRequest', v)" />
        beside the
        <EditableQuantity
          :value="cores.memoryBytes"
          kind="bytes"
          :min="0"
          :label="`Memory of ${model.name}`"
          @commit="(v) => set('memoryBytes', v)" />
        of the replica.
      </template>
      <template v-else-if="model.kind === 'given'">
        Its weights are {{ bytes(model.weightBytes ?? 0) }}; how long it takes is typed in or measured, not derived.</template
      >
    </p>
    <div class="overflow-x-auto">
      <table class="exact mt-1">
        <thead>
          <tr>
            <th scope="col">variant</th
            ><template v-if="derived"
              ><th scope="col" class="number">weight bits</th>
              <th scope="col" class="number">group</th>
              <th scope="col" class="number">scale, zero</th>
              <th v-if="tokens" scope="col" class="number">cache bits</th>
              <th scope="col" class="number">arithmetic</th></template
            >
            <th scope="col" class="number">files</th>
            <th scope="col">quality</th>
            <th scope="col">licence</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          <tr v-for="v in model.variants" :key="v.name">
            <td>
              <EditableName
                :value="v.name"
                :taken="model.variants.map((x) => x.name)"
                :label="`Variant of ${model.name}`"
                @commit="(name) => put(v, 'name', name)" /><span v-if="v.format" class="block text-[0.78rem] text-faded">{{
                v.format
              }}</span
              ><span v-if="measured(v)" class="block text-[0.78rem] text-faded">measured on {{ measured(v) }}</span>
            </td>
            <template v-if="derived">
              <td v-if="v.bytesPerWeight !== undefined" colspan="3" class="number"> {{ threeDigits(v.bytesPerWeight) }} bytes all in</td>
              <template v-else>
                <td class="number">
                  <EditableQuantity
                    :value="v.weightBits"
                    kind="number"
                    :min="0.1"
                    :max="64"
                    :label="`Bits of a weight of ${v.name}`"
                    @commit="(x) => put(v, 'weightBits', x)" />
                </td>
                <td class="number">
                  <EditableQuantity
                    :value="v.groupSize"
                    kind="count"
                    :min="1"
                    optional
                    :label="`Weights in a group of ${v.name}`"
                    @commit="
                      (x) =>
                        setVariant(v, (y) =>
                          x === undefined
                            ? withField(withField(withField(y, 'groupSize', undefined), 'scaleBits', undefined), 'zeroPointBits', undefined)
                            : { ...y, groupSize: x },
                        )
                    " />
                </td>
                <td class="number whitespace-nowrap">
                  <template v-if="v.groupSize !== undefined"
                    ><EditableQuantity
                      :value="v.scaleBits ?? 0"
                      kind="number"
                      :min="0"
                      :max="64"
                      :label="`Bits of a scale of ${v.name}`"
                      @commit="(x) => put(v, 'scaleBits', x)" />
                    +
                    <EditableQuantity
                      :value="v.zeroPointBits ?? 0"
                      kind="number"
                      :min="0"
                      :max="64"
                      :label="`Bits of a zero point of ${v.name}`"
                      @commit="(x) => put(v, 'zeroPointBits', x)" /></template
                  ><template v-else>–</template>
                </td>
              </template>
              <td v-if="tokens" class="number">
                <EditableQuantity
                  v-if="v.bytesPerCacheElement === undefined"
                  :value="v.cacheBits"
                  kind="number"
                  :min="0.1"
                  :max="64"
                  :label="`Cache bits of ${v.name}`"
                  @commit="(x) => put(v, 'cacheBits', x)" /><template v-else>{{ threeDigits(v.bytesPerCacheElement * 8) }}</template>
              </td>
              <td class="number">
                <EditableQuantity
                  :value="v.arithmeticBits"
                  kind="count"
                  :min="1"
                  :label="`Arithmetic bits of ${v.name}`"
                  @commit="(x) => put(v, 'arithmeticBits', x)" />
              </td>
            </template>
            <td class="number">
              <EditableQuantity
                :value="v.diskBytes"
                kind="bytes"
                :min="1"
                optional
                :label="`Files of ${v.name}`"
                @commit="(x) => put(v, 'diskBytes', x)" />
            </td>
            <td class="whitespace-nowrap">
              <QualityMark v-if="v.quality" :quality="v.quality" :others="scores" />
              <EditableQuantity
                :value="v.quality?.score"
                kind="percent"
                :min="0"
                :max="1"
                optional
                :label="`Quality score of ${v.name}`"
                @commit="(x) => (x === undefined ? put(v, 'quality', undefined) : putQuality(v, { score: x }))" /><template
                v-if="v.quality">
                of
                <EditableQuantity
                  :value="v.quality.samples"
                  kind="count"
                  :min="1"
                  :label="`Samples behind the score of ${v.name}`"
                  @commit="(x) => x !== undefined && putQuality(v, { samples: x })" />
                samples</template
              >
              <span class="block text-[0.78rem] text-faded">{{ qualityWords(v) }}</span>
            </td>
            <td :title="v.licence?.note">
              <button
                type="button"
                class="changeable"
                :aria-label="`${v.name} may serve in production: ${v.licence?.production ? 'yes' : 'no'}. Change it.`"
                @click="put(v, 'licence', { note: v.licence?.note ?? 'set by hand', production: !v.licence?.production })"
                >{{ v.licence === undefined ? 'not said' : v.licence.production ? 'production' : 'no production' }}</button
              >
            </td>
            <td class="whitespace-nowrap">
              <button
                type="button"
                class="word"
                :aria-label="`One more like ${v.name}`"
                @click="emit('edit', copyVariant(model.name, v.name))"
                >one more</button
              ><button
                v-if="model.variants.length > 1"
                type="button"
                class="word"
                :aria-label="`Take ${v.name} out`"
                @click="emit('edit', removeVariant(model.name, v.name))"
                >out</button
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
