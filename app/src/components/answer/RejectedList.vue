<script setup lang="ts">
import { purchaseSuffix, settingWords, type RejectedOption } from '@sandclock/core'
import { computed, ref } from 'vue'
import { RULE_WORDS } from './rules.ts'

/** Every rejected option with its reason, grouped by the rule that ruled it out. */
const props = defineProps<{ rejected: readonly RejectedOption[] }>()

const groups = computed(() => {
  const by = new Map<string, RejectedOption[]>()
  for (const r of props.rejected) {
    const alike = by.get(r.rejection.kind)
    if (alike) alike.push(r)
    else by.set(r.rejection.kind, [r])
  }
  return [...by]
    .map(([kind, list]) => ({ rule: RULE_WORDS[kind as keyof typeof RULE_WORDS], list: merged(list) }))
    .sort((a, b) => optionsOf(b.list) - optionsOf(a.list))
})
/** How many options stand behind lines: as many as the grains above show of them. */
const optionsOf = (lines: readonly { options: number }[]) => lines.reduce((sum, l) => sum + l.options, 0)
const sought = ref('')
/** Thousands of lines are made only for those who look. */
const opened = ref(new Set<string>())
function look(rule: string, event: Event): void {
  if ((event.target as HTMLDetailsElement).open) opened.value.add(rule)
  else opened.value.delete(rule)
}
const matches = (r: { name: string; reason: string }) =>
  sought.value === '' || `${r.name} ${r.reason}`.toLowerCase().includes(sought.value.toLowerCase())

/** A few settings by name, many by their number. */
function settingsWords(settings: readonly (string | null)[]): string {
  const different = [...new Set(settings)]
  if (different.length === 1) return different[0] ? `, ${different[0]}` : ''
  return `, in ${different.length} settings`
}

/** Options that differ in their sequence limit or setting alone and fail for the same reason are one line. */
function merged(list: readonly RejectedOption[]): { name: string; reason: string; options: number }[] {
  const lines = new Map<string, { name: string; reason: string; sequences: number[]; settings: string[] }>()
  for (const r of list) {
    const name = `${r.machine}, ${r.variant}${r.devices > 1 ? ` on ${r.devices}` : ''}${purchaseSuffix(r.purchase)}`
    const line = lines.get(name + r.reason) ?? { name, reason: r.reason, sequences: [], settings: [] }
    line.sequences.push(r.sequences)
    line.settings.push(r.setting ? settingWords(r.setting) : '')
    lines.set(name + r.reason, line)
  }
  return [...lines.values()].map((l) => ({
    name: `${l.name}, ${[...new Set(l.sequences)].join(' or ')} side by side${settingsWords(l.settings)}`,
    reason: l.reason,
    options: l.sequences.length,
  }))
}
</script>

<template>
  <div>
    <p class="mb-1">
      <label class="text-[0.86rem] text-faded"
        >find
        <input
          v-model="sought"
          type="search"
          class="w-44 border-b border-rule bg-transparent px-1 text-ink"
          placeholder="machine or reason"
      /></label>
    </p>
    <details
      v-for="g in groups"
      :key="g.rule"
      class="border-t border-rule py-1.5 text-[0.9rem]"
      :open="sought !== ''"
      @toggle="look(g.rule, $event)">
      <summary class="cursor-pointer"
        ><strong class="font-semibold">{{ optionsOf(g.list.filter(matches)) }}</strong> {{ g.rule }}
        <span class="text-faded">such as {{ g.list[0].name }}: {{ g.list[0].reason }}</span></summary
      >
      <ul v-if="opened.has(g.rule) || sought !== ''" class="mt-1 max-h-64 overflow-auto pl-4" tabindex="0">
        <li v-for="line in g.list.filter(matches)" :key="line.name + line.reason" class="py-0.5">
          <span class="font-semibold">{{ line.name }}</span>: {{ line.reason }}
        </li>
      </ul>
    </details>
  </div>
</template>
