import { formOfValue, shapeOf, type FieldShape, type Shape } from './shape.ts'
import { PlanSchema, type Model } from './schema.ts'

const once = <T>(make: () => T): (() => T) => {
  let made: T | undefined
  return () => (made ??= make())
}

/** The shape of a whole plan. */
export const planShape = once(() => shapeOf(PlanSchema))
const whole = () => fieldsIn(planShape())
const fieldsIn = (shape: Shape): readonly FieldShape[] => (shape.kind === 'group' ? shape.fields : [])
const entryOf = (list: string): Shape => {
  const shape = whole().find((f) => f.key === list)?.shape
  if (shape?.kind !== 'list') throw new Error(`A plan has no list of ${list}.`)
  return shape.of
}

/** Lists of a plan that have their own places in the interface. */
export const PLAN_LISTS = ['classes', 'models', 'machines', 'services'] as const

/** The fields that a plan has beside its lists. */
export const planFields = once(() => whole().filter((f) => !(PLAN_LISTS as readonly string[]).includes(f.key)))
/** The fields of an entry of one of its lists. */
export const classFields = once(() => fieldsIn(entryOf('classes')))
export const serviceFields = once(() => fieldsIn(entryOf('services')))
export const soldFields = once(() => fieldsIn(entryOf('soldByTokens')))

/** The fields of a model of a kind; its variants are a list of their own. */
export function modelFields(model: Model): readonly FieldShape[] {
  const shape = entryOf('models')
  return shape.kind === 'oneOf' ? fieldsIn(formOfValue(shape, model).shape) : []
}

/** The fields of a variant, of whatever kind its model is. */
export const variantFields = once(() => {
  const shape = entryOf('models')
  const form = shape.kind === 'oneOf' ? shape.forms[0].shape : shape
  const list = fieldsIn(form).find((f) => f.key === 'variants')?.shape
  return list?.kind === 'list' ? fieldsIn(list.of) : []
})
