<script setup lang="ts">
import { useElementVisibility } from '@vueuse/core'
import { useTemplateRef, watch } from 'vue'

/** A part of a page that is reckoned when somebody looks at it. Until then it keeps the room that it will take. */
const { until } = defineProps<{ until: boolean; height: number }>()
const seen = defineModel<boolean>('seen', { required: true })
const visible = useElementVisibility(useTemplateRef('place'))
watch(visible, (is) => (seen.value = is), { immediate: true })
</script>

<template>
  <div ref="place" :style="until ? {} : { minHeight: `${height}px` }"><slot /></div>
</template>
