import { parseDocument } from 'yaml'
import type { HowToAsk } from './howToAsk.ts'
import { PriceSchema, type Price } from './price.ts'
import { WAYS_OF_ASKING } from './readyMade.ts'

type Way = (typeof WAYS_OF_ASKING)[number]

type Fields = Partial<Record<string, unknown>>
const fieldsOf = (value: unknown): Fields => (typeof value === 'object' && value !== null ? (value as Fields) : {})

interface AskedAt {
  readonly url?: string
  readonly as?: Way
  readonly price?: Readonly<Price>
}

/** Several places of a page ask for the same text: to read it takes some ten milliseconds the first time. */
let last: { text: string; says: AskedAt } | undefined

/**
 * Whom a text on how to ask names, in which ready-made way, and what it says that a request costs; what it does not say, or says otherwise,
 * is undefined.
 */
export function askedAt(text: string): AskedAt {
  if (last?.text === text) return last.says
  const { url, as, price } = fieldsOf(parseDocument(text, { logLevel: 'silent' }).toJS())
  const way = WAYS_OF_ASKING.find((w) => w === as)
  const paid = PriceSchema.safeParse(price)
  const says = { ...(typeof url === 'string' && { url }), ...(way && { as: way }), ...(paid.success && { price: paid.data }) }
  last = { text, says }
  return says
}

/** The same text with another address or way; its comments and all else stay. */
export function askedWith(text: string, change: { url?: HowToAsk['url']; as?: Way }): string {
  const document = parseDocument(text, { logLevel: 'silent' })
  for (const [field, value] of Object.entries(change)) document.set(field, value)
  return document.toString({ lineWidth: 0 })
}
