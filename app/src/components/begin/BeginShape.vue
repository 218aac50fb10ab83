<script setup lang="ts">
import { modelFromShape, threeDigits, type ModelShape, type OwnModel, type ShapeField } from '@sandclock/core'
import { computed, ref, watch } from 'vue'
import { SHAPE_WORDS, shapeKind } from '../market/shapeWords.ts'
import EditableQuantity from '../sentence/EditableQuantity.vue'

/** What a shape file says of the model of a beginning, and what it leaves open, which is asked for. */
const props = defineProps<{ shape: ModelShape; fileName: string }>()
const emit = defineEmits<{ own: [own: OwnModel | undefined] }>()

const said = ref<Partial<Record<ShapeField, number>>>({})
watch(
  () => props.shape,
  () => (said.value = {}),
)
const open = computed(() => props.shape.facts.filter((f) => f.value === undefined))
const reckoned = computed(() => props.shape.facts.filter((f) => f.from === 'reckoned').length)
const parameters = computed(() => props.shape.facts.find((f) => f.field === 'parameters')?.value)
const own = computed((): OwnModel | undefined => {
  const facts = props.shape.facts.map((f) => ({ ...f, value: f.value ?? said.value[f.field] }))
  return facts.every((f) => f.value !== undefined) ? { from: 'file', model: modelFromShape({ ...props.shape, facts }) } : undefined
})
watch(own, (model) => emit('own', model), { immediate: true })
</script>

<template>
  <p class="text-[0.9rem]">
    {{ fileName }} tells of {{ shape.name }}, a {{ shape.kind === 'experts' ? 'mixture of experts' : 'dense model'
    }}<template v-if="parameters !== undefined"> of {{ threeDigits(parameters / 1e9) }} billion parameters</template
    ><template v-if="reckoned > 0">; {{ reckoned }} of its figures {{ reckoned === 1 ? 'was' : 'were' }} reckoned from others</template
    ><template v-for="(f, i) in open" :key="f.field"
      ><span class="text-rust">{{ i === 0 ? '. It does not tell' : ' and' }} {{ SHAPE_WORDS[f.field] }}:</span>{{ ' '
      }}<EditableQuantity
        :value="said[f.field]"
        :kind="shapeKind(f.field)"
        :min="1"
        :label="SHAPE_WORDS[f.field]"
        @commit="(value) => (said = { ...said, [f.field]: value })" /></template
    >.
  </p>
</template>
