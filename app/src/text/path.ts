/*
 * Ways to places in a file, as values: who walks them in a text has the editor's tree for it (treePath), which every visitor need not
 * load.
 */

/** A way from the top of a file to a place in it: names of fields and places in lists. */
export type TextPath = readonly (string | number)[]

/** A path of a problem as the core words it. @example pathOf('classes[1].targets[0].seconds') // ['classes', 1, 'targets', 0, 'seconds'] */
export function pathOf(words: string): TextPath {
  return [...words.matchAll(/[^.[\]]+|\[(\d+)\]/g)].map((m) => (m[1] === undefined ? m[0] : Number(m[1])))
}

/** The ways to all things in which two values differ, in the order of the second. */
export function* differences(before: unknown, after: unknown, path: TextPath = []): Generator<TextPath> {
  if (Object.is(before, after)) return
  const isObject = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null
  if (!isObject(before) || !isObject(after) || Array.isArray(before) !== Array.isArray(after)) {
    yield path
    return
  }
  for (const key of Object.keys(after)) yield* differences(before[key], after[key], [...path, Array.isArray(after) ? Number(key) : key])
  // What is gone has no place in the text after it: what held it does.
  if (Object.keys(before).some((key) => !(key in after))) yield path
}

/** The way to the first thing in which two values differ; undefined when they do not. */
export const firstDifference = (before: unknown, after: unknown): TextPath | undefined => differences(before, after).next().value
