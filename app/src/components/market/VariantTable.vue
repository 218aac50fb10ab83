<script setup lang="ts">
import { bare, compareQuality, percent, threeDigits, wilson, type Model, type Variant } from '@sandclock/core'
import { computed } from 'vue'
import type { Edit } from '../../edits/edits.ts'
import { copyVariant, editVariant, removeVariant, renameVariant } from '../../edits/marketEdits.ts'
import { withField } from '../../edits/withField.ts'
import EditableName from '../sentence/EditableName.vue'
import EditableQuantity from '../sentence/EditableQuantity.vue'
import QualityMark from './QualityMark.vue'

/** The variants of a model line by line: bits, file, score with its interval, licence. */
const props = defineProps<{ model: Model }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const hasTokens = computed(() => props.model.kind === 'dense' || props.model.kind === 'experts')
const derived = computed(() => props.model.kind !== 'cpu' && props.model.kind !== 'given')

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
  <div class="overflow-x-auto">
    <table class="exact mt-1">
      <thead>
        <tr>
          <th scope="col">variant</th
          ><template v-if="derived"
            ><th scope="col" class="number">weight bits</th>
            <th scope="col" class="number">group</th>
            <th scope="col" class="number">scale, zero</th>
            <th v-if="hasTokens" scope="col" class="number">cache bits</th>
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
              @commit="(name) => emit('edit', renameVariant(model.name, v.name, name))" /><span
              v-if="v.format"
              class="block text-[0.78rem] text-faded"
              >{{ v.format }}</span
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
            <td v-if="hasTokens" class="number">
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
              @commit="(x) => (x === undefined ? put(v, 'quality', undefined) : putQuality(v, { score: x }))" /><template v-if="v.quality">
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
</template>
