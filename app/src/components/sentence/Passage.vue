<script setup lang="ts">
import type { Fold } from './passages.ts'

/** A passage of the sentence, folded to a line of its key figures or open; one mark before it does both, and keeps the focus. */
const props = defineProps<{ name: string; line: string; fold: Fold; colour?: string | undefined }>()
const emit = defineEmits<{ fold: [fold: Fold] }>()
const turn = () => emit('fold', props.fold === 'line' ? 'whole' : 'line')
</script>

<template>
  <div class="passage" :class="fold === 'line' ? 'is-line' : ''">
    <button
      type="button"
      class="passage-mark"
      :aria-expanded="fold !== 'line'"
      :aria-label="fold === 'line' ? `${name}: ${line}. Open it.` : `Fold ${name} to a line.`"
      :title="fold === 'line' ? `${name}: ${line}` : undefined"
      @click="turn">
      <span aria-hidden="true" class="passage-sign">{{ fold === 'line' ? '+' : '–' }}</span><template v-if="fold === 'line'"
        ><strong class="font-semibold" :style="colour ? { color: colour } : undefined">{{ name }}</strong
        >{{ ' ' }}<span class="passage-figures">{{ line }}</span></template
      >
    </button>
    <div v-if="fold !== 'line'">
      <slot />
      <button v-if="fold === 'part'" type="button" class="word !px-0 font-sans text-[0.78rem]" @click="emit('fold', 'whole')"
        >all of {{ name }}</button
      >
    </div>
  </div>
</template>
