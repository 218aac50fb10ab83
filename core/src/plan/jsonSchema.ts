import * as z from 'zod'
import { PLAN_FORMAT, PLAN_VERSION, PlanSchema } from './schema.ts'

/** The plan format as a JSON Schema (draft 2020-12), exported to docs/plan.schema.json. */
export function planJsonSchema(): object {
  const schema = z.toJSONSchema(PlanSchema, { io: 'input' })
  return { ...schema, title: `${PLAN_FORMAT}, version ${PLAN_VERSION}` }
}
