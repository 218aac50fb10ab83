import { carriedOver, type Answer, type FrontierPoint } from '@sandclock/core'
import * as z from 'zod'
import { keyOf, type RunChoice } from '../composables/useRunChoices.ts'
import { answerOfLines, type Piece } from '../search/pieces.ts'

z.config({ jitless: true })

const Paid = z.looseObject({ kind: z.string(), safeShare: z.number() })
const Shown = z.looseObject({
  machine: z.string(),
  variant: z.string(),
  purchase: Paid,
  money: z.looseObject({ perMonth: z.number() }),
  targets: z.array(z.looseObject({})),
})

const Rejected = z.array(z.looseObject({ purchase: Paid, reason: z.string() }))

/** What a kept answer must have at the least to be shown; the core wrote the rest of it. */
const KeptAnswer = z.looseObject({
  format: z.literal('sand-clock-answer'),
  version: z.literal(2),
  coreVersion: z.string(),
  currency: z.string(),
  perMonth: z.number(),
  meets: z.boolean(),
  money: z.looseObject({ shared: z.array(z.unknown()), fixed: z.array(z.unknown()) }),
  plan: z.looseObject({ services: z.array(z.unknown()) }),
  services: z.array(
    z.looseObject({
      service: z.string(),
      chosen: Shown.nullable(),
      runnersUp: z.array(Shown),
      rejected: Rejected,
      met: z.array(z.unknown()).default([]),
    }),
  ),
})

const KeptPiece = z.looseObject({ service: z.int().min(0), rejected: Rejected })
const KeptLines = z.array(z.string()).min(1)

/** An answer as it was kept, in lines or, as at first, whole; undefined for what is none. */
export async function readKeptAnswer(value: unknown): Promise<Answer | undefined> {
  const lines = KeptLines.safeParse(value)
  if (!lines.success) return readWhole(value)
  try {
    return await answerOfLines(lines.data, readWhole, (piece) => KeptPiece.parse(piece) as unknown as Piece) // the core wrote it
  } catch {
    return undefined // a line that is no JSON, or no piece
  }
}

/** In whichever version of the format. */
function readWhole(value: unknown): Answer | undefined {
  const parsed = KeptAnswer.safeParse(carriedOver(value))
  return parsed.success ? (parsed.data as unknown as Answer) : undefined // the core wrote it
}

const KeptFrontiers = z.record(
  z.string(),
  z.array(z.looseObject({ perHour: z.number(), strain: z.number().nullable(), tightest: z.number(), holds: z.boolean(), purchase: Paid })),
)

/** The points around an answer as they were kept; none for what are none, since they are simulated anew. */
export function readKeptFrontiers(value: unknown): Record<string, FrontierPoint[]> {
  const parsed = KeptFrontiers.safeParse(value)
  return parsed.success ? (parsed.data as unknown as Record<string, FrontierPoint[]>) : {} // the core wrote them
}

const KeptPin = z.looseObject({
  key: z.string(),
  words: z.string(),
  reason: z.string(),
  name: z.looseObject({
    service: z.string(),
    machines: z.number(),
    option: z.looseObject({ machine: z.string(), variant: z.string(), devices: z.number(), sequences: z.number(), purchase: Paid }),
  }),
})

/** A pinned run as it was kept; undefined for what is none. Its key is made of its name, which may have been carried over. */
export function readKeptPin(value: unknown): RunChoice | undefined {
  const parsed = KeptPin.safeParse(carriedOver(value))
  if (!parsed.success) return undefined
  const pin = parsed.data as unknown as RunChoice // the page wrote it
  return { ...pin, key: keyOf(pin.name) }
}

/** Pinned runs as they were kept, and those that can not be read. */
export function readKeptPins(text: string): { pins: Record<string, RunChoice[]>; broken: unknown[] } {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return { pins: {}, broken: [text] }
  }
  const places = z.record(z.string(), z.array(z.unknown())).safeParse(value)
  if (!places.success) return { pins: {}, broken: [value] }
  const broken: unknown[] = []
  const pins = Object.fromEntries(
    Object.entries(places.data).map(([place, list]) => [
      place,
      list.flatMap((pin) => {
        const read = readKeptPin(pin)
        if (!read) broken.push(pin)
        return read ? [read] : []
      }),
    ]),
  )
  return { pins, broken }
}
