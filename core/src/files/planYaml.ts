import { Document, isMap, isScalar, LineCounter, parseDocument, visit, type ParsedNode } from 'yaml'
import { checkPlan } from '../plan/read.ts'
import { BadInput } from '../plan/problem.ts'
import type { Plan } from '../plan/schema.ts'

/** Words beside a field of a plan that goes out as YAML. */
export interface FieldComment {
  /** a path of the plan file, such as "services[0].start" */
  field: string
  words: string
}

/** Lists of plain figures stay on one line. */
const LONGEST_LINE = 120

/** Writes a plan as YAML, with comments above the fields that they are about, and those of the whole at the top. */
export function writePlanYaml(plan: Plan, comments: readonly FieldComment[] = [], top = ''): string {
  const document = new Document(plan)
  visit(document, { Seq: (_, list) => void (list.flow = list.items.every(isScalar)) })
  if (top) document.commentBefore = lines(top)
  for (const { field, words } of comments) commentOn(document, field, words)
  return document.toString({ lineWidth: LONGEST_LINE, flowCollectionPadding: false })
}

/**
 * Reads a plan that is written in YAML.
 *
 * @throws BadInput as `readPlan` does, with the line of what is no YAML
 */
export function readPlanYaml(text: string): Plan {
  const lineCounter = new LineCounter()
  const document = parseDocument(text, { lineCounter, logLevel: 'silent' })
  if (document.errors.length > 0) {
    throw new BadInput(
      'This is not a plan file.',
      document.errors
        .slice(0, 10)
        .map(({ message, pos }) => ({
          path: `line ${lineCounter.linePos(pos[0]).line}`,
          rule: `is not valid YAML (${message.split(/ at line|\n/)[0]})`,
        })),
    )
  }
  const value = document.toJS({ maxAliasCount: 100 }) as unknown
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    throw new BadInput('This is not a plan file.', [
      { path: '', rule: 'must hold one object with the fields "format" and "version", as JSON or YAML' },
    ])
  }
  return checkPlan(value)
}

const lines = (words: string) =>
  words
    .split('\n')
    .map((line) => ` ${line}`)
    .join('\n')

/** A comment stands above its key; that of an entry of a list above the entry. */
function commentOn(document: Document, field: string, words: string): void {
  const path = field
    .split(/[.[\]]+/)
    .filter((part) => part !== '')
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part))
  const last = path.at(-1)
  const parent = path.length > 1 ? document.getIn(path.slice(0, -1), true) : document.contents
  if (isMap(parent)) {
    const pair = parent.items.find(({ key }) => isScalar(key) && key.value === last)
    if (pair && isScalar(pair.key)) pair.key.commentBefore = joined(pair.key.commentBefore, words)
    return
  }
  const node = document.getIn(path, true) as ParsedNode | undefined // an entry of a list
  if (node) node.commentBefore = joined(node.commentBefore, words)
}

const joined = (before: string | null | undefined, words: string) => (before ? `${before}\n${lines(words)}` : lines(words))
