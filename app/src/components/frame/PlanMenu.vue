<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'

/** The open plan's name, and under it the other plans and what can be done with files. */
defineProps<{ name: string; plans: readonly { id: string; name: string }[]; currentId: string }>()
const emit = defineEmits<{ open: [id: string]; copy: []; demo: []; remove: []; importFile: []; exportFile: []; thrown: []; begin: [] }>()

const actions = [
  { word: 'Begin a plan …', run: () => emit('begin') },
  { word: 'Open a plan or a log from a file …', run: () => emit('importFile') },
  { word: 'Save this plan as a file', run: () => emit('exportFile') },
  { word: 'Copy this plan', run: () => emit('copy') },
  { word: 'Bring back the demo plan', run: () => emit('demo') },
  { word: 'Throw this plan away', run: () => emit('remove') },
  { word: 'Thrown away …', run: () => emit('thrown') },
]
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton class="changeable font-serif text-[1.12rem] !text-ink" aria-label="Plans and files">{{ name }}</MenuButton>
    <MenuItems class="drawer absolute left-0 mt-2 w-80 py-1 text-[0.9rem]">
      <MenuItem v-for="plan in plans" :key="plan.id" v-slot="{ active }">
        <button
          type="button"
          class="block w-full px-3 py-1.5 text-left"
          :class="active ? 'bg-sand-soft' : ''"
          @click="emit('open', plan.id)">
          <span aria-hidden="true" class="inline-block w-4">{{ plan.id === currentId ? '✓' : '' }}</span>{{ plan.name }}
          <span v-if="plan.id === currentId" class="sr-only">(open)</span>
        </button>
      </MenuItem>
      <div class="my-1 border-t border-rule" role="none" />
      <MenuItem v-for="action in actions" :key="action.word" v-slot="{ active }">
        <button type="button" class="block w-full px-3 py-1.5 pl-7 text-left" :class="active ? 'bg-sand-soft' : ''" @click="action.run()">{{
          action.word
        }}</button>
      </MenuItem>
    </MenuItems>
  </Menu>
</template>
