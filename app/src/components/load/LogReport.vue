<script setup lang="ts">
import { duration, grouped, type Figures, type FromLog, type LogFit, type LogColumns, type LogPeek, type RequestLog } from '@sandclock/core'
import { computed } from 'vue'
import LogFitPart from './LogFit.vue'
import LogColumnsTable from './LogColumns.vue'

/** What was found in a dropped request log, before it is used. */
const props = defineProps<{
  log: RequestLog | null
  name: string
  peek: LogPeek
  columns: LogColumns
  isRemembered: boolean
  /** what it is like, once that is asked for */
  fit: LogFit | null
  /** a plan can name it */
  happened: string
  badRows: readonly string[]
}>()
const emit = defineEmits<{
  use: []
  describe: []
  begin: [figures: Figures, from: Omit<FromLog, 'log'>]
  putAway: []
  columns: [columns: LogColumns]
}>()

const span = computed(() => props.log?.requests.at[props.log.requests.count - 1] ?? 0)
const classes = computed(() => props.log?.classNames.filter((n) => n !== '') ?? [])
</script>

<template>
  <section aria-label="Request log" class="mb-4 border-l-4 border-sand bg-leaf px-4 py-3">
    <p v-if="log" class="font-serif text-[1.15rem]">
      {{ name }}: {{ grouped(log.requests.count, 0) }} requests over {{ duration(span)
      }}<template v-if="classes.length > 0">
        in {{ classes.length }} {{ classes.length === 1 ? 'class' : 'classes' }} ({{ classes.join(', ') }})</template
      >. {{ happened }}
    </p>
    <p v-else class="font-serif text-[1.15rem]">{{ name }} can not be read by these columns. Say which is which.</p>
    <p class="mb-1 text-[0.9rem] text-faded">
      {{ isRemembered ? 'Its columns are read as you said for the last log of this shape.' : 'Is this what its columns are?' }} Times
      without a zone are taken as UTC. It stays in this browser.
    </p>
    <LogColumnsTable :peek="peek" :columns="columns" @change="(c) => emit('columns', c)" />
    <div v-if="log && log.badRowCount > 0" class="mt-1 text-[0.9rem]">
      <p class="text-rust"> {{ log.badRowCount }} {{ log.badRowCount === 1 ? 'row was' : 'rows were' }} left out; the rest is used:</p>
      <ul class="max-h-28 overflow-auto">
        <li v-for="row in badRows" :key="row">
          {{ row }}
        </li>
      </ul>
    </div>
    <p class="mt-2">
      <template v-if="log">
        <button type="button" class="word" @click="emit('use')">Let this log be the load of the plan</button>
        <button v-if="!fit" type="button" class="word ml-4" @click="emit('describe')">begin a plan from it</button>
      </template>
      <button type="button" class="word" :class="log ? 'ml-4' : ''" @click="emit('putAway')">put it away</button>
    </p>
    <LogFitPart v-if="log && fit" :fit="fit" has-requests @begin="(figures, from) => emit('begin', figures, from)" />
  </section>
</template>
