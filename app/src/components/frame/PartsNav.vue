<script setup lang="ts">
/** The way between the parts of a view. */
defineProps<{ view: string; parts: readonly { name: string; path: string; words: string }[]; part: string }>()
</script>

<template>
  <nav :aria-label="`Parts of ${view}`" class="flex gap-4 text-[0.9rem]">
    <RouterLink
      v-for="p in parts"
      :key="p.name"
      :to="p.path"
      class="word"
      :class="p.name === part ? 'font-semibold !text-ink !no-underline' : ''"
      :aria-current="p.name === part ? 'page' : undefined"
      >{{ p.words }}</RouterLink
    >
  </nav>
</template>
