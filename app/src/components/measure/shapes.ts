import { PROBE_RANGES, type StatedShape } from '@sandclock/core'
import { findingCosts } from '../../data/measureOrder.ts'

export type ShapeKind = StatedShape['kind']

/** Loads that can be sent, by what they are called in the sentence that asks. */
export const SHAPE_WORDS: Record<ShapeKind, string> = {
  'find-costs': 'what finds step costs',
  one: 'one call',
  'one-after-another': 'one after another',
  'at-once': 'so many at once',
  rates: 'so many a second',
  log: 'a request log',
  'after-idle': 'the first call after idle',
  'find-idle': 'what finds when it sleeps',
}

/** A load of another kind with the same sizes, as it is usual. */
export function shapeOfKind(kind: ShapeKind, { sizes, apart }: StatedShape): StatedShape {
  const common = { sizes, ...(apart !== undefined && { apart }) }
  switch (kind) {
    case 'find-costs':
      return { ...findingCosts(sizes), ...common }
    case 'one':
      return { kind, ...common }
    case 'one-after-another':
      return { kind, requests: 20, ...common }
    case 'at-once':
      return { kind, clients: null, requestsEach: 8, ...common }
    case 'rates':
      return { kind, perSecond: [1, 2, 4], seconds: 60, ...common }
    // Its requests are read when it is sent.
    case 'log':
      return { kind, at: [], asking: [], ...common }
    case 'after-idle':
      return { kind, idleSeconds: 900, times: 3, warmUp: 0, ...common }
    case 'find-idle':
      return { kind, fromSeconds: 60, mostSeconds: 1800, ...common }
  }
}

/** The sizes, each once, whatever prompts they are asked with. @example sizesWords([{ input: 200, output: 60 }]) // '200 + 60' */
export const sizesWords = (sizes: StatedShape['sizes']): string => [...new Set(sizes.map((s) => `${s.input} + ${s.output}`))].join(', ')

/** Prompts of one's own, in their order. */
export const promptsOf = (sizes: StatedShape['sizes']): string[] => sizes.flatMap((s) => s.prompt ?? [])

/** Sizes in turn, asked with these prompts; made-up ones where there are none. */
export function withPrompts(sizes: StatedShape['sizes'], prompts: readonly string[]): StatedShape['sizes'] {
  const bare = [...new Map(sizes.map(({ input, output }) => [`${input} + ${output}`, { input, output }])).values()]
  return prompts.length === 0 ? bare : prompts.map((prompt, i) => ({ ...bare[i % bare.length], prompt }))
}

/** Prompts as somebody types or drops them, one a line. */
export const readPrompts = (text: string): string[] => text.split(/\r?\n/).filter((p) => p.trim() !== '')

/** Sizes as somebody types them, or a sentence that says why they are none. */
export function readSizes(text: string): StatedShape['sizes'] | string {
  const sizes = text.split(',').map((part) => part.split('+').map((n) => Number(n.trim())))
  const [least, most] = PROBE_RANGES.tokens
  const isWhole = (n: number | undefined) => n !== undefined && Number.isInteger(n) && n >= least && n <= most
  if (!sizes.every((s) => s.length === 2 && s.every(isWhole)))
    return 'Type tokens of a prompt + tokens of an answer, such as 200 + 60, 1600 + 120.'
  return sizes.map(([input, output]) => ({ input, output }))
}

/** Figures of a list as somebody types them, or a sentence that says why they are none. */
export function readList(text: string, [least, most]: readonly [number, number], whole: boolean): number[] | string {
  const values = text
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map(Number)
  const ok = (v: number) => v >= least && v <= most && (!whole || Number.isInteger(v))
  return values.length > 0 && values.every(ok)
    ? values
    : `Type ${whole ? 'whole numbers' : 'numbers'} from ${least} to ${most}, such as 1, 4, 16.`
}
