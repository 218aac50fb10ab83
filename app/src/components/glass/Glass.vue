<script setup lang="ts">
import { computed, useId } from 'vue'

/**
 * The sign for one replica: sand above waits for it, sand below is in service, the stream in the neck says that it
 * works. An outline of dashes is a replica that is not ready yet.
 */
const props = defineProps<{
  /** 0…1: how much waits, against what fits above */
  waiting: number
  /** 0…1: how full it is */
  inService: number
  ready: boolean
  label: string
}>()

const clip = useId()
const OUTLINE = 'M3 2h18c0 8.500-7.500 9.500-7.500 14S21 21.500 21 30H3c0-8.500 7.500-9.500 7.500-14S3 10.500 3 2Z'
const UPPER = 13
const LOWER = 13
const upper = computed(() => Math.max(0, Math.min(1, props.waiting)) * UPPER)
const lower = computed(() => Math.max(0, Math.min(1, props.inService)) * LOWER)
</script>

<template>
  <svg viewBox="0 0 24 32" role="img" :aria-label="label">
    <title>{{ label }}</title>
    <defs>
      <clipPath :id="clip"><path :d="OUTLINE" /></clipPath>
    </defs>
    <path :d="OUTLINE" fill="var(--leaf)" />
    <g :clip-path="`url(#${clip})`">
      <rect x="0" :y="15 - upper" width="24" :height="upper" fill="var(--sand)" />
      <rect x="0" :y="30 - lower" width="24" :height="lower" fill="var(--water)" />
      <rect v-if="inService > 0" x="11.400" y="14" width="1.200" :height="16" fill="var(--sand)" />
    </g>
    <path :d="OUTLINE" fill="none" stroke="var(--ink)" stroke-width="1.300" :stroke-dasharray="ready ? undefined : '2 2'" />
  </svg>
</template>
