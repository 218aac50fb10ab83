import type { TakenApart, Times } from './takeApart.ts'

/**
 * Where an own estimate differs, in a sentence without its full stop.
 *
 * @param show a value with its unit
 * @example '28 GB leaves out the cache of 6.1 GB and the reserve of 1.6 GB: all of it is 36.1 GB'
 */
export function estimateWords({ estimate, whole, terms, reading }: TakenApart, show: (value: number) => string): string {
  const all = `: all of it is ${show(whole)}`
  if (!reading) return `${show(estimate)} comes of nothing that was thought of (terms left out, halved or doubled, other units)${all}`
  const named = (how: Times) => terms.filter((_, i) => reading.times[i] === how).map((t) => `${t.name} of ${show(t.value)}`)
  const parts = [
    ...(reading.slip ? [reading.slip.words] : []),
    ...said('leaves out', named('none')),
    ...named('half').map((t) => `has half of ${t}`),
    ...named('twice').map((t) => `has ${t} twice`),
  ]
  return `${show(estimate)} ${parts.length === 0 ? 'is right' : parts.join(', and ')}${all}`
}

const said = (verb: string, names: string[]) =>
  names.length === 0 ? [] : [`${verb} ${[names.slice(0, -1).join(', '), names[names.length - 1]].filter(Boolean).join(' and ')}`]
