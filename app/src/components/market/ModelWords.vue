<script setup lang="ts">
import { bytes, type Model } from '@sandclock/core'
import { computed } from 'vue'
import { editModel, renameModel } from '../../edits/marketEdits.ts'
import type { Edit } from '../../edits/edits.ts'
import { withField } from '../../edits/withField.ts'
import EditableName from '../sentence/EditableName.vue'
import EditableQuantity from '../sentence/EditableQuantity.vue'
import VariantTable from './VariantTable.vue'

/** One model in prose, and its variants line by line. */
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

const set = (key: string, value: number | undefined) =>
  emit(
    'edit',
    editModel(props.model.name, (m) => withField(m, key, value)),
  )
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
    <VariantTable :model="model" @edit="(e) => emit('edit', e)" />
  </section>
</template>
