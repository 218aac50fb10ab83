import { complaintAbout, type FieldShape, type Shape } from './shape.ts'

/** Figures that a field begins as, where the plainest that it takes would say nothing. */
const FIRSTS: Record<string, unknown> = {
  patienceSeconds: 30,
  priority: 1,
  most: 3,
  firstPauseSeconds: 1,
  growth: 2,
  pauseSeconds: 30,
  historyTokens: 8000,
  lengthCorrelation: 0.5,
  cachedShare: 0.3,
  growthPerMonth: 0.05,
  factor: 2,
  burstSeconds: 60,
  quietSeconds: 600,
  variation: 2,
  thinkSeconds: 10,
  clients: 20,
  requestsPerClient: 50,
  median: 400,
  p95: 1200,
  mean: 400,
  durationSeconds: 3600,
  percentile: 95,
  share: 0.01,
  queue: 100,
  outputCap: 1000,
  contextTokens: 8192,
  maxPrefillTokens: 8192,
  stepTokens: 2048,
  tokens: 4,
  acceptedPerStep: 2,
  devices: 1,
  sequences: 16,
  replicas: 1,
  maxReplicas: 200,
  idleSeconds: 60,
  graceSeconds: 30,
  replicaMeanSeconds: 30 * 86_400,
  nodeMeanSeconds: 90 * 86_400,
  noticeSeconds: 60,
  timeoutSeconds: 900,
  imageBytes: 6e9,
  imageBytesPerSecond: 0.5e9,
  bytesPerSecond: 0.8e9,
  totalBytesPerSecond: 2.4e9,
  loadBytesPerSecond: 4e9,
  warmupSeconds: 20,
  max: 4,
  min: 1,
  seconds: 1800,
  ratePerSecond: 1,
  ratesPerSecond: Array.from({ length: 24 }, () => 1),
  days: [1, 2, 3, 4, 5],
  hours: Array.from({ length: 24 }, () => 1),
  budgetPerMonth: 5000,
  prepaid: 10_000,
  weightBits: 8,
  cacheBits: 16,
  cores: 1,
  memoryBytes: 8e9,
  diskBytes: 100e9,
  score: 0.8,
  samples: 400,
  target: 10,
  perReplica: 2,
  leadSeconds: 120,
  amount: 4,
  periodSeconds: 60,
  stabilisationSeconds: 300,
}

/** What a new field is filled from. */
export interface FirstFrom {
  /** the start of the plan's horizon: where dated things begin */
  start: string
  /** names that a field may point to */
  namesFor: (key: string) => readonly string[] | undefined
}

/**
 * What a field begins as when it is added: something that its schema takes, and that one would change rather than wonder at. Fields that
 * may be left out are left out.
 */
export function firstValue({ key, shape }: Pick<FieldShape, 'key' | 'shape'>, from: FirstFrom): unknown {
  const names = from.namesFor(key)
  if (names?.[0] !== undefined) return shape.kind === 'list' ? [names[0]] : names[0]
  const known = FIRSTS[key]
  if (known !== undefined && complaintAbout(shape, known) === undefined) return known
  switch (shape.kind) {
    case 'choice':
      return shape.values[0]
    case 'flag':
      return true
    case 'number':
      return [1, 0.5, 0, 2].find((n) => complaintAbout(shape, n) === undefined) ?? 1
    case 'text':
      return textsFrom(key, from.start).find((t) => complaintAbout(shape, t) === undefined) ?? ''
    case 'list':
      return Array.from({ length: Math.max(1, shape.least) }, () => firstValue({ key, shape: shape.of }, from))
    case 'map':
      return { '16': firstValue({ key: '', shape: shape.of }, from) }
    case 'group':
      return Object.fromEntries(shape.fields.filter((f) => !f.optional).map((f) => [f.key, firstValue(f, from)]))
    case 'oneOf': {
      const [form] = shape.forms
      return firstOfForm(shape, form.name, from)
    }
  }
}

/** What a place begins as in another of its forms; what both have in common is kept. */
export function firstOfForm({ by, forms }: Extract<Shape, { kind: 'oneOf' }>, name: string, from: FirstFrom, before?: unknown): unknown {
  const form = forms.find((f) => f.name === name) ?? forms[0]
  const first = firstValue({ key: '', shape: form.shape }, from)
  if (by === null || form.shape.kind !== 'group') return first
  const had = (before ?? {}) as Record<string, unknown>
  const common = form.shape.fields.filter((f) => f.key !== by && f.key in had && complaintAbout(f.shape, had[f.key]) === undefined)
  return { ...(first as object), ...Object.fromEntries(common.map((f) => [f.key, had[f.key]])), [by]: name }
}

function textsFrom(key: string, start: string): string[] {
  const at = Date.parse(start)
  const day = (n: number) => new Date(at + n * 86_400_000).toISOString()
  return [...(key === 'until' ? [day(2), '19:00'] : [day(1), '07:00']), 'EUR', '16', 'another'].filter(
    (t) => key !== 'name' || t === 'another',
  )
}
