import { crossChecks } from './crossChecks.ts'
import { BadInput, shown, type Problem } from './problem.ts'
import { PLAN_FORMAT, PLAN_VERSION, PlanSchema, type Plan } from './schema.ts'
import { zodProblems } from './zodProblems.ts'

/**
 * Reads the text of a plan file.
 *
 * @throws BadInput with every problem found: not JSON, not a plan, a version that this core does not know, fields
 *   that break a rule, names that point nowhere
 */
export function readPlan(text: string): Plan {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    throw new BadInput('This is not a plan file.', [{ path: '', rule: `is not valid JSON (${why})` }])
  }
  return checkPlan(value)
}

/** As {@link readPlan}, for a value that is already parsed. */
export function checkPlan(value: unknown): Plan {
  const stranger = notOurs(value)
  if (stranger !== undefined) throw new BadInput('This plan can not be read.', [stranger])
  const parsed = PlanSchema.safeParse(value)
  if (!parsed.success) throw new BadInput('This plan has fields that can not be used.', zodProblems(parsed.error.issues, value))
  const problems = crossChecks(parsed.data)
  if (problems.length > 0) throw new BadInput('This plan contradicts itself.', problems)
  return parsed.data
}

/** Format and version come first: complaints about single fields of a foreign file would mislead. */
function notOurs(value: unknown): Problem | undefined {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    return { path: '', rule: 'must hold one object with the fields "format" and "version"' }
  }
  const { format, version } = value as { format?: unknown; version?: unknown } // unknown until compared below
  if (format === undefined) return { path: 'format', rule: `is missing; it must be "${PLAN_FORMAT}"` }
  if (format !== PLAN_FORMAT) return { path: 'format', found: shown(format), rule: `must be "${PLAN_FORMAT}"` }
  if (version === PLAN_VERSION) return undefined
  if (typeof version === 'number' && Number.isInteger(version) && version > PLAN_VERSION) {
    return {
      path: 'version',
      found: shown(version),
      rule: `is newer than version ${PLAN_VERSION}, the newest that this Sand Clock reads; open it with a newer Sand Clock. The file was left as it is`,
    }
  }
  return { path: 'version', found: shown(version), rule: `must be ${PLAN_VERSION}` }
}

/** Writes a plan as the text of a plan file: JSON, two spaces, newline at the end. */
export function writePlan(plan: Plan): string {
  return `${JSON.stringify(plan, null, 2)}\n`
}
