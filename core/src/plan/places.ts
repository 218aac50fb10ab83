import { firstValue, type FirstFrom } from './firstValue.ts'
import type { Shape } from './shape.ts'

/** A place of the plan that holds a figure, a text, a choice or a list of them, within a value that has it. */
export interface Place {
  /** the way to it: `.a` a field, `[]` an entry, `{}` an entry by key, `(x)` the form x. @example '.classes[].arrivals(weekly).hours' */
  path: string
  /** of the field that it stands in */
  key: string
  shape: Shape
  /** what the whole shape may be so that this place is there */
  value: unknown
}

/** Every place below a shape that holds no further fields. */
export function placesOf(shape: Shape, from: FirstFrom, path = '', key = ''): Place[] {
  switch (shape.kind) {
    case 'group': {
      const base = firstValue({ key, shape }, from) as Record<string, unknown>
      return shape.fields.flatMap((f) =>
        placesOf(f.shape, from, `${path}.${f.key}`, f.key).map((p) => ({ ...p, value: { ...base, [f.key]: p.value } })),
      )
    }
    case 'oneOf':
      return shape.forms.flatMap((form) =>
        placesOf(form.shape, from, `${path}(${form.name})`, key).map((p) =>
          shape.by === null ? p : { ...p, value: { ...(p.value as object), [shape.by]: form.name } },
        ),
      )
    case 'map':
      return placesOf(shape.of, from, `${path}{}`, '').map((p) => ({ ...p, value: { '16': p.value } }))
    case 'list':
      if (isPlain(shape.of)) return [{ path, key, shape, value: firstValue({ key, shape }, from) }]
      return placesOf(shape.of, from, `${path}[]`, key).map((p) => ({
        ...p,
        value: Array.from({ length: Math.max(1, shape.least) }, () => p.value),
      }))
    default:
      return [{ path, key, shape, value: firstValue({ key, shape }, from) }]
  }
}

/** Whether it has no parts. */
export const isPlain = (shape: Shape): boolean => ['number', 'text', 'choice', 'flag'].includes(shape.kind)
