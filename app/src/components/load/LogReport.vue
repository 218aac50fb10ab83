<script setup lang="ts">
import { duration, type RequestLog } from '@sandclock/core'
import { computed } from 'vue'

/** What was found in a dropped request log, before it is used. */
const props = defineProps<{ log: RequestLog; badRows: readonly string[] }>()
const emit = defineEmits<{ use: []; putAway: [] }>()

const span = computed(() => props.log.requests.at[props.log.requests.count - 1] ?? 0)
const columns = computed(() =>
  Object.entries(props.log.headers)
    .map(([field, header]) => `${field} from “${header}”`)
    .join(', '),
)
</script>

<template>
  <section aria-label="Request log" class="mb-4 border-l-4 border-sand bg-leaf px-4 py-3">
    <p class="font-serif text-[1.15rem]">
      {{ log.name }}: {{ log.requests.count.toLocaleString('en').replaceAll(',', '\u202f') }} requests over {{ duration(span)
      }}<template v-if="log.classNames.some((n) => n !== '')">
        in {{ log.classNames.length }} {{ log.classNames.length === 1 ? 'class' : 'classes' }} ({{ log.classNames.join(', ') }})</template
      >.
    </p>
    <p class="text-[0.9rem] text-faded">Read {{ columns }}.</p>
    <div v-if="log.badRowCount > 0" class="mt-1 text-[0.9rem]">
      <p class="text-rust"> {{ log.badRowCount }} {{ log.badRowCount === 1 ? 'row was' : 'rows were' }} left out; the rest is used:</p>
      <ul class="max-h-28 overflow-auto">
        <li v-for="row in badRows" :key="row">
          {{ row }}
        </li>
      </ul>
    </div>
    <p class="mt-2">
      <button type="button" class="word" @click="emit('use')">Let this log be the load of the plan</button>
      <button type="button" class="word ml-4" @click="emit('putAway')">put it away</button>
    </p>
  </section>
</template>
