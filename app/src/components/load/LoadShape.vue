<script setup lang="ts">
import { clock, withRate, type Plan, type RequestClass } from '@sandclock/core'
import { computed } from 'vue'
import { classColour } from '../../composables/classColour.ts'
import type { Edit } from '../../edits/edits.ts'
import { giveWeek, lay, paint, paintedOf } from '../../edits/loadEdits.ts'
import PaintedWeek from './PaintedWeek.vue'

/** How the rate of one class goes: its hours and days to be painted, and what may be laid over them at the cursor. */
const props = defineProps<{ plan: Plan; requestClass: RequestClass; cursorSeconds: number }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const name = computed(() => props.requestClass.name)
const painted = computed(() => paintedOf(props.requestClass))
const colour = computed(() => classColour(props.plan.classes.findIndex((c) => c.name === name.value)))
const STEP_SECONDS = 300
const cursor = computed(() => Math.max(0, Math.round((props.cursorSeconds || 0) / STEP_SECONDS) * STEP_SECONDS))
</script>

<template>
  <section v-if="withRate(requestClass.arrivals)" :aria-label="`How ${name} goes`" class="mt-3">
    <h2 class="text-[1.15rem]">
      How <span :style="{ color: colour }">{{ name }}</span> goes
      <span class="font-sans text-[0.82rem] text-faded">
        <button type="button" class="word" @click="emit('edit', lay(name, 'spikes', cursor))"
          >lay a spike at {{ clock(plan.horizon.start, cursor) }}</button
        >, <button type="button" class="word" @click="emit('edit', lay(name, 'events', cursor))">a dated event there</button
        ><template v-if="painted.length === 0"
          >, or <button type="button" class="word" @click="emit('edit', giveWeek(name))">give it hours and days</button></template
        >. What lies over it is pulled above by its tabs; Delete takes it away.</span
      >
    </h2>
    <div class="grid gap-x-4" :class="painted.length > 1 ? 'md:grid-cols-[3fr_2fr]' : ''">
      <PaintedWeek
        v-for="p in painted"
        :key="`${name} ${p.what}`"
        :painted="p"
        :class-name="name"
        :colour="colour"
        :start="plan.horizon.start"
        :height="120"
        @paint="(next) => emit('edit', paint(name, next))" />
    </div>
  </section>
</template>
