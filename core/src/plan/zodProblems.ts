import type * as z from 'zod'
import { pathText, shown, type Problem } from './problem.ts'

type Issue = z.core.$ZodIssue

/** Turns what Zod found into problems that name the path, the value and the rule. */
export function zodProblems(issues: readonly Issue[], input: unknown): Problem[] {
  return issues.flatMap((issue) => one(issue, input))
}

function one(issue: Issue, input: unknown): Problem[] {
  const path = pathText(issue.path)
  const value = valueAt(input, issue.path)
  if (issue.code === 'unrecognized_keys') {
    return issue.keys.map((key) => ({
      path: pathText([...issue.path, key]),
      rule: 'is not a field of this format; correct its spelling or take it out',
    }))
  }
  if (value === undefined) return [{ path, rule: `is missing; it ${rule(issue)}` }]
  return [{ path, found: shown(value), rule: rule(issue) }]
}

function rule(issue: Issue): string {
  switch (issue.code) {
    case 'invalid_type':
      return `must be ${article(issue.expected)}`
    case 'too_small':
      return `must ${bound(issue.origin, 'at least', 'greater than', issue.minimum, issue.inclusive)}`
    case 'too_big':
      return `must ${bound(issue.origin, 'at most', 'less than', issue.maximum, issue.inclusive)}`
    case 'invalid_value':
      return `must be ${issue.values.map((v) => shown(v)).join(' or ')}`
    case 'invalid_union':
      return issue.discriminator === undefined
        ? 'must have one of the forms in docs/plan-format.md'
        : `must be one of the kinds in docs/plan-format.md`
    case 'invalid_format':
      return issue.format === 'datetime' ? 'must be a time such as "2027-03-01T00:00:00Z"' : issue.message
    default:
      return issue.message
  }
}

function bound(origin: string, loose: string, strict: string, limit: number | bigint, inclusive?: boolean): string {
  const words = `${inclusive === false ? strict : loose} ${limit}`
  if (origin === 'string') return `have ${words} characters`
  if (origin === 'array') return `have ${words} entries`
  return `be ${words}`
}

const ARTICLES: Record<string, string> = {
  int: 'a whole number',
  number: 'a number',
  string: 'text',
  array: 'a list',
  object: 'an object',
  record: 'an object',
  boolean: 'true or false',
}

function article(type: string): string {
  return ARTICLES[type] ?? `of type ${type}`
}

function valueAt(input: unknown, path: readonly PropertyKey[]): unknown {
  let here = input
  for (const key of path) {
    if (typeof here !== 'object' || here === null) return undefined
    here = (here as Record<PropertyKey, unknown>)[key] // a lookup by a path that Zod walked itself
  }
  return here
}
