import type { Verdict } from './verdict.ts'

/** @example listWords(['a', 'b', 'c']) // 'a, b and c' */
export const listWords = (names: readonly string[]) => [names.slice(0, -1).join(', '), ...names.slice(-1)].filter(Boolean).join(' and ')

/** What is had and does not do what is promised. @example 'near talk does not keep every promise' */
export function shortfallWords({ missing, stopped }: Pick<Verdict, 'missing' | 'stopped'>): string {
  return [
    ...(missing.length > 0 ? [`${listWords(missing)} ${missing.length > 1 ? 'do' : 'does'} not keep every promise`] : []),
    ...(stopped.length > 0
      ? [`${listWords(stopped)} ${stopped.length > 1 ? 'are' : 'is'} stopped by ${stopped.length > 1 ? 'their guards' : 'its guard'}`]
      : []),
  ].join(', and ')
}
