<script setup lang="ts">
import { LOG_FIELDS, TIME_UNITS, waysOf, type LogColumns, type LogField, type LogPeek, type TimeUnit } from '@sandclock/core'
import { computed } from 'vue'
import EditableChoice from '../sentence/EditableChoice.vue'

/** The first rows of a log with what each of its columns was taken for: a click says otherwise. */
const props = defineProps<{ peek: LogPeek; columns: LogColumns }>()
const emit = defineEmits<{ change: [columns: LogColumns] }>()

const ROWS = 4
const NOTHING = 'not used'
const FIELDS = waysOf(LOG_FIELDS)
const OPTIONS = [NOTHING, ...FIELDS.map((f) => LOG_FIELDS[f])]
const UNITS = waysOf(TIME_UNITS)

const fieldOf = (header: string) => FIELDS.find((f) => props.columns.names[f] === header)
const wordsOf = (header: string) => {
  const field = fieldOf(header)
  return field ? LOG_FIELDS[field] : NOTHING
}
const rows = computed(() => props.peek.rows.slice(0, ROWS))

/** A column is one thing, and one column at the most is each. */
function setField(header: string, words: string): void {
  const chosen = FIELDS.find((f) => LOG_FIELDS[f] === words)
  const names = Object.fromEntries(
    Object.entries(props.columns.names).filter(([field, name]) => name !== header && field !== chosen),
  ) as Partial<Record<LogField, string>>
  emit('change', { ...props.columns, names: chosen ? { ...names, [chosen]: header } : names })
}

const setUnit = (of: 'time' | 'duration', words: string) => {
  const unit = UNITS.find((u) => TIME_UNITS[u].words === words)
  if (unit) emit('change', { ...props.columns, [of]: unit satisfies TimeUnit })
}
</script>

<template>
  <div role="group" aria-label="Columns of the log">
    <table class="exact">
      <thead>
        <tr>
          <th v-for="(header, c) in peek.headers" :key="c" scope="col">{{ header }}</th>
        </tr>
        <tr class="font-serif">
          <td v-for="(header, c) in peek.headers" :key="c">
            <span v-if="peek.words[c]" class="text-faded">words: not read</span>
            <template v-else>
              <EditableChoice
                :value="wordsOf(header)"
                :options="OPTIONS"
                :label="`What the column ${header} is`"
                @commit="(words) => setField(header, words)" />
              <template v-if="fieldOf(header) === 'arrival' || fieldOf(header) === 'duration'"
                >, in
                <EditableChoice
                  :value="TIME_UNITS[fieldOf(header) === 'arrival' ? columns.time : columns.duration].words"
                  :options="UNITS.map((u) => TIME_UNITS[u].words)"
                  :label="`In what ${header} is counted`"
                  @commit="(words) => setUnit(fieldOf(header) === 'arrival' ? 'time' : 'duration', words)"
              /></template>
            </template>
          </td>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, r) in rows" :key="r">
          <td v-for="(cell, c) in row" :key="c" :class="fieldOf(peek.headers[c]) ? '' : 'text-faded'">{{ peek.words[c] ? '…' : cell }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
td,
th {
  white-space: nowrap;
}
</style>
