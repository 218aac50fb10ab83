<script setup lang="ts">
/** What went wrong, in sentences, until it is read and put away. */
defineProps<{ title: string; lines: readonly string[] }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <div role="alert" class="flex items-start gap-4 border-b border-rule bg-leaf px-6 py-2 text-[0.92rem]">
    <span aria-hidden="true" class="mt-0.5 inline-block h-4 w-1.5 bg-rust" />
    <div class="flex-1">
      <p class="font-semibold text-rust">
        {{ title }}
      </p>
      <ul v-if="lines.length > 0" class="max-h-36 overflow-auto">
        <li v-for="line in lines" :key="line">
          {{ line }}
        </li>
      </ul>
    </div>
    <button type="button" class="word" @click="emit('close')">put away</button>
  </div>
</template>
