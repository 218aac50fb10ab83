import type { Completion, CompletionContext, CompletionResult } from '@codemirror/autocomplete'
import type { EditorState } from '@codemirror/state'
import { planShape, type FirstFrom, type Shape } from '@sandclock/core'
import type { TextPath } from './path.ts'
import { pathAt, rangeOf } from './treePath.ts'

export type Syntax = 'json' | 'yaml'

/** The shape of what stands at a way; of several forms the one that the text says. */
export function shapeAt(state: EditorState, path: TextPath): Shape | undefined {
  let shape: Shape | undefined = planShape()
  path.forEach((step, i) => {
    if (shape) shape = stepInto(formIn(state, shape, path.slice(0, i)), step)
  })
  return shape && formIn(state, shape, path)
}

function stepInto(shape: Shape, step: string | number): Shape | undefined {
  if (shape.kind === 'list' && typeof step === 'number') return shape.of
  if (shape.kind === 'map') return shape.of
  return shape.kind === 'group' ? shape.fields.find((f) => f.key === step)?.shape : undefined
}

function formIn(state: EditorState, shape: Shape, path: TextPath): Shape {
  if (shape.kind !== 'oneOf') return shape
  if (shape.by === null) return shape.forms.find((f) => f.shape.kind === 'group')?.shape ?? shape.forms[0].shape
  const said = textAt(state, [...path, shape.by])
  return (shape.forms.find((f) => f.name === said) ?? shape.forms[0]).shape
}

function textAt(state: EditorState, path: TextPath): string | undefined {
  const range = rangeOf(state, path)
  return range?.whole ? state.sliceDoc(range.from, range.to).replaceAll(/["']/g, '').trim() : undefined
}

/**
 * Proposes fields where a field begins, and values where one is chosen or names something in the plan.
 *
 * @param from the names that fields may point to
 */
export function completions(syntax: Syntax, from: () => FirstFrom): (context: CompletionContext) => CompletionResult | null {
  const quote = (text: string) => (syntax === 'json' ? `"${text}"` : text)
  return ({ state, pos, explicit }) => {
    const line = state.doc.lineAt(pos)
    const before = line.text.slice(0, pos - line.from)
    const word = /["']?[\w-]*$/.exec(before)?.[0] ?? ''
    if (word === '' && !explicit) return null
    const key = /["']?([\w-]+)["']?\s*:\s*(?:\[[^\]{}:]*|["']?[^,{}[\]]*)?$/.exec(before)?.[1]
    const path = syntax === 'json' ? pathAt(state, pos - word.length) : yamlPathAt(state, pos, key !== undefined)
    const options =
      key === undefined ? fieldsAt(state, path, quote) : valuesAt(state, path.at(-1) === key ? path : [...path, key], from(), quote)
    return options.length > 0 ? { from: pos - word.length, options, validFor: /^["']?[\w-]*["']?$/ } : null
  }
}

function fieldsAt(state: EditorState, path: TextPath, quote: (text: string) => string): Completion[] {
  const holder = [path, path.slice(0, -1)].find((p) => shapeAt(state, p)?.kind === 'group')
  const shape = holder && shapeAt(state, holder)
  if (!holder || shape?.kind !== 'group') return []
  return shape.fields
    .filter((f) => !rangeOf(state, [...holder, f.key])?.whole)
    .map((f) => ({
      label: quote(f.key),
      type: 'property',
      apply: `${quote(f.key)}: `,
      detail: f.optional ? '' : 'needed',
      ...(f.means && { info: f.means }),
    }))
}

function valuesAt(state: EditorState, path: TextPath, from: FirstFrom, quote: (text: string) => string): Completion[] {
  const key = [...path].reverse().find((step): step is string => typeof step === 'string')
  const found = shapeAt(state, path)
  const shape = found?.kind === 'list' ? found.of : found
  if (!shape || key === undefined) return []
  if (shape.kind === 'flag') return ['true', 'false'].map((label) => ({ label, type: 'keyword' }))
  const values = shape.kind === 'choice' ? formsOf(state, path, shape.values) : shape.kind === 'text' ? (from.namesFor(key) ?? []) : []
  return values.map((value) => ({ label: quote(value), type: 'constant' }))
}

/** Of a field that tells forms apart every form is proposed, not the one alone that is there. */
function formsOf(state: EditorState, path: TextPath, values: readonly string[]): readonly string[] {
  const holder = path.slice(0, -2).length > 0 || path.length > 1 ? rawShapeAt(state, path.slice(0, -1)) : undefined
  return holder?.kind === 'oneOf' && holder.by === path.at(-1) ? holder.forms.map((f) => f.name) : values
}

function rawShapeAt(state: EditorState, path: TextPath): Shape | undefined {
  const parent = shapeAt(state, path.slice(0, -1))
  const step = path.at(-1)
  return parent && step !== undefined ? stepInto(parent, step) : undefined
}

/** The way to a line of YAML: by its key, or where it has none yet, which the tree can not know, by what is less indented above it. */
function yamlPathAt(state: EditorState, pos: number, hasKey: boolean): TextPath {
  const line = state.doc.lineAt(pos)
  const indent = /^[\s-]*/.exec(line.text)?.[0].length ?? 0
  if (hasKey) return pathAt(state, line.from + indent + 1)
  for (let n = line.number - 1; n >= 1; n--) {
    const above = state.doc.line(n)
    const its = /^[\s-]*/.exec(above.text)?.[0].length ?? 0
    if (above.text.trim() === '' || above.text.trim().startsWith('#') || its > indent) continue
    const path = pathAt(state, above.from + its + 1)
    return its < indent ? path : path.slice(0, -1)
  }
  return []
}
