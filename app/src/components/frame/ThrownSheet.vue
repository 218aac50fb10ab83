<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

/** What was thrown away or could not be read, each with a way back. */
defineProps<{ open: boolean; things: readonly { id: string; kind: string; name: string; thrownAt: number }[] }>()
const emit = defineEmits<{ close: []; back: [id: string] }>()

const KINDS: Record<string, string> = {
  plan: 'plan',
  log: 'log',
  pin: 'pinned run',
  measurement: 'measurement',
  measured: 'measured requests',
  unreadable: 'could not be read',
}
const when = (at: number) => new Date(at).toISOString().slice(0, 16).replace('T', ' ')
</script>

<template>
  <Dialog :open="open" class="relative z-30" @close="emit('close')">
    <div class="fixed inset-0 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center pt-24">
      <DialogPanel class="drawer max-h-[70vh] w-[40rem] overflow-auto p-6">
        <DialogTitle class="mb-3 text-[1.3rem]">Thrown away</DialogTitle>
        <p v-if="things.length === 0" class="text-[0.92rem] text-faded">Nothing was thrown away in the last 30 days.</p>
        <template v-else>
          <p class="mb-3 text-[0.92rem] text-faded">Each is kept for 30 days.</p>
          <table class="exact w-full text-[0.9rem]">
            <thead>
              <tr>
                <th scope="col">what</th>
                <th scope="col">name</th>
                <th scope="col">when (UTC)</th>
                <th scope="col">
                  <span class="sr-only">back</span>
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="t in things" :key="t.id">
                <td class="whitespace-nowrap">
                  {{ KINDS[t.kind] ?? t.kind }}
                </td>
                <td>
                  {{ t.name }}
                </td>
                <td class="whitespace-nowrap">
                  {{ when(t.thrownAt) }}
                </td>
                <td class="whitespace-nowrap text-right">
                  <button type="button" class="word" :aria-label="`Have ${t.name} back`" @click="emit('back', t.id)">{{
                    t.kind === 'unreadable' ? 'save as a file' : 'have it back'
                  }}</button>
                </td>
              </tr>
            </tbody>
          </table>
        </template>
        <p class="mt-4 text-right">
          <button type="button" class="word" @click="emit('close')">close</button>
        </p>
      </DialogPanel>
    </div>
  </Dialog>
</template>
