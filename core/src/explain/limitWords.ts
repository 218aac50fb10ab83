import type { LimitedBy } from '../candidate/candidate.ts'

/** What keeps more of an option from being had: what that most is called, who lets there be no more, and how it carries the bill. */
export const LIMIT_WORDS: Record<LimitedBy, { name: string; who: string; carries: string }> = {
  stock: { name: 'stock', who: 'the stock', carries: 'the stock of the offer carries it, and no limit of your own' },
  quota: { name: 'quota', who: 'the quota', carries: 'the quota carries it, and no limit of your own' },
  'replica ceiling': {
    name: 'replica ceiling',
    who: 'the offer',
    carries: 'the ceiling of the offer carries it, and no limit of your own',
  },
  'replica limit': { name: 'replica limit', who: 'the limit of the search', carries: 'the limit on its replicas carries it' },
  'maximum of the policy': { name: 'maximum of the policy', who: 'the policy', carries: 'the maximum of the policy carries it' },
  'one key': { name: 'one key', who: 'the key', carries: 'there is no more of it to be had' },
}
