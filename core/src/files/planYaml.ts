import { Document, isMap, isScalar, isSeq, LineCounter, parseDocument, visit, type ParsedNode } from 'yaml'
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

/**
 * A plan as YAML in the words of a file that it came from: comments, order and spelling stay; only what is another is written anew.
 *
 * @param source YAML of an earlier state of the plan
 */
export function rewritePlanYaml(source: string, plan: Plan): string {
  const document = parseDocument(source, { logLevel: 'silent' })
  if (document.errors.length > 0 || !isMap(document.contents)) return writePlanYaml(plan)
  rewrite(document, document.contents, plan)
  return document.toString({ lineWidth: LONGEST_LINE, flowCollectionPadding: false })
}

type Fields = Record<string, unknown>

/** Makes a node say a value, keeping as much of it as says it already. @returns the node, or another in its place */
function rewrite(document: Document, node: unknown, value: unknown): unknown {
  if (isMap(node) && isFields(value)) {
    for (const key of node.items.map((pair) => String(isScalar(pair.key) ? pair.key.value : pair.key)))
      if (value[key] === undefined) node.delete(key)
    for (const [key, field] of Object.entries(value)) {
      if (field === undefined) continue
      const there = node.get(key, true)
      const next = rewrite(document, there, field)
      if (next !== there) node.set(key, next)
    }
    return node
  }
  if (isSeq(node) && Array.isArray(value)) {
    const kept = node.items.slice()
    const named = new Set(value.map((item: unknown) => (isFields(item) ? item.name : undefined)))
    node.items = value.map((item: unknown, i) => rewrite(document, entryFor(kept, item, i, named), item)) as typeof node.items
    return node
  }
  if (isScalar(node) && node.value === value) return node
  const made = document.createNode(value)
  if (isSeq(made) && made.items.every(isScalar)) made.flow = true
  if (isScalar(node) && isScalar(made)) made.comment = node.comment ?? null
  return made
}

const isFields = (value: unknown): value is Fields => typeof value === 'object' && value !== null && !Array.isArray(value)

/** The entry of a list that was about the same thing: of the same name, or at the same place if that has no other name still there. */
function entryFor(entries: readonly unknown[], item: unknown, i: number, names: ReadonlySet<unknown>): unknown {
  const name = isFields(item) ? item.name : undefined
  if (typeof name !== 'string') return entries[i]
  const nameOf = (entry: unknown) => (isMap(entry) ? entry.get('name') : undefined)
  return entries.find((entry) => nameOf(entry) === name) ?? (names.has(nameOf(entries[i])) ? undefined : entries[i])
}
