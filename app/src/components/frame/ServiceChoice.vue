<script setup lang="ts">
/** Which service a view shows. */
defineProps<{ names: readonly string[] }>()
const chosen = defineModel<string>({ required: true })
</script>

<template>
  <div v-if="names.length > 1" role="radiogroup" aria-label="Service" class="mb-3 flex gap-6">
    <button
      v-for="(name, i) in names"
      :key="name"
      type="button"
      role="radio"
      class="border-b-2 pb-0.5 font-serif text-[1.05rem]"
      :aria-checked="name === chosen || (i === 0 && !names.includes(chosen))"
      :class="name === chosen || (i === 0 && !names.includes(chosen)) ? 'border-sand font-semibold' : 'border-transparent text-faded'"
      @click="chosen = name">
      {{ name }}
    </button>
  </div>
</template>
