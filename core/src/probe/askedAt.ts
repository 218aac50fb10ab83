import { parseDocument } from 'yaml'
import type { HowToAsk } from './howToAsk.ts'
import { WAYS_OF_ASKING } from './readyMade.ts'

type Way = (typeof WAYS_OF_ASKING)[number]

/** Whom a text on how to ask names, and in which ready-made way; what it does not say, or says otherwise, is undefined. */
export function askedAt(text: string): { url?: string; as?: Way } {
  const value: unknown = parseDocument(text, { logLevel: 'silent' }).toJS()
  const { url, as } = (typeof value === 'object' && value !== null ? value : {}) as Record<string, unknown>
  const way = WAYS_OF_ASKING.find((w) => w === as)
  return { ...(typeof url === 'string' && { url }), ...(way && { as: way }) }
}

/** The same text with another address or way; its comments and all else stay. */
export function askedWith(text: string, change: { url?: HowToAsk['url']; as?: Way }): string {
  const document = parseDocument(text, { logLevel: 'silent' })
  for (const [field, value] of Object.entries(change)) document.set(field, value)
  return document.toString({ lineWidth: 0 })
}
