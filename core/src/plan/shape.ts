import * as z from 'zod'
import type { QuantityKind } from '../units/quantity.ts'
import { zodProblems } from './zodProblems.ts'

/** Why a place does not take a value, in words that follow its name; undefined when it does. */
type Rule = (value: unknown) => string | undefined

/** What may stand in a place of the plan: for whoever lets it be changed without knowing the field. */
export type Shape =
  | { kind: 'number'; whole: boolean; unit: QuantityKind; rule: Rule }
  | { kind: 'text'; rule: Rule }
  | { kind: 'choice'; values: readonly string[] }
  | { kind: 'flag' }
  /** entries in order; `least` of them have to be there */
  | { kind: 'list'; of: Shape; least: number; rule: Rule }
  /** entries by a key that is typed */
  | { kind: 'map'; of: Shape; rule: Rule }
  | { kind: 'group'; fields: readonly FieldShape[]; rule: Rule }
  /** one of several forms, told apart by the value of a field or, where `by` is null, by what is there */
  | { kind: 'oneOf'; by: string | null; forms: readonly Form[]; rule: Rule }

export interface Form {
  name: string
  shape: Shape
}

export interface FieldShape {
  key: string
  /** its name as people say it, without its unit */
  words: string
  /** what the schema says of it */
  means: string
  optional: boolean
  shape: Shape
}

const UNITS: readonly (readonly [RegExp, QuantityKind])[] = [
  [/BytesPerSecond$/i, 'byteRate'],
  [/^arithmeticPerSecond$/, 'operations'],
  [/Seconds$|^seconds$|^seconds[A-Z]/, 'duration'],
  [/Bytes$|^bytes[A-Z]|BytesPer/, 'bytes'],
  [
    /share$|Shares?$|^margin$|^certainty$|Efficiency$|GrowthPerMonth$|^growthPerMonth$|^jitter$|^tolerance$|^availability$|^qualityFloor$/i,
    'percent',
  ],
  [/PerHour$|PerReplicaHour$/, 'hourly'],
  [/^parameters$|Parameters$|Operations|^operations/, 'big'],
  [/^price|^storage|^transfer|^budget|^prepaid|^perMonth$/, 'money'],
]

/** The names of units at the end of a field, which its figure says. */
const UNIT_NAMES = /(BytesPerSecond|Seconds|Bytes)$/
const WORDS: Record<string, string> = { p95: '95th percentile', seconds: 'seconds', bytes: 'bytes' }

/** A field's name as people say it. @example fieldWords('patienceSeconds') // 'patience' */
export function fieldWords(key: string): string {
  const named = WORDS[key] ?? (key.replace(UNIT_NAMES, '') || key)
  return named.replaceAll(/([a-z0-9])([A-Z])/g, '$1 $2').toLowerCase()
}

/**
 * The shape of what a schema of the plan takes.
 *
 * @param key of the field that it stands in, which says the unit of its figures
 * @throws Error for a kind of schema that the plan does not use
 */
export function shapeOf(schema: z.ZodType, key = ''): Shape {
  const inner = bare(schema)
  if (inner instanceof z.ZodObject) return { kind: 'group', fields: fieldsOf(inner), rule: ruleOf(inner) }
  if (inner instanceof z.ZodDiscriminatedUnion) {
    const by = inner.def.discriminator
    return { kind: 'oneOf', by, forms: inner.options.flatMap((option) => formsBy(option as z.ZodObject, by)), rule: ruleOf(inner) } // has fields
  }
  if (inner instanceof z.ZodUnion)
    return { kind: 'oneOf', by: null, forms: inner.options.map((option) => formOf(option as z.ZodType, key)), rule: ruleOf(inner) }
  if (inner instanceof z.ZodArray)
    return {
      kind: 'list',
      of: shapeOf(inner.element as z.ZodType, key),
      least: inner.safeParse([]).success ? 0 : Math.max(1, minimumOf(inner)),
      rule: ruleOf(inner),
    }
  if (inner instanceof z.ZodRecord) return { kind: 'map', of: shapeOf(inner.valueType as z.ZodType, key), rule: ruleOf(inner) }
  return scalarOf(inner, key)
}

function scalarOf(schema: z.ZodType, key: string): Shape {
  if (schema instanceof z.ZodEnum) return { kind: 'choice', values: schema.options.map(String) }
  if (schema instanceof z.ZodLiteral) return { kind: 'choice', values: [...schema.values].map(String) }
  if (schema instanceof z.ZodBoolean) return { kind: 'flag' }
  if (schema instanceof z.ZodNumber) {
    const whole = schema.format !== null && /int/.test(schema.format)
    const unit = UNITS.find(([pattern]) => pattern.test(key))?.[1] ?? (whole ? 'count' : 'number')
    return { kind: 'number', whole, unit, rule: ruleOf(schema) }
  }
  if (schema instanceof z.ZodString || schema instanceof z.ZodStringFormat) return { kind: 'text', rule: ruleOf(schema) }
  throw new Error(`The plan has no field of the kind "${schema.def.type}" (${key}).`)
}

function bare(schema: z.ZodType): z.ZodType {
  return schema instanceof z.ZodOptional ? bare(schema.unwrap() as z.ZodType) : schema
}

function minimumOf(list: z.ZodArray): number {
  for (let n = 1; n <= 24; n++) {
    const issues = list.safeParse(Array.from({ length: n })).error?.issues ?? []
    if (!issues.some((i) => i.code === 'too_small' && i.path.length === 0)) return n
  }
  return 1
}

function fieldsOf(schema: z.ZodObject): FieldShape[] {
  return Object.entries(schema.shape as Record<string, z.ZodType>).map(([key, field]) => ({
    key,
    words: fieldWords(key),
    means: field.description ?? bare(field).description ?? '',
    optional: field instanceof z.ZodOptional,
    shape: shapeOf(field, key),
  }))
}

function formsBy(option: z.ZodObject, by: string): Form[] {
  const told = shapeOf((option.shape as Record<string, z.ZodType>)[by])
  const shape = shapeOf(option)
  return told.kind === 'choice' ? told.values.map((name) => ({ name, shape })) : []
}

function formOf(option: z.ZodType, key: string): Form {
  const shape = shapeOf(option, key)
  return { name: { group: 'by formula', list: 'as a table' }[shape.kind as string] ?? 'one figure', shape }
}

/** Which of its forms a value has; the first if none. */
export function formOfValue(shape: Extract<Shape, { kind: 'oneOf' }>, value: unknown): Form {
  const { by, forms } = shape
  const found = forms.find((form) =>
    by === null ? complaintAbout(form.shape, value) === undefined : (value as Record<string, unknown> | undefined)?.[by] === form.name,
  )
  return found ?? forms[0]
}

/** Why a place does not take a value, in words that follow its name; undefined when it does. @example 'must be at least 1' */
export function complaintAbout(shape: Shape, value: unknown): string | undefined {
  switch (shape.kind) {
    case 'flag':
      return typeof value === 'boolean' ? undefined : 'must be true or false'
    case 'choice':
      return shape.values.includes(String(value)) ? undefined : `must be ${shape.values.join(' or ')}`
    default:
      return shape.rule(value)
  }
}

const ruleOf =
  (schema: z.ZodType): Rule =>
  (value) => {
    const issues = schema.safeParse(value).error?.issues
    return issues && zodProblems(issues, value)[0]?.rule
  }
