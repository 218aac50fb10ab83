import * as z from 'zod'

const amount = z.number().min(0)

/** What a request costs who asks. */
export const PriceSchema = z.strictObject({
  perRequest: amount.default(0),
  perInputToken: amount.default(0),
  perOutputToken: amount.default(0),
  currency: z.string().min(1),
})

export type Price = z.infer<typeof PriceSchema>
