import type { BindingPart } from '../search/binding.ts'
import type { Breaking } from '../search/breaking.ts'
import { threeDigits } from '../units/number.ts'
import { bindingWords } from './bindingWords.ts'
import { MEASURE_NAMES } from './targetWords.ts'

/** How far a load may grow before a promise goes, which, and why; then each class grown alone. Sentences without a full stop. */
export function breakingSentences({
  holdsAt,
  breaksAt,
  className,
  measure,
  byClass,
  binding,
}: Breaking & { binding: BindingPart | null }): string[] {
  const bears = holdsAt === 1 ? 'It bears this load and hardly more' : `It holds up to ${threeDigits(holdsAt)} times the load`
  const all =
    breaksAt === null
      ? `${bears}, the most that was tried`
      : `${bears}; at ${threeDigits(breaksAt)} times ${className} misses its ${measure ? MEASURE_NAMES[measure] : 'target'} first${binding ? `, because ${bindingWords(binding)}` : ''}`
  const alone = byClass.map(
    (c) =>
      `${c.grown} alone may grow to ${threeDigits(c.holdsAt)} times its load${c.breaksAt === null ? ', the most that was tried' : `; at ${threeDigits(c.breaksAt)} times ${c.className === c.grown ? 'it' : c.className} misses its ${c.measure ? MEASURE_NAMES[c.measure] : 'target'}`}`,
  )
  return [all, ...alone]
}
