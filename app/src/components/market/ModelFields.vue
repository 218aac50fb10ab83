<script setup lang="ts">
import { modelFields, variantFields, type FirstFrom, type Model, type Variant } from '@sandclock/core'
import { copyModel, editModel, editVariant, removeModel } from '../../edits/marketEdits.ts'
import type { Edit } from '../../edits/edits.ts'
import EveryField from '../fields/EveryField.vue'

/** What a plan can say of a model and of its variants beside what the lines above show, and what can be done with the model. */
const props = defineProps<{ model: Model; used: boolean; from: FirstFrom }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

/** Whether it is one is seen when the plan is checked. */
const put = (next: Record<string, unknown>) =>
  emit(
    'edit',
    editModel(props.model.name, () => next as Model),
  )
const putVariant = (name: string, next: Record<string, unknown>) =>
  emit(
    'edit',
    editVariant(props.model.name, name, () => next as Variant),
  )
</script>

<template>
  <div class="mb-4 flex flex-wrap gap-x-5 gap-y-1 font-sans text-[0.82rem]">
    <EveryField
      :fields="() => modelFields(model)"
      :value="model"
      :skip="['kind', 'name', 'variants']"
      :label="model.name"
      :path="`.models[](${model.kind})`"
      :from="from"
      @change="put" />
    <EveryField
      v-for="v in model.variants"
      :key="v.name"
      :fields="variantFields"
      :value="v"
      :skip="['name']"
      :label="`${model.name}, ${v.name}`"
      path=".models[].variants[]"
      :from="from"
      @change="(next) => putVariant(v.name, next)" />
    <span class="py-1">
      <button type="button" class="word" @click="emit('edit', copyModel(model.name))">a model like {{ model.name }}</button
      ><template v-if="!used"
        >, or
        <button type="button" class="word" :aria-label="`Take ${model.name} out`" @click="emit('edit', removeModel(model.name))"
          >take it out</button
        ></template
      >
    </span>
  </div>
</template>
