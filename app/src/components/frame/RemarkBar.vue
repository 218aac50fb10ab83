<script setup lang="ts">
/** One thing that is told, and may be put away. */
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <p role="status" class="border-b border-rule px-6 py-1.5 text-[0.92rem]">
    <slot /> <button type="button" class="word" @click="emit('close')">put away</button>
  </p>
</template>
