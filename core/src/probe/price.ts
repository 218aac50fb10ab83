import * as z from 'zod'

const amount = z.number().min(0)

/** What it costs who asks: by the request and its tokens, or by the time that the machines behind it are there. */
export const PriceSchema = z.strictObject({
  perRequest: amount.default(0),
  perInputToken: amount.default(0),
  perOutputToken: amount.default(0),
  perHour: amount.default(0).describe('of the machines that answer, if they are rented for it'),
  currency: z.string().min(1),
})

export type Price = z.infer<typeof PriceSchema>
