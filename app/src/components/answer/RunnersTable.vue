<script setup lang="ts">
import {
  countCell,
  fleetWords,
  paidWords,
  price,
  percent,
  tightestOf,
  measureWords,
  spareWords,
  takeWord,
  tieWords,
  waysWords,
  type Choice,
} from '@sandclock/core'

/** The chosen option and those that come after it. */
defineProps<{ chosen: Choice; runnersUp: readonly Choice[]; currency: string }>()
const tight = (c: Choice) => tightestOf(c.targets)
const spare = (c: Choice) => {
  const t = tight(c)
  if (!t) return 'nothing promised'
  return t.headRoom !== null && t.headRoom < 0
    ? `${measureWords(t.target)} ${spareWords(t.headRoom)}`
    : `${percent(t.headRoom)} on ${measureWords(t.target)}`
}
</script>

<template>
  <div class="overflow-x-auto">
    <table class="exact">
      <thead>
        <tr>
          <th scope="col" />
          <th scope="col">machines</th>
          <th scope="col">variant</th>
          <th scope="col" class="number">replicas</th>
          <th scope="col" class="number">a month</th>
          <th scope="col">least to spare</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(c, i) in [chosen, ...runnersUp]" :key="i" :class="i === 0 ? 'font-semibold' : ''">
          <td class="text-faded">
            {{ i === 0 ? takeWord([c.purchase]) : `${i + 1}.` }}
          </td>
          <td> {{ fleetWords(c) }}{{ paidWords(c) }} </td>
          <td>
            {{ c.variant }}{{ c.devices > 1 ? ` on ${c.devices}` : '' }}, {{ waysWords(c)
            }}<template v-if="c.policy">; {{ c.policy }}</template>
          </td>
          <td class="number">
            {{ countCell(c.replicas, c.purchase) }}
          </td>
          <td class="number">
            {{ price(c.money.perMonth, currency) }}<span v-if="tieWords(c)" class="text-faded"> ({{ tieWords(c) }})</span>
          </td>
          <td>
            {{ spare(c) }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
