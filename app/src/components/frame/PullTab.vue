<script setup lang="ts">
/** A small tab at the edge of a picture that is pulled along one axis, or moved by arrow keys. */
const props = defineProps<{
  axis: 'x' | 'y'
  left: number
  top: number
  value: number
  least: number
  most: number
  step: number
  label: string
  words: string
  /** the value at a place along the axis, in pixels of the picture */
  valueAt: (pixels: number) => number
}>()
const emit = defineEmits<{ pull: [value: number]; commit: [value: number]; remove: [] }>()

const held = (v: number) => Math.min(props.most, Math.max(props.least, Math.round(v / props.step) * props.step))
let box: DOMRect | undefined
/** what it stood at and where it was taken: a tab is pulled by where the hand has it, beside the edge that it moves */
let taken = { value: 0, at: 0 }
let hasMoved = false

function press(event: PointerEvent): void {
  const tab = event.currentTarget as HTMLElement
  box = tab.offsetParent?.getBoundingClientRect()
  taken = { value: props.value, at: pixelsOf(event) }
  hasMoved = false
  tab.setPointerCapture(event.pointerId)
  tab.focus()
}

function pixelsOf(event: PointerEvent): number {
  return props.axis === 'x' ? event.clientX - (box?.left ?? 0) : event.clientY - (box?.top ?? 0)
}
const place = (event: PointerEvent) => held(taken.value + props.valueAt(pixelsOf(event)) - props.valueAt(taken.at))

function move(event: PointerEvent): void {
  if (!box || (!hasMoved && pixelsOf(event) === taken.at)) return
  hasMoved = true
  emit('pull', place(event))
}

function release(event: PointerEvent): void {
  if (!box) return
  const value = place(event)
  box = undefined
  // Who only clicks it has the focus on it, and changes nothing.
  if (hasMoved) emit('commit', value)
}

function key(event: KeyboardEvent): void {
  const by = (event.shiftKey ? 10 : 1) * props.step
  const moves: Record<string, () => void> = {
    ArrowUp: () => emit('commit', held(props.value + by)),
    ArrowRight: () => emit('commit', held(props.value + by)),
    ArrowDown: () => emit('commit', held(props.value - by)),
    ArrowLeft: () => emit('commit', held(props.value - by)),
    Delete: () => emit('remove'),
  }
  const move = moves[event.key]
  if (!move) return
  event.preventDefault()
  event.stopPropagation()
  move()
}
</script>

<template>
  <button
    type="button"
    role="slider"
    class="pull-tab"
    :class="axis === 'x' ? 'cursor-ew-resize' : 'cursor-ns-resize'"
    :style="{ left: `${left}px`, top: `${top}px` }"
    :aria-label="label"
    :aria-valuemin="least"
    :aria-valuemax="most"
    :aria-valuenow="value"
    :aria-valuetext="words"
    :aria-orientation="axis === 'x' ? 'horizontal' : 'vertical'"
    @pointerdown.stop.prevent="press"
    @pointermove="move"
    @pointerup="release"
    @pointercancel="box = undefined"
    @keydown="key"
    ><slot>{{ words }}</slot></button
  >
</template>

<style scoped>
.pull-tab {
  position: absolute;
  padding: 0 5px;
  font-size: 11px;
  line-height: 15px;
  white-space: nowrap;
  touch-action: none;
  color: var(--color-ink);
  background: var(--color-sand-soft);
  border-bottom: 2px solid var(--color-sand);
  border-radius: 3px 3px 0 0;
}
.pull-tab:hover {
  background: var(--color-leaf);
}
</style>
