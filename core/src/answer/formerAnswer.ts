import type { Setting } from '../candidate/settings.ts'
import { purchase, type Purchase } from '../cost/purchase.ts'
import type { PurchaseKind } from '../plan/ways.ts'

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
const PARTS: Record<string, Setting> = {
  'split by heads': { split: 'heads' },
  'split by layers': { split: 'layers' },
  'least-busy routing': { routing: 'least-busy' },
  'round-robin routing': { routing: 'round-robin' },
  'two-choice routing': { routing: 'two-choice' },
  'shared-queue routing': { routing: 'shared-queue' },
  'weights from the store': { weightsFrom: 'store' },
  'weights in the image': { weightsFrom: 'image' },
  'weights kept on the machine': { weightsFrom: 'node' },
  'whole prompts': { prompts: 'whole' },
  'prompts in chunks': { prompts: 'interleaved' },
  'room kept from the start': { reservation: 'whole' },
  'room as tokens come': { reservation: 'optimistic' },
  'batches that do not wait': { windowSeconds: 0 },
}
/** The same with a figure. */
const FIGURES: readonly [form: RegExp, key: 'stepTokens' | 'maxPrefillTokens' | 'windowSeconds'][] = [
  [/^([\d.]+) tokens a step$/, 'stepTokens'],
  [/^([\d.]+) prompt tokens a step$/, 'maxPrefillTokens'],
  [/^batches that wait ([\d.e+-]+) s$/, 'windowSeconds'],
]

function partOfWords(words: string): Setting | undefined {
  if (Object.hasOwn(PARTS, words)) return PARTS[words]
  for (const [form, key] of FIGURES) {
    const found = form.exec(words)
    if (found) return { [key]: Number(found[1]) }
  }
  return undefined
}

/** A setting as version 1 named it; undefined where it is none. @example settingOfWords('two-choice routing, prompts in chunks') */
export function settingOfWords(words: string): Setting | undefined {
  const parts = words.split(', ').map(partOfWords)
  return parts.every((part) => part !== undefined) ? (Object.assign({}, ...parts) as Setting) : undefined // each of them is one
}

/** Fields of version 1 that were words, and how each is read. */
const FIELDS: Record<string, (words: string) => unknown> = {
  purchase: purchaseOfWords,
  setting: settingOfWords,
  bestSetting: settingOfWords,
}

/**
 * Anything that version 1 wrote of options, as version 2 has it: an answer, a part of one, the name of a run. An answer of
 * version 2 is given back as it is, without looking through it; the plan within an answer is left as it is.
 *
 * @returns undefined where words are in it that no version 1 wrote
 */
export function carriedOver(value: unknown): unknown {
  if (isAnswer(value) && value.version !== 1) return value
  try {
    return carried(value)
  } catch (error) {
    if (error instanceof UnknownWords) return undefined
    throw error
  }
}

function isAnswer(value: unknown): value is { version: unknown } {
  return typeof value === 'object' && value !== null && 'format' in value && 'version' in value
}

class UnknownWords extends Error {}

function carried(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(carried)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value).map(([key, of]) => {
      if (key === 'plan') return [key, of]
      if (key === 'version' && isAnswer(value)) return [key, 2]
      if (key === 'sold' && Array.isArray(of))
        return [key, of.map((words: unknown) => (typeof words === 'string' ? (KINDS[words] ?? words) : words))]
      return [key, typeof of === 'string' && Object.hasOwn(FIELDS, key) ? (FIELDS[key](of) ?? unknown(key, of)) : carried(of)]
    }),
  )
}

function unknown(key: string, words: string): never {
  throw new UnknownWords(`${key} "${words}"`)
}
