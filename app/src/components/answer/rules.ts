import type { RejectedOption } from '@sandclock/core'

/** What each rule says of the options that it ruled out. */
export const RULE_WORDS: Record<RejectedOption['rejection']['kind'], string> = {
  misfit: 'does not fit',
  hopeless: 'too slow even alone',
  'not-sold': 'not sold so',
  'too-many': 'more than can be had',
  'no-stock': 'not to be had',
  work: 'more work than the stock can do',
  limit: 'misses with all that can be had',
  'dearer-bound': 'costs no less',
  dearer: 'misses for the same money',
  'same-option': 'another limit or setting is better',
  'no-saving': 'following the load saves nothing there',
}
