import { shown, type Problem } from './problem.ts'

export function duplicates(path: string, named: readonly { name: string }[]): Problem[] {
  const seen = new Set<string>()
  return named.flatMap(({ name }, i) => {
    const again = seen.has(name)
    seen.add(name)
    return again ? [{ path: `${path}[${i}].name`, found: shown(name), rule: 'must differ from the other names of this list' }] : []
  })
}

export function missing(path: string, name: string, list: string): Problem {
  return { path, found: shown(name), rule: `must be a name that stands in "${list}"` }
}
