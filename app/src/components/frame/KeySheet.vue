<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

/** What the keyboard can do. */
defineProps<{ open: boolean; keys: readonly { key: string; does: string }[] }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <Dialog :open="open" class="relative z-30" @close="emit('close')">
    <div class="fixed inset-0 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center pt-24">
      <DialogPanel class="drawer w-[30rem] p-6">
        <DialogTitle class="mb-3 text-[1.3rem]">Keys</DialogTitle>
        <dl class="grid grid-cols-[9rem_1fr] gap-y-1.5 text-[0.92rem]">
          <template v-for="k in keys" :key="k.key">
            <dt>
              <kbd class="font-sans font-semibold">{{ k.key }}</kbd>
            </dt>
            <dd>
              {{ k.does }}
            </dd>
          </template>
        </dl>
        <p class="mt-4 text-right">
          <button type="button" class="word" @click="emit('close')">close</button>
        </p>
      </DialogPanel>
    </div>
  </Dialog>
</template>
