import * as z from 'zod'
import { positive } from './primitives.ts'

/** Stops a service for the rest of a day or month in which it has spent so much. */
export const GuardSchema = z.strictObject({
  budget: positive.describe('once so much is spent, nobody is served until the day or month is over'),
  every: z.enum(['day', 'month']).describe('by the clock of the horizon’s start; a month is 730 h from the start on'),
})

export type Guard = z.infer<typeof GuardSchema>
