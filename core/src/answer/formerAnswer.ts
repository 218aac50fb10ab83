import { SETTING_KEYS, type Setting } from '../candidate/settings.ts'
import { purchase, type Purchase, type PurchaseKind } from '../cost/purchase.ts'
import { PROMPTS, RESERVATIONS, ROUTINGS, SPLITS, waysOf, WEIGHTS_FROM } from '../plan/ways.ts'

/**
 * Version 1 of the answer's format named ways of paying and settings by the words that people read; whoever kept such an
 * answer, or the name of a run from it, has it carried over. What these words were is said here alone, since it does not change any more.
 */

const KINDS: Record<string, PurchaseKind> = { 'on demand': 'on-demand', committed: 'committed', spot: 'spot', 'per request': 'per-request' }

/** A way of paying as version 1 named it; undefined where it is none. @example purchaseOfWords('spot but for 50 %') */
export function purchaseOfWords(words: string): Purchase | undefined {
  const mixed = /^spot but for ([\d.]+)\s?%$/.exec(words)
  if (mixed) return purchase('mixed', Number(mixed[1]) / 100)
  return Object.hasOwn(KINDS, words) ? purchase(KINDS[words]) : undefined
}

/** What a part of a setting was called: the value that it names. */
const PARTS: { [K in keyof Setting]-?: (words: string) => Setting[K] | undefined } = {
  split: (w) => waysOf(SPLITS).find((v) => SPLITS[v].words === w),
  routing: (w) => waysOf(ROUTINGS).find((v) => ROUTINGS[v].words === w),
  weightsFrom: (w) => waysOf(WEIGHTS_FROM).find((v) => WEIGHTS_FROM[v].words === w),
  prompts: (w) => waysOf(PROMPTS).find((v) => PROMPTS[v].words === w),
  stepTokens: (w) => numberIn(w, /^([\d.]+) tokens a step$/),
  maxPrefillTokens: (w) => numberIn(w, /^([\d.]+) prompt tokens a step$/),
  reservation: (w) => waysOf(RESERVATIONS).find((v) => RESERVATIONS[v].words === w),
  windowSeconds: (w) => (w === 'batches that do not wait' ? 0 : numberIn(w, /^batches that wait ([\d.e+-]+) s$/)),
}

function numberIn(words: string, form: RegExp): number | undefined {
  const found = form.exec(words)
  return found ? Number(found[1]) : undefined
}

/** A setting as version 1 named it; undefined where it is none. @example settingOfWords('two-choice routing, prompts in chunks') */
export function settingOfWords(words: string): Setting | undefined {
  let setting: Setting = {}
  for (const part of words.split(', ')) {
    const key = SETTING_KEYS.find((k) => PARTS[k](part) !== undefined)
    if (key === undefined) return undefined
    setting = { ...setting, [key]: PARTS[key](part) }
  }
  return setting
}

/** Fields of version 1 that were words, and how each is read. */
const FIELDS: Record<string, (words: string) => unknown> = {
  purchase: purchaseOfWords,
  setting: settingOfWords,
  bestSetting: settingOfWords,
}

/**
 * Anything that version 1 wrote of options, as version 2 has it: an answer, a part of one, the name of a run. What is version
 * 2 already, and the plan within an answer, are left as they are.
 *
 * @returns undefined where words are in it that no version 1 wrote
 */
export function carriedOver(value: unknown): unknown {
  try {
    return carried(value)
  } catch (error) {
    if (error instanceof UnknownWords) return undefined
    throw error
  }
}

class UnknownWords extends Error {}

function carried(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(carried)
  if (typeof value !== 'object' || value === null) return value
  const isAnswer = 'format' in value && 'version' in value
  return Object.fromEntries(Object.entries(value).map(([key, of]) => {
    if (key === 'plan') return [key, of]
    if (isAnswer && key === 'version') return [key, 2]
    if (key === 'sold' && Array.isArray(of)) return [key, of.map((words: unknown) => (typeof words === 'string' ? (KINDS[words] ?? words) : words))]
    return [key, typeof of === 'string' && Object.hasOwn(FIELDS, key) ? (FIELDS[key](of) ?? unknown(key, of)) : carried(of)]
  }))
}

function unknown(key: string, words: string): never {
  throw new UnknownWords(`${key} "${words}"`)
}
