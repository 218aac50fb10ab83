import { SETTING_KEYS, type Setting } from '../candidate/settings.ts'
import { PROMPTS, RESERVATIONS, ROUTINGS, SPLITS, WEIGHTS_FROM } from '../plan/ways.ts'

type Whole = Required<Setting>
const WORDS: { [K in keyof Whole]: (value: Whole[K]) => string } = {
  split: (v) => SPLITS[v].words,
  routing: (v) => ROUTINGS[v].words,
  weightsFrom: (v) => WEIGHTS_FROM[v].words,
  prompts: (v) => PROMPTS[v].words,
  stepTokens: (v) => `${v} tokens a step`,
  maxPrefillTokens: (v) => `${v} prompt tokens a step`,
  reservation: (v) => RESERVATIONS[v].words,
  windowSeconds: (v) => (v === 0 ? 'batches that do not wait' : `batches that wait ${v} s`),
}

/** In what a way of running a service differs from what it states. @example 'two-choice routing, prompts in chunks' */
export function settingWords(setting: Setting): string {
  return SETTING_KEYS.flatMap((key) => partWords(setting, key)).join(', ')
}

function partWords<K extends keyof Whole>(setting: Partial<Whole>, key: K): string[] {
  const value: Whole[K] | undefined = setting[key]
  return value === undefined ? [] : [WORDS[key](value)]
}

/** The sequence limit of an option and what else it is run with. @example '16 side by side, round-robin routing' */
export function waysWords({ sequences, setting = null }: { sequences: number; setting?: Setting | null }): string {
  return `${sequences} side by side${setting ? `, ${settingWords(setting)}` : ''}`
}
