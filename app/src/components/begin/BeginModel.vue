<script setup lang="ts">
import {
  SHAPES,
  SPEEDS,
  speedComplaint,
  waysOf,
  type Machine,
  type OwnModel,
  type ShapeName,
  type Speed,
  type Works,
} from '@sandclock/core'
import { computed, ref, watch } from 'vue'
import EditableChoice from '../sentence/EditableChoice.vue'
import EditableFigure from '../sentence/EditableFigure.vue'
import EditableQuantity from '../sentence/EditableQuantity.vue'

/** Which model answers, within the paragraph of a beginning: an invented shape, that of a file, or one whose speed was seen. */
const props = defineProps<{
  works: Works
  shape: ShapeName
  own: OwnModel | undefined
  /** the model of a shape file that was given, if one was */
  ofFile: OwnModel | undefined
  machines: readonly Machine[]
}>()
const emit = defineEmits<{ shape: [shape: ShapeName]; own: [own: OwnModel] }>()

const shapes = computed(() => waysOf(SHAPES).filter((s) => SHAPES[s].works === props.works))
const shapeWords = (s: ShapeName) => `${SHAPES[s].model.name}, ${SHAPES[s].words}`
const AS_FAST = 'A model that is as fast as was seen'
const fileWords = computed(() => (props.ofFile?.from === 'file' ? `${props.ofFile.model.name}, by its shape file` : undefined))
const options = computed(() => [
  ...shapes.value.map(shapeWords),
  ...(fileWords.value && props.works === 'tokens' ? [fileWords.value] : []),
  AS_FAST,
])
const value = computed(() =>
  props.own === undefined ? shapeWords(props.shape) : props.own.from === 'speed' ? AS_FAST : (fileWords.value ?? ''),
)

/** What was typed of a speed stays while another model is looked at. */
const speed = ref<Speed>({ ...SPEEDS[props.works], machine: '' })
watch(
  () => props.works,
  (works) => (speed.value = { ...SPEEDS[works], machine: speed.value.machine }),
)
const machineNames = computed(() => props.machines.map((m) => m.name))
const onMachine = computed(() => (machineNames.value.includes(speed.value.machine) ? speed.value.machine : machineNames.value[0]))
const complaint = computed(() => (props.own?.from === 'speed' ? speedComplaint(props.own.speed) : undefined))

function choose(words: string): void {
  const shape = shapes.value.find((s) => shapeWords(s) === words)
  if (shape) emit('shape', shape)
  else if (words === AS_FAST) say({})
  else if (props.ofFile) emit('own', props.ofFile)
}
function say(patch: Partial<Speed>): void {
  speed.value = { ...speed.value, machine: onMachine.value, ...patch }
  emit('own', { from: 'speed', speed: speed.value })
}
const UNITS: Record<Works, string> = { tokens: 'tokens', steps: 'steps', units: 'work units' }
</script>

<template>
  <EditableChoice :value="value" :options="options" label="Model" @commit="choose" />
  <template v-if="own?.from === 'speed'">
    on
    <EditableChoice
      :value="own.speed.machine"
      :options="machineNames"
      label="Machine on which it was seen"
      @commit="(machine) => say({ machine })" />,
    <EditableFigure
      :value="own.speed.alone"
      kind="rate"
      :min="0.001"
      :max="1e7"
      label="Speed of one request alone"
      @commit="(alone) => say({ alone })" />
    {{ UNITS[works] }} a second alone and
    <EditableFigure
      :value="own.speed.together"
      kind="rate"
      :min="0.001"
      :max="1e7"
      label="Speed of each of several"
      @commit="(together) => say({ together })" />
    each with
    <EditableFigure
      :value="own.speed.sideBySide"
      kind="count"
      :min="1"
      :max="4096"
      label="Requests side by side"
      @commit="(sideBySide) => say({ sideBySide })" />
    side by side<template v-if="works === 'tokens'"
      >, reading
      <EditableFigure
        :value="own.speed.reads"
        kind="rate"
        :min="0.1"
        :max="1e8"
        label="Prompt tokens a second"
        @commit="(reads) => say({ reads })" />
      prompt tokens a second</template
    >, its weights
    <EditableQuantity
      :value="own.speed.weightBytes"
      kind="bytes"
      :min="0"
      label="Size of the weights"
      @commit="(weightBytes) => say({ weightBytes: weightBytes ?? 0 })" /><span
      v-if="complaint"
      role="alert"
      class="text-[0.9rem] text-rust"
      >: {{ complaint }}</span
    ></template
  >
</template>
