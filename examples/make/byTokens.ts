import type { Plan } from '@sandclock/core'
import { skerrySound } from './skerrySound.ts'

const [desk] = skerrySound.classes
const [talk] = skerrySound.services

const relay = { provider: 'Firth', region: 'firth', model: 'Curlew 14B', variant: '8-bit', contextTokens: 16_384 } as const

/** The pilots alone, at a tenth of their load: machines for rent beside the same model sold by tokens. */
export const byTokens: Plan = {
  ...skerrySound,
  name: 'Own machines, or tokens',
  note: 'The pilot desk of a small harbour: is a machine worth it, or is the model bought by tokens? Every name and figure is made up.',
  horizon: { ...skerrySound.horizon, seconds: 2 * 86_400 },
  budgetPerMonth: 1500,
  classes: [
    {
      ...desk,
      arrivals: {
        kind: 'weekly',
        ratePerSecond: 0.3,
        days: [1, 1, 1, 1, 1, 0.3, 0.3],
        hours: Array.from({ length: 24 }, (_, h) => (h >= 7 && h < 18 ? 1 : 0.04)),
      },
      cachedShare: 0.3,
      targets: [
        { measure: 'ttft', percentile: 95, seconds: 1.5 },
        { measure: 'lost', share: 0.002 },
      ],
    },
  ],
  models: skerrySound.models.filter((m) => m.name === talk.model),
  soldByTokens: [
    {
      ...relay,
      name: 'Firth relay',
      pricePerMillionInput: 0.45,
      pricePerMillionCachedInput: 0.12,
      pricePerMillionOutput: 1.8,
      firstToken: { seconds: 0.35, p95Seconds: 0.9 },
      secondsPerInputToken: 0.00004,
      eachToken: { seconds: 0.016, p95Seconds: 0.03 },
      limits: { requestsPerMinute: 240, tokensPerMinute: 300_000 },
    },
    {
      ...relay,
      name: 'Firth quick relay',
      pricePerMillionInput: 1.2,
      pricePerMillionOutput: 4.8,
      firstToken: { seconds: 0.15, p95Seconds: 0.3 },
      eachToken: { seconds: 0.006, p95Seconds: 0.01 },
      limits: { tokensPerMinute: 120_000 },
    },
  ],
  services: [{ ...talk, search: { ...talk.search!, purchases: ['on-demand', 'committed', 'per-token'] } }],
}
