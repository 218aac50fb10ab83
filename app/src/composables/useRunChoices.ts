import {
  fleetWords,
  optionNameKey,
  optionOf,
  purchaseSuffix,
  waysWords,
  type Choice,
  type OptionName,
  type Prevention,
  type RejectedOption,
  type ServiceAnswer,
} from '@sandclock/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { RunName } from '../worker/heldRuns.ts'

/** A run that can be looked at. */
export interface RunChoice {
  key: string
  name: RunName
  words: string
  /** why the search did not take it; empty when it did */
  reason: string
}

const optionWords = (c: OptionName & { machines: number; meanMachines?: number }) =>
  `${fleetWords(c)}${purchaseSuffix(c.purchase)}, ${c.variant}${c.devices > 1 ? ` on ${c.devices}` : ''}, ${waysWords(c)}${c.policy ? `; ${c.policy}` : ''}`
/** What tells one run from another. A policy has what it may have, whatever number is named. */
export const keyOf = ({ option, machines, alteration }: RunName): string =>
  JSON.stringify([optionNameKey(option), option.policy === null ? machines : 0, alteration ?? null])

/**
 * The runs of a service that can be looked at: what the search ranked, policies on the same machines that it rejected, and changes that
 * were tried.
 */
export function useRunChoices(answer: Ref<ServiceAnswer | undefined>) {
  const tried = shallowRef<RunChoice[]>([])
  const choices = computed<RunChoice[]>(() => {
    const { value } = answer
    if (!value?.chosen) return []
    const ranked = [value.chosen, ...value.runnersUp]
    return [...ranked.map((c) => rankedChoice(value.service, c)), ...rejectedPolicies(value, ranked), ...tried.value]
  })
  const above = ref('')
  const below = ref('')
  watch(
    () => answer.value?.service,
    () => {
      above.value = below.value = ''
      tried.value = []
    },
  )
  const at = (key: string) => choices.value.find((c) => c.key === key)
  return {
    choices,
    above,
    below,
    shown: computed(() => at(above.value) ?? choices.value[0]),
    beside: computed(() => (below.value === '' ? undefined : at(below.value))),
    /** Takes in a change that was tried on a run, and shows it below. */
    tryBeside(run: RunChoice, { alteration, words }: Prevention): void {
      const name = { ...run.name, alteration }
      const key = keyOf(name)
      if (!at(key)) tried.value = [...tried.value, { key, name, words: `the same with ${words}`, reason: '' }]
      below.value = key
    },
  }
}

function rankedChoice(service: string, c: Choice): RunChoice {
  const name = { service, option: optionOf(c), machines: c.machines }
  return { key: keyOf(name), name, words: optionWords(c), reason: '' }
}

/**
 * Policies that failed where another way of scaling holds are worth a look, and those that save nothing on the chosen machine; elsewhere
 * there are too many.
 */
function rejectedPolicies({ service, rejected }: ServiceAnswer, ranked: readonly Choice[]): RunChoice[] {
  const [first] = ranked
  const places = new Set(ranked.map((c) => JSON.stringify([c.machine, c.variant, c.devices, c.sequences, c.purchase])))
  const out = rejected.flatMap((r: RejectedOption) => {
    const worthIt = 'missed' in r.rejection || (r.rejection.kind === 'no-saving' && r.machine === first.machine)
    if (r.policy === null || !worthIt || !places.has(JSON.stringify([r.machine, r.variant, r.devices, r.sequences, r.purchase]))) return []
    const name = { service, option: optionOf(r), machines: 0 } // a policy has what it may have
    return [
      {
        key: keyOf(name),
        name,
        words: `rejected: ${r.policy} on ${r.machine}${purchaseSuffix(r.purchase)}, ${r.variant}${r.devices > 1 ? ` on ${r.devices}` : ''}, ${waysWords(r)}`,
        reason: r.reason,
      },
    ]
  })
  const nearness = (c: RunChoice) => Number(c.name.option.machine === first.machine)
  return out.sort((a, b) => nearness(b) - nearness(a))
}
