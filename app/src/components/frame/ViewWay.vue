<script setup lang="ts">
/** The way through the views: each with its key figure, so that going round is reading a summary. */
defineProps<{ stations: readonly { path: string; name: string; question: string; figure: string }[]; current: string }>()
</script>

<template>
  <nav aria-label="Views" class="relative border-b border-rule px-6">
    <ol class="grid grid-cols-2 sm:grid-cols-3 way">
      <li v-for="station in stations" :key="station.path">
        <RouterLink :to="station.path" class="group relative block py-2 pr-3" :aria-current="current === station.path ? 'page' : undefined">
          <span
            aria-hidden="true"
            class="absolute -bottom-[1px] left-0 h-[3px] transition-all"
            :class="current === station.path ? 'w-[86%] bg-sand' : 'w-0 bg-sand-soft group-hover:w-[40%]'" />
          <span class="flex items-baseline gap-2">
            <span class="whitespace-nowrap font-serif text-[1.08rem]" :class="current === station.path ? 'font-semibold' : ''">{{
              station.name
            }}</span>
            <span class="truncate text-[0.86rem] text-faded">{{ station.figure }}</span>
          </span>
          <span class="sr-only">{{ station.question }}</span>
        </RouterLink>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
/* The first has no figure; the others have room by how long theirs are with the name of where one is, which is bolder. */
@media (width >= 64rem) {
  .way {
    grid-template-columns:
      3.4rem minmax(0, 1.94fr) minmax(0, 1.17fr) minmax(0, 1.86fr) minmax(0, 1.25fr) minmax(0, 1.52fr) minmax(0, 1.81fr)
      minmax(0, 2.04fr);
  }
}
</style>
