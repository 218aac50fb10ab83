/** One thing that is wrong with a file: where it stands, what stands there, which rule it breaks. */
export interface Problem {
  /** place in the file, such as `classes[1].targets[0].seconds` ("" for the whole file) */
  path: string
  /** what was found there, shortened; absent when nothing was */
  found?: string
  /** the rule, as the end of a sentence: "must be greater than 0" */
  rule: string
}

/** @example sentence({ path: 'seed', found: '-1', rule: 'must be at least 0' }) // 'seed is -1: it must be at least 0.' */
export function sentence(problem: Problem): string {
  const where = problem.path === '' ? 'The file' : problem.path
  return problem.found === undefined ? `${where}: ${problem.rule}.` : `${where} is ${problem.found}: it ${problem.rule}.`
}

/** Input that could not be used; carries every problem that was found, not only the first. */
export class BadInput extends Error {
  readonly problems: readonly Problem[]
  constructor(what: string, problems: readonly Problem[]) {
    super([what, ...problems.map((p) => `  ${sentence(p)}`)].join('\n'))
    this.name = 'BadInput'
    this.problems = problems
  }
}

/** Shortens a value to something that fits in a sentence. */
export function shown(value: unknown): string {
  const text = JSON.stringify(value) ?? String(value)
  return text.length > 60 ? `${text.slice(0, 57)}…` : text
}

/** @example pathText(['classes', 1, 'name']) // 'classes[1].name' */
export function pathText(path: readonly PropertyKey[]): string {
  return path.reduce<string>((text, key) => {
    if (typeof key === 'number') return `${text}[${key}]`
    return text === '' ? String(key) : `${text}.${String(key)}`
  }, '')
}
