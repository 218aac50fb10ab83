import { SETTING_KEYS, type Setting } from '../candidate/settings.ts'
import { isByTokens, type Purchase } from '../cost/purchase.ts'
import { MOST_SIDE_BY_SIDE } from '../plan/soldSchema.ts'
import { threeDigits } from '../units/number.ts'
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
export function waysWords(option: { sequences: number; purchase?: Purchase; setting?: Setting | null }): string {
  const { setting } = option
  return `${sideBySideWords(option)}${setting ? `, ${settingWords(setting)}` : ''}`
}

/** How many a replica serves on average while it serves any. @example '2.59 of 16 side by side' */
export const servedWords = (mean: number, places: number) =>
  `${threeDigits(mean)}${places >= MOST_SIDE_BY_SIDE ? '' : ` of ${places}`} side by side`

/** How many an option serves at once; what is sold by tokens may state no limit. @example '16 side by side' */
export function sideBySideWords({ sequences, purchase }: { sequences: number; purchase?: Purchase }): string {
  const isOpen = purchase && isByTokens(purchase) && sequences >= MOST_SIDE_BY_SIDE
  return isOpen ? 'any number side by side' : sequences === 1 ? 'one at a time' : `${sequences} side by side`
}
